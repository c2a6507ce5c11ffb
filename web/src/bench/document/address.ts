import { laneAddressForm } from "../../api/laneAddressForm";
import { stepKind } from "../../api/steps";
import type { Chain, Lane, Look, StepDescription } from "../../api/types";
import type { LooseStep } from "./steps";

/** A tile: the lane's address and the step, −1 for where it begins. */
export interface Selection {
  lane: string;
  step: number;
  /** The other end of a run of steps, where several are selected. */
  to?: number;
}

/** First and last of the selected steps. */
export const runOf = ({ step, to }: Selection): [number, number] => [
  Math.min(step, to ?? step),
  Math.max(step, to ?? step),
];

/** The steps that are selected, where the lane still has them. */
export function selectedSteps(look: Look, selection: Selection | null): LooseStep[] {
  if (!selection || selection.step < 0) return [];
  const [first, last] = runOf(selection);
  return (laneAt(look, selection.lane)?.chain?.steps ?? []).slice(first, last + 1) as unknown as LooseStep[];
}

/** A step's other input, as the table of steps has it. */
export type Side = StepDescription["sides"][number];

export const sidesOf = (step: LooseStep): Side[] => stepKind(step.kind).sides;

/** A side as a lane, whatever form the document keeps it in. */
export function sideLane(step: LooseStep, side: Side): Lane {
  const raw = step[side.name] as Record<string, unknown> | undefined;
  if (!raw) return {};
  if ("origin" in raw) return { chain: raw as unknown as Chain };
  if (typeof raw.value === "number")
    return { value: { kind: "scalar", number: raw.value }, chain: raw.chain as Chain | undefined };
  return raw;
}

/** An address taken apart; its form is the core's own (laneAddressForm). */
export interface LaneAddress {
  /** The source's name; null for a lane that is none. */
  source: string | null;
  /** The layer's number, the lowest 0; null for the base layer and for sources. */
  layer: number | null;
  /** The neutral input of the base layer or of a layer; null for sources and masks. */
  input: string | null;
  /** The steps and their inputs that lead to a side row; empty for a lane of its own. */
  sides: { step: string; name: string }[];
}

export function parseAddress(address: string): LaneAddress | null {
  const found = laneAddressForm.exec(address)?.groups;
  if (!found) return null;
  const parts = found.sides.split("/").slice(1);
  return {
    source: found.source ?? null,
    layer: found.layer === undefined ? null : Number(found.layer),
    input: found.laid ?? found.input ?? null,
    sides: parts.flatMap((step, i) => (i % 2 === 0 ? [{ step, name: parts[i + 1] }] : [])),
  };
}

export const sourceAddress = (name: string) => `source:${name}`;
export const layerAddress = (layer: number, input: string) => `cover:${layer}:${input}`;
export const maskAddress = (layer: number) => `cover:${layer}:mask`;
export const sideAddress = (lane: string, step: string, name: string) => `${lane}/${step}/${name}`;

/** The lane at an address; undefined where it has its default, or the look lacks the place. */
export function laneAt(look: Look, address: string): Lane | undefined {
  const at = parseAddress(address);
  if (!at) return undefined;
  const cover = at.layer === null ? undefined : look.covers?.[at.layer];
  const own =
    at.source !== null
      ? look.sources?.[at.source]
      : at.layer === null
        ? look.lanes?.[at.input!]
        : at.input === null
          ? cover?.mask
          : cover?.lanes[at.input];
  return at.sides.reduce<Lane | undefined>((lane, { step, name }) => {
    const found = lane?.chain?.steps.find((s) => s.id === step) as unknown as LooseStep | undefined;
    const side = found && sidesOf(found).find((s) => s.name === name);
    return found && side ? sideLane(found, side) : undefined;
  }, own);
}

/** Whether a look has this step at this place of a lane: whether its picture and numbers can be asked for. */
export const hasStep = (look: Look, lane: string, at: number, id: string) =>
  laneAt(look, lane)?.chain?.steps[at]?.id === id;

/** The neutral input behind an address; null for sources, masks and side rows. */
export function inputOf(address: string): string | null {
  const at = parseAddress(address);
  return at && at.sides.length === 0 ? at.input : null;
}

/** Whether it is a lane of the base layer or a source: what may be given to other looks. */
export const isShareable = (address: string) => {
  const at = parseAddress(address);
  return at !== null && at.layer === null && at.sides.length === 0;
};

/** An input's name in the interface's spelling; the standard's identifier stays in documents. */
/** A direction along the surface: a turn from u as a number, or a map of turns or directions. */
export const isTangent = (input: string | null | undefined) =>
  input === "geometry_tangent" || input === "geometry_coat_tangent";

export const inputWords = (name: string) =>
  name
    .replaceAll("_", " ")
    .replace("color", "colour")
    .replace(/\bior\b/, "IOR");

export function addressWords(address: string): string {
  const at = parseAddress(address);
  if (!at) return address;
  const own =
    at.source ??
    (at.layer === null ? inputWords(at.input!) : `${inputWords(at.input ?? "mask")} of layer ${at.layer + 1}`);
  const last = at.sides.at(-1);
  return last ? `${last.name} in ${own}` : own;
}

/** Every chain of a look with the address of its lane, side rows included. */
export function allChains(look: Look): { address: string; chain: Chain }[] {
  const found: { address: string; chain: Chain }[] = [];
  const visit = (address: string, lane: Lane | undefined | null) => {
    if (!lane?.chain) return;
    found.push({ address, chain: lane.chain });
    for (const raw of lane.chain.steps) {
      const step = raw as unknown as LooseStep;
      for (const side of sidesOf(step)) visit(sideAddress(address, step.id, side.name), sideLane(step, side));
    }
  };
  for (const [name, lane] of Object.entries(look.lanes ?? {})) visit(name, lane);
  for (const [name, lane] of Object.entries(look.sources ?? {})) visit(sourceAddress(name), lane);
  (look.covers ?? []).forEach((cover, i) => {
    visit(maskAddress(i), cover.mask);
    for (const [name, lane] of Object.entries(cover.lanes)) visit(layerAddress(i, name), lane);
  });
  return found;
}

/** Addresses of the chains that begin with a source or a slot. */
export const usersOf = (look: Look, kind: "source" | "slot", name: string) =>
  allChains(look)
    .filter(({ chain: { origin } }) =>
      kind === "source"
        ? origin.kind === "source" && origin.source === name
        : origin.kind === "slot" && origin.slot === name,
    )
    .map((c) => c.address);
