import type { NamingTextVerdict } from "../../api/types";
import { RuleEffectList } from "./RuleEffectList";

/** What saving would change: in the rules, and in how past deliveries would have been sorted. */
export function NamingEffect({ verdict }: { verdict: NamingTextVerdict }) {
  const changes = [
    ...verdict.added.map((s) => `New: ${s}`),
    ...verdict.removed.map((s) => `Removed: ${s}`),
    ...verdict.switched.map((s) => `Switched: ${s}`),
  ];
  return (
    <div role="status" className="mt-2 border border-rule bg-sunken p-2">
      {changes.length > 0 && (
        <ul className="text-small">
          {changes.map((c) => (
            <li key={c}>{c}</li>
          ))}
        </ul>
      )}
      <RuleEffectList effect={verdict.effect} />
    </div>
  );
}
