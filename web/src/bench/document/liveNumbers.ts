import type { LiveNumbers } from "../state/benchState";
import { parseAddress, type Selection } from "./address";

/** The part of a look whose numbers may be about to change: what is selected. */
export const liveAddress = (selection: Selection | null, step: string | null): string[] =>
  !selection || !parseAddress(selection.lane) ? [] : [step === null ? selection.lane : `${selection.lane}/${step}`];

/** Fields of a step as they are drafted, by the names of their numbers: a field's own, or the amount of one of its sides. */
export function liveFields(lane: string, step: string, fields: Record<string, unknown>): LiveNumbers {
  const numbers: Record<string, readonly number[]> = {};
  for (const [name, value] of Object.entries(fields)) {
    if (typeof value === "number") numbers[`${lane}/${step}#${name}`] = [value];
    else if (hasAmount(value)) numbers[`${lane}/${step}/${name}`] = [value.value];
  }
  return numbers;
}

const hasAmount = (value: unknown): value is { value: number } =>
  typeof value === "object" && value !== null && "value" in value && typeof value.value === "number";
