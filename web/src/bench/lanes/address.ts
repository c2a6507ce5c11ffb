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
    return { value: { kind: "scalar", number: raw.value } as Lane["value"], chain: raw.chain as Chain | undefined };
  return raw as Lane;
}

/** The lane at an address: base_color, source:NAME, cover:N:base_color, cover:N:mask, and /STEP/INPUT for side rows. */
export function laneAt(look: Look, address: string): Lane | undefined {
  const cut = address.lastIndexOf("/", address.lastIndexOf("/") - 1);
  if (address.includes("/")) {
    const [step, name] = address.slice(cut + 1).split("/");
    const found = laneAt(look, address.slice(0, cut))?.chain?.steps.find((s) => s.id === step) as unknown as
      LooseStep | undefined;
    const side = found && sidesOf(found).find((s) => s.name === name);
    return found && side ? sideLane(found, side) : undefined;
  }
  const parts = address.split(":");
  if (parts[0] === "source") return look.sources?.[parts[1]];
  if (parts[0] === "cover") {
    const cover = look.covers?.[Number(parts[1])];
    return parts[2] === "mask" ? cover?.mask : cover?.lanes[parts[2]];
  }
  return look.lanes?.[address];
}

/** The neutral input behind an address; null for sources, masks and side rows. */
export function inputOf(address: string): string | null {
  if (address.includes("/") || address.startsWith("source:") || address.endsWith(":mask")) return null;
  return address.startsWith("cover:") ? address.split(":")[2] : address;
}

/** An input's name in the interface's spelling; the standard's identifier stays in documents. */
/** A direction along the surface: a turn from u as a number, or a map of turns or directions. */
export const isTangent = (input: string | null | undefined) =>
  input === "geometry_tangent" || input === "geometry_coat_tangent";

export const inputWords = (name: string) => name.replaceAll("_", " ").replace("color", "colour");

export function addressWords(address: string): string {
  const [lane, ...rest] = address.split("/");
  const parts = lane.split(":");
  const own =
    parts[0] === "source"
      ? parts[1]
      : parts[0] === "cover"
        ? `${inputWords(parts[2])} of cover ${Number(parts[1]) + 1}`
        : inputWords(lane);
  return rest.length === 0 ? own : `${rest.at(-1)} in ${own}`;
}

/** Every chain of a look with the address of its lane, side rows included. */
export function allChains(look: Look): { address: string; chain: Chain }[] {
  const found: { address: string; chain: Chain }[] = [];
  const visit = (address: string, lane: Lane | undefined | null) => {
    if (!lane?.chain) return;
    found.push({ address, chain: lane.chain });
    for (const raw of lane.chain.steps) {
      const step = raw as unknown as LooseStep;
      for (const side of sidesOf(step)) visit(`${address}/${step.id}/${side.name}`, sideLane(step, side));
    }
  };
  for (const [name, lane] of Object.entries(look.lanes ?? {})) visit(name, lane);
  for (const [name, lane] of Object.entries(look.sources ?? {})) visit(`source:${name}`, lane);
  (look.covers ?? []).forEach((cover, i) => {
    visit(`cover:${i}:mask`, cover.mask);
    for (const [name, lane] of Object.entries(cover.lanes)) visit(`cover:${i}:${name}`, lane);
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
