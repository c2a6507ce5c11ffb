import { Fold } from "../../../ui/Fold";
import { FieldHead } from "./FieldHead";
import { useForm } from "./FormContext";
import { blank, problemsWithin, resolved, type Schema } from "./schema";
import { SchemaField, type Composed } from "./SchemaField";

const asText = (part: unknown) => (typeof part === "string" ? part : "");

/** The line by which an entry of a list is known: its name or what it is about, and a word more. */
function headOf(entry: unknown, item: Schema): { name: string; more: string } {
  const of = (entry ?? {}) as Record<string, unknown>;
  const type = asText(of.type);
  return {
    name: asText(of.name) || asText(of.input) || "new",
    more: asText(of.note) || asText(of.words) || (item.properties?.type?.["x-choices"]?.[type] ?? type),
  };
}

/** Entries of one kind, each behind a line that opens. */
export function ListField({ label, about, schema, path, value }: Composed) {
  const { draft, problems, schema: whole } = useForm();
  const entries = Array.isArray(value) ? (value as unknown[]) : [];
  const item = resolved(whole, schema.items ?? {});
  return (
    <section aria-label={label} className="mb-2">
      <FieldHead label={label} about={about} path={path} />
      <ul>
        {entries.map((entry, i) => {
          const { name, more } = headOf(entry, item);
          const wrong = problemsWithin(problems, [...path, i]);
          return (
            <li key={i} className="border-t border-rule py-1">
              <Fold
                testid={`entry-${[...path, i].join("-")}`}
                head={
                  <>
                    <b className="font-mono font-normal">{name}</b>
                    <span className="truncate text-small text-soft">{more}</span>
                    {wrong > 0 && <b className="text-small">{wrong === 1 ? "1 problem" : `${wrong} problems`}</b>}
                  </>
                }
              >
                <div className="border-l border-rule pl-4">
                  {Object.entries(item.properties ?? {}).map(([part, of]) => (
                    <SchemaField key={part} name={part} path={[...path, i, part]} schema={of} around={item} />
                  ))}
                  <button
                    type="button"
                    className="act mt-1 text-small"
                    aria-label={`Remove ${name}`}
                    onClick={() => draft.set([...path, i], undefined)}
                  >
                    Remove
                  </button>
                </div>
              </Fold>
            </li>
          );
        })}
      </ul>
      <button
        type="button"
        className="act text-small"
        data-testid={`add-${path.join("-")}`}
        onClick={() => draft.add(path, blank(whole, item))}
      >
        Add
      </button>
    </section>
  );
}
