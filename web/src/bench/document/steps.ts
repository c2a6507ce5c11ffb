import { stepKind } from "../../api/steps";
import type { Chain, Placement, Step } from "../../api/types";

export type StepKind = NonNullable<Step["kind"]>;
/** A step with its own fields at hand; the document's union is checked by the server. */
export type LooseStep = { kind: StepKind; id: string; bypassed?: boolean } & Record<string, unknown>;

/** The most telling numbers of a step: the table's text with the step's own fields in its braces. */
export function telling(step: LooseStep): string {
  const { tells, fields } = stepKind(step.kind);
  return tells.replace(/\{([\w.]+)\}/g, (_, path: string) => {
    const value = path
      .split(".")
      .reduce<unknown>((at, name) => (at as Record<string, unknown> | undefined)?.[name], step);
    const chosen = fields.find((f) => f.name === path)?.options?.find((o) => o.id === value);
    return chosen?.label ?? told(value);
  });
}

/** A number to three digits, how many points a curve has, the median of quantiles. */
function told(value: unknown): string {
  if (typeof value === "number") return String(Math.round(value * 1000) / 1000);
  if (!Array.isArray(value)) return typeof value === "string" || typeof value === "boolean" ? String(value) : "";
  const first: unknown = value[0];
  return Array.isArray(first) ? told(first[Math.floor(first.length / 2)]) : String(value.length);
}

/** Noise is a mix with a chain that makes it: one gesture, one step. */
export const noiseStep = () => ({
  kind: "mix",
  mode: "add",
  other: {
    chain: {
      origin: { kind: "noise", noise: { kind: "fractal", cells: 4, octaves: 4, gain: 0.5, seed: 1 } },
      steps: [{ kind: "gain", id: "s1", gain: 1, offset: -0.5 }],
    },
  },
  amount: { value: 0.2 },
});

export const loose = (step: Step): LooseStep => step as unknown as LooseStep;

/** An identifier no step of the chain has yet. */
export function freshId(chain: Pick<Chain, "steps">): string {
  let n = 1;
  while (chain.steps.some((s) => s.id === `s${n}`)) n++;
  return `s${n}`;
}

/** Steps with identifiers that are free in a chain, to be put into it. */
export function refreshed(steps: Step[], into: Pick<Chain, "steps">): Step[] {
  const all = [...into.steps];
  return steps.map((s) => {
    const copy = { ...s, id: freshId({ steps: all }) };
    all.push(copy);
    return copy;
  });
}

/** A placement as often again in every repeat of another. */
export const finer = (placement: Placement | undefined, times: number) => ({
  ...(stepKind("place").fresh.placement as Placement),
  ...placement,
  repeatsU: (placement?.repeatsU ?? 1) * times,
  repeatsV: (placement?.repeatsV ?? 1) * times,
});
