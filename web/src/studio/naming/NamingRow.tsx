import { useStudio } from "../../api/queries";
import type { KeptNamingRule } from "../../api/types";
import type { Draft } from "../../forms/useDraft";
import { Checkbox } from "../../ui/Checkbox";
import { RuleEditor } from "./RuleEditor";
import { ruleWords } from "./ruleWords";
import type { WrittenRule } from "./writtenRule";

interface Props {
  /** Null for what is no rule yet, in a text that somebody types. */
  rule: WrittenRule | null;
  place: number;
  draft: Draft;
  /** The rule as it is kept; undefined for a new one. */
  known?: KeptNamingRule;
  problems: readonly string[];
  isOpen: boolean;
  onOpen: (open: boolean) => void;
}

/** A rule as a sentence, with who made it and why; it opens to be edited. */
export function NamingRow({ rule, place, draft, known, problems, isOpen, onOpen }: Props) {
  const studio = useStudio();
  if (!rule)
    return <li className="border-b border-rule py-1.5 text-soft">Entry {place + 1} is no rule yet; see the text.</li>;
  return (
    <li className="border-b border-rule py-1.5" data-rule={rule.phrase}>
      <div className="flex items-baseline gap-2">
        <label className="flex grow items-baseline gap-2">
          <Checkbox
            label={`${rule.phrase} in force`}
            checked={rule.enabled}
            onChange={(on) => draft.set([place, "enabled"], on)}
          />
          <span className={rule.enabled ? "" : "text-soft line-through"}>
            <b className="font-mono font-normal">{rule.phrase || "…"}</b> {ruleWords(rule, studio.data)}
          </span>
        </label>
        <button
          type="button"
          className="act text-small"
          aria-expanded={isOpen}
          data-testid={`naming-edit-${place}`}
          onClick={() => onOpen(!isOpen)}
        >
          {isOpen ? "Done" : "Edit"}
        </button>
        <button
          type="button"
          className="act text-small"
          aria-label={`Remove the rule ${rule.phrase}`}
          onClick={() => {
            onOpen(false);
            draft.set([place], undefined);
          }}
        >
          Remove
        </button>
      </div>
      <p className="pl-6 text-small text-soft">
        {known ? `${known.author}, ${new Date(known.created).toLocaleDateString("en-GB")}` : "not saved yet"}
        {rule.reason && `: ${rule.reason}`}
      </p>
      {problems.map((sentence) => (
        <p key={sentence} role="alert" className="ml-6 border-l-2 border-ink pl-2 text-small">
          {sentence}
        </p>
      ))}
      {isOpen && <RuleEditor rule={rule} path={[place]} draft={draft} />}
    </li>
  );
}
