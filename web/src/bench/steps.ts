import type { Chain, Step } from "../api/types";

export type StepKind = NonNullable<Step["kind"]>;
/** A step with its own fields at hand; the document's union is checked by the server. */
export type LooseStep = { kind: StepKind; id: string; bypassed?: boolean } & Record<string, unknown>;

const round = (v: unknown) => (typeof v === "number" ? String(Math.round(v * 1000) / 1000) : "");
const feed = (v: unknown) => round((v as { value?: number } | undefined)?.value);

/** What each step is called, how a new one starts, and its two most telling numbers. */
export const stepKinds: Record<
  StepKind,
  { word: string; fresh: () => Record<string, unknown>; telling: (s: LooseStep) => string }
> = {
  place: {
    word: "place",
    fresh: () => ({
      placement: {
        repeatsU: 1,
        repeatsV: 1,
        rotationDegrees: 0,
        offsetU: 0,
        offsetV: 0,
        pivotU: 0.5,
        pivotV: 0.5,
        mirrorU: false,
        mirrorV: false,
      },
    }),
    telling: (s) =>
      `${round((s.placement as { repeatsU: number }).repeatsU)} × ${round((s.placement as { repeatsV: number }).repeatsV)}`,
  },
  invert: { word: "invert", fresh: () => ({}), telling: () => "1 − x" },
  remap: {
    word: "remap",
    fresh: () => ({ inLow: 0, inHigh: 1, outLow: 0, outHigh: 1, clamp: true }),
    telling: (s) => `to ${round(s.outLow)} … ${round(s.outHigh)}`,
  },
  gain: {
    word: "gain and offset",
    fresh: () => ({ gain: 1, offset: 0 }),
    telling: (s) => `× ${round(s.gain)} + ${round(s.offset)}`,
  },
  clamp: { word: "clamp", fresh: () => ({ low: 0, high: 1 }), telling: (s) => `${round(s.low)} … ${round(s.high)}` },
  mix: {
    word: "mix",
    fresh: () => ({ mode: "normal", other: { value: { kind: "scalar", number: 0.5 } }, amount: { value: 0.5 } }),
    telling: (s) => `${String(s.mode)} ${feed(s.amount)}`,
  },
  pick: { word: "pick channel", fresh: () => ({ channel: "r" }), telling: (s) => String(s.channel) },
  decodeNormal: {
    word: "decode normal",
    fresh: () => ({ strength: { value: 1 } }),
    telling: (s) => `strength ${feed(s.strength)}`,
  },
  heightToNormal: {
    word: "height to normal",
    fresh: () => ({ strength: { value: 1 }, heightMetres: 0.02 }),
    telling: (s) => `${round(s.heightMetres)} m × ${feed(s.strength)}`,
  },
  occlusion: {
    word: "occlusion",
    fresh: () => ({ amount: { value: 0.5 } }),
    telling: (s) => `amount ${feed(s.amount)}`,
  },
};

export const loose = (step: Step): LooseStep => step as unknown as LooseStep;

/** An identifier no step of the chain has yet. */
export function freshId(chain: Chain): string {
  let n = 1;
  while (chain.steps.some((s) => s.id === `s${n}`)) n++;
  return `s${n}`;
}
