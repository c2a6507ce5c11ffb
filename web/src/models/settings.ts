import type { ModelPart, PartSettings, PartSettingsChange, Placement } from "../api/types";

/** How maps lie on a part: by the file's UVs, or by some that are made. */
export const projections = [
  { value: "", words: "of the file" },
  { value: "box", words: "from six sides" },
  { value: "front", words: "from the front" },
  { value: "side", words: "from the side" },
  { value: "top", words: "from above" },
  { value: "cylinder", words: "around the upward axis" },
  { value: "sphere", words: "around the middle" },
];

export const asItIs: Placement = {
  repeatsU: 1,
  repeatsV: 1,
  rotationDegrees: 0,
  offsetU: 0,
  offsetV: 0,
  pivotU: 0.5,
  pivotV: 0.5,
  mirrorU: false,
  mirrorV: false,
  pictureRotationDegrees: 0,
};

export const settingsOf = (part: ModelPart): PartSettings => ({
  own: part.own,
  projection: part.projection ?? null,
});

export const placementOf = (part: ModelPart): Placement => ({ ...asItIs, ...part.own.placement });

/** The same change for several parts, each from what it has now. */
export function changing(
  parts: ModelPart[],
  change: (now: PartSettings, part: ModelPart) => PartSettings,
): PartSettingsChange[] {
  return parts.map((part) => ({ path: part.path, was: settingsOf(part), now: change(settingsOf(part), part) }));
}

export const placing = (parts: ModelPart[], change: (now: Placement) => Partial<Placement>) =>
  changing(parts, (now, part) => {
    const placement = placementOf(part);
    return { ...now, own: { ...now.own, placement: { ...placement, ...change(placement) } } };
  });

/** What takes such changes back. */
export const takingBack = (done: PartSettingsChange[]): PartSettingsChange[] =>
  done.map((c) => ({ path: c.path, was: c.now, now: c.was }));

/** A turn by a quarter stays within half a turn either way. */
export const quarter = (degrees: number) => {
  const next = degrees + 90;
  return next > 180 ? next - 360 : next;
};

/** What a part has of its own, in a few words; empty for nothing. */
export function ownWords(part: ModelPart): string {
  const p = placementOf(part);
  const said = [
    part.projection && `UVs ${projections.find((k) => k.value === part.projection)?.words ?? "made"}`,
    p.mirrorU && "flipped along U",
    p.mirrorV && "flipped along V",
    p.rotationDegrees !== 0 && `turned ${Number(p.rotationDegrees.toFixed(1))}°`,
    (p.offsetU !== 0 || p.offsetV !== 0) && "shifted",
    (p.repeatsU !== 1 || p.repeatsV !== 1) && "repeated",
    part.own.tint && "tinted",
    Object.keys(part.own.values ?? {}).length > 0 && "own values",
  ];
  return said.filter(Boolean).join(", ");
}

/** One value where all have the same, else null. */
export function common<T>(parts: ModelPart[], of: (part: ModelPart) => T): T | null {
  const [first, ...rest] = parts.map(of);
  return first !== undefined && rest.every((v) => v === first) ? first : null;
}
