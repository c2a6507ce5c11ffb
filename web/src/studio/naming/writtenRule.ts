import type { MapRole, NamingRuleKind } from "../../api/types";

/** A rule as the text of the studio's naming rules holds it. */
export interface WrittenRule {
  phrase: string;
  kind: NamingRuleKind;
  role?: MapRole;
  channels?: Record<string, MapRole>;
  enabled: boolean;
  reason?: string;
}

const kinds: readonly string[] = ["role", "packed", "preview", "normalUp", "normalDown", "ignored"];

/**
 * The rules of a text that somebody types in: what has not the shape of a rule yet stands as null, so that places stay those of the text.
 */
export function writtenRules(value: unknown): (WrittenRule | null)[] {
  if (!Array.isArray(value)) return [];
  return value.map((entry: unknown) => {
    if (typeof entry !== "object" || entry === null) return null;
    const rule = entry as Partial<Record<keyof WrittenRule, unknown>>;
    if (typeof rule.phrase !== "string" || !kinds.includes(String(rule.kind))) return null;
    return { ...(entry as WrittenRule), enabled: rule.enabled !== false };
  });
}
