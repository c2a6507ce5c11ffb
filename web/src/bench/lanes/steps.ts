import type { Chain, Placement, Step } from "../../api/types";

export type StepKind = NonNullable<Step["kind"]>;
/** A step with its own fields at hand; the document's union is checked by the server. */
export type LooseStep = { kind: StepKind; id: string; bypassed?: boolean } & Record<string, unknown>;

const round = (v: unknown) => (typeof v === "number" ? String(Math.round(v * 1000) / 1000) : "");
const feed = (v: unknown) => round((v as { value?: number } | undefined)?.value);

interface StepWords {
  word: string;
  /** Other words by which it is found when typed. */
  also?: string;
  fresh: () => Record<string, unknown>;
  /** Its two most telling numbers. */
  telling: (s: LooseStep) => string;
}

const wholePlacement = {
  repeatsU: 1,
  repeatsV: 1,
  rotationDegrees: 0,
  offsetU: 0,
  offsetV: 0,
  pivotU: 0.5,
  pivotV: 0.5,
  mirrorU: false,
  mirrorV: false,
};
const half = { value: { kind: "scalar", number: 0.5 } };
const flatRelief = {
  origin: { kind: "constant", value: { kind: "colour", r: 0.5, g: 0.5, b: 1, space: "acescg" } },
  steps: [{ kind: "decodeNormal", id: "s1", strength: { value: 1 } }],
};

/** What each step is called, how a new one starts, and what its tile tells. */
export const stepKinds: Record<StepKind, StepWords> = {
  place: {
    word: "place",
    also: "placement repeat rotate",
    fresh: () => ({ placement: wholePlacement }),
    telling: (s) =>
      `${round((s.placement as { repeatsU: number }).repeatsU)} × ${round((s.placement as { repeatsV: number }).repeatsV)}`,
  },
  invert: { word: "invert", fresh: () => ({}), telling: () => "1 − x" },
  remap: {
    word: "remap",
    also: "range levels",
    fresh: () => ({ inLow: 0, inHigh: 1, outLow: 0, outHigh: 1, clamp: true }),
    telling: (s) => `to ${round(s.outLow)} … ${round(s.outHigh)}`,
  },
  gain: {
    word: "gain and offset",
    fresh: () => ({ gain: 1, offset: 0 }),
    telling: (s) => `× ${round(s.gain)} + ${round(s.offset)}`,
  },
  power: {
    word: "power",
    also: "exponent gamma",
    fresh: () => ({ exponent: 1 }),
    telling: (s) => `^ ${round(s.exponent)}`,
  },
  curve: {
    word: "curve",
    fresh: () => ({
      points: [
        { x: 0, y: 0 },
        { x: 0.5, y: 0.5 },
        { x: 1, y: 1 },
      ],
    }),
    telling: (s) => `${(s.points as unknown[]).length} points`,
  },
  grade: {
    word: "grade",
    also: "hue saturation value contrast",
    fresh: () => ({ hueDegrees: 0, saturation: 1, value: 1, contrast: 1, pivot: 0.18 }),
    telling: (s) => `${round(s.hueDegrees)}° × ${round(s.saturation)}`,
  },
  clamp: { word: "clamp", fresh: () => ({ low: 0, high: 1 }), telling: (s) => `${round(s.low)} … ${round(s.high)}` },
  mix: {
    word: "mix",
    also: "blend multiply screen overlay add",
    fresh: () => ({ mode: "normal", other: half, amount: { value: 0.5 } }),
    telling: (s) => `${String(s.mode)} ${feed(s.amount)}`,
  },
  pick: {
    word: "pick channel",
    also: "luminance red green blue",
    fresh: () => ({ channel: "r" }),
    telling: (s) => String(s.channel),
  },
  pack: {
    word: "pack channels",
    fresh: () => ({ green: half, blue: half }),
    telling: () => "r, green, blue",
  },
  blur: { word: "blur", fresh: () => ({ radius: 0.005 }), telling: (s) => `σ ${round(s.radius)}` },
  decodeNormal: {
    word: "decode normal",
    fresh: () => ({ strength: { value: 1 } }),
    telling: (s) => `strength ${feed(s.strength)}`,
  },
  heightToNormal: {
    word: "height to normal",
    also: "bump",
    fresh: () => ({ strength: { value: 1 }, heightMetres: 0.02 }),
    telling: (s) => `${round(s.heightMetres)} m × ${feed(s.strength)}`,
  },
  combine: {
    word: "combine reliefs",
    also: "detail normal",
    fresh: () => ({ mode: "additive", other: flatRelief, ownWeight: { value: 1 }, otherWeight: { value: 1 } }),
    telling: (s) => `${String(s.mode)} ${feed(s.ownWeight)} : ${feed(s.otherWeight)}`,
  },
  occlusion: {
    word: "occlusion",
    fresh: () => ({
      occlusion: { origin: { kind: "constant", value: { kind: "scalar", number: 1 } }, steps: [] },
      amount: { value: 0.3 },
    }),
    telling: (s) => `amount ${feed(s.amount)}`,
  },
  convert: {
    word: "colour convert",
    fresh: () => ({ from: "acescg", to: "lin_rec709" }),
    telling: (s) => `${String(s.from)} → ${String(s.to)}`,
  },
};

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
  ...wholePlacement,
  ...placement,
  repeatsU: (placement?.repeatsU ?? 1) * times,
  repeatsV: (placement?.repeatsV ?? 1) * times,
});
