import type { ModelPart } from "../api/types";

/** Parts that are to have a look, each with what was seen on it. */
export interface Binding {
  parts: { path: string; was: string | null }[];
  look: string | null;
}

/** The bindings that put back what lay on the parts before: one for each look that was there. */
export function undoing(done: Binding): Binding[] {
  const by = new Map<string | null, Binding["parts"]>();
  for (const p of done.parts) by.set(p.was, [...(by.get(p.was) ?? []), { path: p.path, was: done.look }]);
  return [...by].map(([look, parts]) => ({ look, parts }));
}

/** How it came that a part looks as it does. */
export function stateOf(part: ModelPart): { words: string; asks: boolean; reasons: string | undefined } {
  if (!part.lookId)
    return part.candidates.length > 0
      ? {
          words: part.candidates.length === 1 ? "its name nearly fits this look" : "its name fits several looks",
          asks: true,
          reasons: undefined,
        }
      : { words: "no look: plain grey", asks: false, reasons: undefined };
  if (part.boundBy === "person") return { words: "chosen", asks: false, reasons: undefined };
  return {
    words: `by name, ${Math.round((part.confidence ?? 0) * 100)} % sure`,
    asks: false,
    reasons: part.reasons.join("\n") || undefined,
  };
}

/** 1234567 as 1 234 567. */
export const grouped = (n: number) => n.toLocaleString("en-US").replaceAll(",", "\u202f");

/** What a part measures, in the unit that suits it. */
export function sizeWords(size: readonly number[]): string {
  const most = Math.max(...size);
  const [unit, per, digits] = most < 0.1 ? ["mm", 1000, 1] : most < 2 ? ["cm", 100, 1] : ["m", 1, 2];
  return `${size.map((s) => (s * per).toFixed(digits)).join(" x ")} ${unit}`;
}
