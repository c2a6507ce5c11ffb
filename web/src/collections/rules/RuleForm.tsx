import type { RuleFieldFacts, RulesVerdict } from "../../api/types";
import { FieldRow } from "../../forms/FieldRow";
import { partAt } from "../../forms/jsonText";
import type { Draft } from "../../forms/useDraft";
import { Tip } from "../../ui/Tip";
import { RuleControl } from "./RuleControl";

interface Props {
  fields: readonly RuleFieldFacts[];
  draft: Draft;
  verdict?: RulesVerdict;
}

/** Every rule that there is, whether it is asked for or not; beside each what it does to the looks of the collection. */
export function RuleForm({ fields, draft, verdict }: Props) {
  const groups = [...new Set(fields.map((f) => f.group))];
  return (
    <>
      {groups.map((group) => (
        <section key={group} aria-labelledby={`rules-${group}`} className="mb-3">
          <h3 id={`rules-${group}`} className="font-medium">
            {group}
          </h3>
          {fields
            .filter((f) => f.group === group)
            .map((f) => (
              <FieldRow
                key={f.id}
                label={f.label}
                unit={f.unit}
                about={f.asks}
                testid={`rule-row-${f.id}`}
                effect={
                  partAt(draft.value, f.id.split(".")) !== undefined &&
                  verdict &&
                  !verdict.problem && (
                    <Breaking names={verdict.breaking[f.id] ?? []} of={verdict.looks} pending={verdict.pending} />
                  )
                }
              >
                <RuleControl field={f} draft={draft} />
              </FieldRow>
            ))}
        </section>
      ))}
    </>
  );
}

function Breaking({ names, of, pending }: { names: readonly string[]; of: number; pending: number }) {
  if (names.length === 0)
    return <span className="text-soft">{pending > 0 ? "none breaks it so far" : `all ${of} follow`}</span>;
  return (
    <Tip words={names.slice(0, 12).join(", ") + (names.length > 12 ? ` and ${names.length - 12} more` : "")}>
      <button className="underline decoration-dotted">
        {names.length === 1 ? "1 look breaks it" : `${names.length} looks break it`}
      </button>
    </Tip>
  );
}
