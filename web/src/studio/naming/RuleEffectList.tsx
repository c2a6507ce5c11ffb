import type { RuleEffect } from "../../api/types";

const shown = 8;

/** What a rule would change in deliveries that came before. Nothing of them is changed by it. */
export function RuleEffectList({ effect }: { effect: RuleEffect }) {
  if (effect.files === 0) return <p className="mt-2 text-soft">No file of a past delivery would change.</p>;
  return (
    <div className="mt-2">
      <p>
        {effect.files} file{effect.files === 1 ? "" : "s"} of {effect.deliveries} past{" "}
        {effect.deliveries === 1 ? "delivery" : "deliveries"} would change:
      </p>
      <ul className="text-small">
        {effect.changes.slice(0, shown).map((c) => (
          <li key={c.path} className="break-all">
            <span className="font-mono">{c.path}</span>: {c.before} → {c.after}
          </li>
        ))}
        {effect.files > shown && <li className="text-soft">and {effect.files - shown} more</li>}
      </ul>
    </div>
  );
}
