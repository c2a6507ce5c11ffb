import type { Look } from "../../api/types";
import { addressWords, allChains, laneAt, parseAddress } from "./address";
import { stepKind } from "../../api/steps";
import { loose } from "./steps";

/** What differs between two states of a look, lane by lane, in words: from the earlier to the later. */
export function differences(before: Look, after: Look): string[] {
  const same = (a: unknown, b: unknown) => JSON.stringify(a ?? null) === JSON.stringify(b ?? null);
  const words: string[] = [];
  const names = (a: object | undefined, b: object | undefined) => [
    ...new Set([...Object.keys(a ?? {}), ...Object.keys(b ?? {})]),
  ];
  const owned = (look: Look) => allChains(look).map((c) => c.address.split("/")[0]);
  const lanes = new Set([
    ...names(before.lanes, after.lanes),
    ...[...owned(before), ...owned(after)].filter((a) => a.includes(":")),
  ]);
  for (const lane of lanes) {
    const [a, b] = [laneAt(before, lane), laneAt(after, lane)];
    if (same(a, b)) continue;
    const name = parseAddress(lane)?.source != null ? `source ${addressWords(lane)}` : addressWords(lane);
    if (!a) words.push(`${name}: new`);
    else if (!b) words.push(`${name}: back to its default`);
    else {
      if (!same(a.value, b.value)) words.push(`${name}: ${valueWords(a.value)} → ${valueWords(b.value)}`);
      if (!same(a.chain, b.chain)) words.push(`${name}: ${chainWords(a.chain, b.chain)}`);
    }
  }
  for (const slot of names(before.slots, after.slots)) {
    const [a, b] = [before.slots?.[slot]?.file.name, after.slots?.[slot]?.file.name];
    if (a !== b) words.push(`slot ${slot}: ${a ?? "nothing"} → ${b ?? "nothing"}`);
  }
  const covers = (look: Look) => (look.covers ?? []).map((c) => c.name).join(", ") || "none";
  if (covers(before) !== covers(after)) words.push(`layers: ${covers(before)} → ${covers(after)}`);
  if (!same(before.placement, after.placement)) words.push("placement");
  if (!same([before.sizeU, before.sizeV], [after.sizeU, after.sizeV])) words.push("real size");
  if (!same([before.relief, before.displacement], [after.relief, after.displacement])) words.push("normal and height");
  if (before.name !== after.name) words.push(`name: ${before.name} → ${after.name}`);
  if (!same(before.tags, after.tags)) words.push("tags");
  return words;
}

type Lane = NonNullable<ReturnType<typeof laneAt>>;

function chainWords(a: Lane["chain"], b: Lane["chain"]): string {
  if (!a) return "connected";
  if (!b) return "disconnected";
  const found: string[] = [];
  if (JSON.stringify(a.origin) !== JSON.stringify(b.origin)) found.push("begins with something else");
  const word = (
    raw: Lane["chain"] extends infer C ? (NonNullable<C> extends { steps: (infer T)[] } ? T : never) : never,
  ) => stepKind(loose(raw).kind).label;
  for (const step of b.steps) {
    const old = a.steps.find((s) => s.id === step.id);
    if (!old) found.push(`${word(step)} added`);
    else if (JSON.stringify(old) !== JSON.stringify(step))
      found.push(
        old.bypassed !== step.bypassed
          ? `${word(step)} ${step.bypassed ? "bypassed" : "used again"}`
          : `${word(step)} changed`,
      );
  }
  for (const step of a.steps) if (!b.steps.some((s) => s.id === step.id)) found.push(`${word(step)} removed`);
  return found.join(", ") || "order of steps";
}

function valueWords(value: Lane["value"]): string {
  if (!value) return "default";
  const round = (n: number) => String(Math.round(n * 1000) / 1000);
  return value.kind === "scalar"
    ? round(value.number)
    : value.kind === "colour"
      ? [value.r, value.g, value.b].map(round).join(" ")
      : "value";
}
