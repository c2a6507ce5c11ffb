import type { ModelFinding, ModelPart, PartSettingsChange } from "../api/types";
import type { Binding } from "./binding";
import { settingsOf } from "./settings";

/** What a repair sets on parts, with what is seen of them now; parts that are not there any more are left out. */
export const settingsFor = (finding: ModelFinding, parts: readonly ModelPart[]): PartSettingsChange[] =>
  (finding.repair?.settings ?? []).flatMap(({ path, own, projection }) => {
    const part = parts.find((p) => p.path === path);
    return part ? [{ path, was: settingsOf(part), now: { own, projection } }] : [];
  });

/** The looks that lie on a finding's parts, put there again by a person. */
export function confirming(finding: ModelFinding, parts: readonly ModelPart[]): Binding[] {
  const by = new Map<string, Binding["parts"]>();
  for (const p of parts)
    if (p.lookId && finding.parts.includes(p.path))
      by.set(p.lookId, [...(by.get(p.lookId) ?? []), { path: p.path, was: p.lookId }]);
  return [...by].map(([look, on]) => ({ look, parts: on }));
}
