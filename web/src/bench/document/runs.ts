import type { LookEdit } from "../../api/types";
import { addressWords } from "./address";
import type { LooseStep } from "./steps";

/** What is done to several steps of a lane at once, each one line in the history. */
const together = (words: string, lane: string, edits: LookEdit[]): LookEdit =>
  edits.length === 1
    ? edits[0]
    : { edit: "batch", name: `${edits.length} steps of ${addressWords(lane)} ${words}`, edits };

export const removal = (lane: string, steps: LooseStep[]) =>
  together(
    "removed",
    lane,
    steps.map((s) => ({ edit: "stepRemove", lane, stepId: s.id })),
  );

/** All left out; or all back in, where all are out already. */
export function bypassing(lane: string, steps: LooseStep[]): LookEdit {
  const out = !steps.every((s) => s.bypassed);
  return together(
    out ? "bypassed" : "used again",
    lane,
    steps.map((step) => ({ edit: "stepChange", lane, step: { ...step, bypassed: out } })),
  );
}
