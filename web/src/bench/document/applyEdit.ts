import type { Chain, Lane, Look, LookEdit } from "../../api/types";
import { parseAddress, sideLane, sidesOf } from "./address";
import { loose, type LooseStep } from "./steps";

/**
 * A look with an edit made, so that it is drawn before the server has answered; null where only the server knows what becomes of it.
 * Nothing is checked here: the server refuses what is wrong, and then the edit is taken back.
 */
export function applyEdit(look: Look, edit: LookEdit): Look | null {
  const lane = edit.lane as string;
  switch (edit.edit) {
    case "tags":
      return { ...look, tags: edit.tags as string[] };
    case "rename":
      return { ...look, name: edit.name as string };
    case "value":
      return withLane(look, lane, (l) => ({ ...l, value: edit.value as Lane["value"] }));
    case "lane":
      return withLane(look, lane, () => (edit.content as Lane | null) ?? undefined);
    case "slot":
      return {
        ...look,
        slots: { ...look.slots, [edit.slot as string]: edit.content as NonNullable<Look["slots"]>[string] },
      };
    case "stepInsert":
      return withSteps(look, lane, (steps) => steps.toSpliced(edit.at as number, 0, edit.step as LooseStep));
    case "stepRemove":
      return withSteps(look, lane, (steps) => steps.filter((s) => s.id !== edit.stepId));
    case "stepChange":
      return withSteps(look, lane, (steps) =>
        steps.map((s) => (s.id === (edit.step as LooseStep).id ? (edit.step as LooseStep) : s)),
      );
    case "stepMove":
      return withSteps(look, lane, (steps) => {
        const at = steps.findIndex((s) => s.id === edit.stepId);
        return at < 0 ? steps : steps.toSpliced(at, 1).toSpliced(edit.to as number, 0, steps[at]);
      });
    case "fields":
      return withFields(look, edit);
    case "batch":
      return (edit.edits as LookEdit[]).reduce<Look | null>((so, e) => so && applyEdit(so, e), look);
    default:
      return null;
  }
}

function withFields(look: Look, edit: LookEdit): Look | null {
  const fields = edit.fields as Record<string, unknown>;
  switch (edit.of) {
    case "placement":
      return { ...look, placement: { ...look.placement, ...fields } as Look["placement"] };
    case "size":
      return { ...look, ...fields };
    case "displacement": {
      const { mode, ...rest } = fields;
      return {
        ...look,
        relief: (mode as Look["relief"]) ?? look.relief,
        displacement: { ...look.displacement, ...rest } as Look["displacement"],
      };
    }
    case "step":
      return withSteps(look, edit.lane as string, (steps) =>
        steps.map((s) => (s.id === edit.step ? { ...s, ...fields } : s)),
      );
    default:
      return null;
  }
}

const withSteps = (look: Look, address: string, of: (steps: LooseStep[]) => LooseStep[]) =>
  withLane(look, address, (lane) =>
    lane?.chain
      ? { ...lane, chain: { ...lane.chain, steps: of(lane.chain.steps.map(loose)) as unknown as Chain["steps"] } }
      : lane,
  );

type Change = (lane: Lane | undefined) => Lane | undefined;

/** The look with the lane at an address changed; unchanged where it lacks the place. */
function withLane(look: Look, address: string, change: Change): Look | null {
  const at = parseAddress(address);
  if (!at) return null;
  const deep = at.sides.reduceRight<Change>(
    (inner, { step, name }) =>
      (lane) =>
        withSide(lane, step, name, inner),
    change,
  );
  if (at.source !== null) return { ...look, sources: put(look.sources, at.source, deep) };
  if (at.layer === null) return { ...look, lanes: put(look.lanes, at.input!, deep) };
  const covers = (look.covers ?? []).map((c, i) => {
    if (i !== at.layer) return c;
    return at.input === null ? { ...c, mask: deep(c.mask) ?? c.mask } : { ...c, lanes: put(c.lanes, at.input, deep) };
  });
  return { ...look, covers };
}

function put(lanes: Record<string, Lane> | undefined | null, name: string, change: Change): Record<string, Lane> {
  const { [name]: own, ...rest } = lanes ?? {};
  const next = change(own);
  if (next === undefined) return rest;
  // In its old place, so that rows do not jump.
  return own === undefined ? { ...rest, [name]: next } : { ...lanes, [name]: next };
}

/** A side row is kept in one of three forms (address.ts, sideLane); it is written back in its own. */
function withSide(lane: Lane | undefined, stepId: string, name: string, change: Change): Lane | undefined {
  if (!lane?.chain) return lane;
  const steps = lane.chain.steps.map(loose).map((step) => {
    const side = sidesOf(step).find((s) => s.name === name);
    if (step.id !== stepId || !side) return step;
    const raw = step[name] as Record<string, unknown> | undefined;
    const next = change(sideLane(step, side)) ?? {};
    const number = next.value?.kind === "scalar" ? next.value.number : undefined;
    if (raw && "origin" in raw) return next.chain ? { ...step, [name]: next.chain } : step;
    if (typeof raw?.value === "number")
      return { ...step, [name]: { value: number ?? raw.value, chain: next.chain ?? undefined } };
    return { ...step, [name]: next };
  });
  return { ...lane, chain: { ...lane.chain, steps: steps as unknown as Chain["steps"] } };
}
