import { useMemo } from "react";
import type { ProfileVerdict } from "../../../api/types";
import type { Draft } from "../../../forms/useDraft";
import { Fold } from "../../../ui/Fold";
import { FormContext } from "./FormContext";
import { problemsWithin, type Schema } from "./schema";
import { SchemaField } from "./SchemaField";

interface Props {
  schema: Schema;
  draft: Draft;
  verdict: ProfileVerdict | null;
}

/** A profile field by field, in sections that open; each says what is wrong in it. */
export function ProfileForm({ schema, draft, verdict }: Props) {
  const changed = useMemo(() => {
    const looks = new Map<string, number>();
    for (const effect of verdict?.affected ?? [])
      for (const input of effect.changed) looks.set(input, (looks.get(input) ?? 0) + 1);
    return looks;
  }, [verdict]);
  const problems = verdict?.problems ?? [];
  if (typeof draft.value !== "object" || draft.value === null || Array.isArray(draft.value))
    return (
      <p role="alert" className="border border-ink px-2 py-1">
        This is no profile: a profile is an object in braces. Mend it under <i>Text</i>, or open another one.
      </p>
    );
  return (
    <FormContext value={{ schema, draft, problems, changed }}>
      {schema["x-sections"]!.map((section, i) => {
        const wrong = section.fields.reduce((n, f) => n + problemsWithin(problems, [f]), 0);
        return (
          <Fold
            key={section.title}
            open={i === 0}
            testid={`section-${section.fields[0]}`}
            className="border-t border-rule py-1.5"
            head={
              <>
                <span className="font-medium">{section.title}</span>
                {wrong > 0 && <b className="text-small">{wrong === 1 ? "1 problem" : `${wrong} problems`}</b>}
              </>
            }
          >
            {section.fields.map((name) => (
              <SchemaField key={name} name={name} path={[name]} schema={schema.properties![name]} around={schema} />
            ))}
          </Fold>
        );
      })}
    </FormContext>
  );
}
