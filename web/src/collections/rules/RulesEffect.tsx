import { Link } from "react-router";
import type { RulesVerdict } from "../../api/types";

/** What saving the rules would change, look by look. */
export function RulesEffect({ verdict }: { verdict: RulesVerdict }) {
  return (
    <>
      <p className="mb-2 font-medium">
        {verdict.standing} of {verdict.looks} looks satisfy all rules
        {verdict.standing === 0 && verdict.looks > 0 && ": these rules exclude every look"}.
      </p>
      {verdict.pending > 0 && (
        <p className="mb-1 text-small">
          {verdict.pending === 1 ? "1 look is" : `${verdict.pending} looks are`} still being measured; rules about
          numbers do not know {verdict.pending === 1 ? "it" : "them"} yet.
        </p>
      )}
      <p className="mb-1 text-small text-soft">
        {verdict.effects.length === 0 ? "Nothing would change." : "Saving would change:"}
      </p>
      <ul className="max-h-[420px] overflow-auto" tabIndex={0} aria-label="what saving the rules would change">
        {verdict.effects.map((e) => (
          <li key={e.id} className="border-t border-rule py-1">
            <Link to={`/looks/${e.id}`} className="font-medium hover:underline">
              {e.name}
            </Link>
            {e.broken.map((s) => (
              <span key={s} className="block text-small">
                {s}
              </span>
            ))}
            {e.mended.map((s) => (
              <s key={s} className="block text-small text-soft">
                {s}
              </s>
            ))}
          </li>
        ))}
      </ul>
    </>
  );
}
