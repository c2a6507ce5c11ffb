import { tangents, type CurvePoint } from "./curve";
import type { LiveNumbers } from "../state/benchState";
import { parseAddress, type Selection } from "./address";

/** The parts of a look whose numbers may be about to change: what is selected; where its maps lie with nothing selected. */
export const liveAddress = (selection: Selection | null, step: string | null): string[] => {
  if (!selection) return ["placement", "size"];
  if (!parseAddress(selection.lane)) return [];
  return [step === null ? selection.lane : `${selection.lane}/${step}`];
};

/** What of a placement or a size can be moved. */
const places = ["repeatsU", "repeatsV", "rotationDegrees", "offsetU", "offsetV", "sizeU", "sizeV"];

/**
 * Fields of a placement or of the surface's size as they are drafted.
 * @param of What their names begin with: "placement#", "size#", or those of a step that holds a placement.
 */
export const livePlacement = (of: string, fields: object): LiveNumbers =>
  Object.fromEntries(
    Object.entries(fields)
      .filter(([name]) => places.includes(name))
      .map(([name, value]) => [of + name, [value as number]]),
  );

/** Fields of a step as they are drafted, by the names of their numbers: a field's own, or the amount of one of its sides. */
export function liveFields(lane: string, step: string, fields: Record<string, unknown>): LiveNumbers {
  const numbers: Record<string, readonly number[]> = {};
  for (const [name, value] of Object.entries(fields)) {
    if (typeof value === "number") numbers[`${lane}/${step}#${name}`] = [value];
    else if (Array.isArray(value)) numbers[`${lane}/${step}#${name}`] = pointsOf(value as CurvePoint[]);
    else if (isPlacement(value)) Object.assign(numbers, livePlacement(`${lane}/${step}#${name}.`, value));
    else if (hasAmount(value)) numbers[`${lane}/${step}/${name}`] = [value.value];
  }
  return numbers;
}

/** x, y and tangent of each point. */
const pointsOf = (points: readonly CurvePoint[]) => {
  const m = tangents(points);
  return points.flatMap((p, i) => [p.x, p.y, m[i]]);
};

const isPlacement = (value: unknown): value is object =>
  typeof value === "object" && value !== null && "repeatsU" in value;

const hasAmount = (value: unknown): value is { value: number } =>
  typeof value === "object" && value !== null && "value" in value && typeof value.value === "number";
