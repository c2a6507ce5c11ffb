import type { StepDescription } from "./types";

/** What kinds of steps there are, by the server's table. It is here before the first view is (main.tsx). */
let table = new Map<string, StepDescription>();

export const takeStepTable = (kinds: StepDescription[]) => void (table = new Map(kinds.map((k) => [k.kind, k])));

export const allSteps = (): StepDescription[] => [...table.values()];

/** A kind that the table does not have can only come from a server that is newer than this page. */
export const stepKind = (kind: string): StepDescription =>
  table.get(kind) ?? { kind, label: kind, alsoFoundBy: "", sentence: "", tells: "", fields: [], sides: [], fresh: {} };
