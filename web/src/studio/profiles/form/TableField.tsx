import { useState } from "react";
import type { JsonPath } from "../../../forms/jsonText";
import { Combobox } from "../../../ui/Combobox";
import { FieldHead } from "./FieldHead";
import { useForm } from "./FormContext";
import { blank, kindOf, namesFor, problemsAt, problemsWithin, resolved, type Schema } from "./schema";
import { SchemaField, type Composed } from "./SchemaField";

/** Names with a text or with parts each; where the names are known, they are chosen from a list. */
export function TableField({ label, about, schema, path, value }: Composed) {
  const { draft, problems, schema: whole } = useForm();
  const entry = resolved(whole, schema.additionalProperties as Schema);
  const isText = kindOf(entry) === "text" || kindOf(entry) === "formula";
  const table = typeof value === "object" && value !== null ? (value as Record<string, unknown>) : {};
  const names = namesFor(whole, draft.value, schema["x-keys"]);
  const free = names?.filter((n) => !(n.value in table));
  const add = (name: string) => draft.set([...path, name], blank(whole, entry));
  return (
    <section aria-label={label} className="mb-2">
      <FieldHead label={label} about={about} path={path} />
      <ul>
        {Object.entries(table).map(([name, part]) => (
          <li key={name} className="border-t border-rule py-1" data-testid={`row-${[...path, name].join("-")}`}>
            {isText ? (
              <TextRow name={name} part={part} path={[...path, name]} schema={schema} />
            ) : (
              <>
                <b className="font-mono font-normal">{name}</b>
                {problemsWithin(problems, [...path, name]) > 0 && <b className="text-small"> has problems</b>}
                <div className="border-l border-rule pl-4">
                  {Object.entries(entry.properties ?? {}).map(([of, inner]) => (
                    <SchemaField key={of} name={of} path={[...path, name, of]} schema={inner} around={entry} />
                  ))}
                  <button
                    type="button"
                    className="act mt-1 text-small"
                    aria-label={`Remove ${name}`}
                    onClick={() => draft.remove([...path, name])}
                  >
                    Remove
                  </button>
                </div>
              </>
            )}
          </li>
        ))}
      </ul>
      {free ? (
        free.length > 0 && (
          <Combobox acts label="Add…" testid={`add-${path.join("-")}`} value="" options={free} onChange={add} />
        )
      ) : (
        <NewName label={label} testid={`add-${path.join("-")}`} taken={table} onAdd={add} />
      )}
    </section>
  );
}

interface TextRowProps {
  name: string;
  part: unknown;
  path: JsonPath;
  schema: Schema;
}

function TextRow({ name, part, path, schema }: TextRowProps) {
  const { draft, problems, changed, schema: whole } = useForm();
  const values = namesFor(whole, draft.value, schema["x-values"]);
  const looks = path[0] === "mapping" ? changed.get(name) : undefined;
  const text = typeof part === "string" ? part : "";
  return (
    <>
      <div className="grid grid-cols-[minmax(120px,28%)_minmax(0,1fr)_auto] items-center gap-2">
        <span className="truncate font-mono">{name}</span>
        {values ? (
          <Combobox label={name} value={text} options={values} onChange={(v) => draft.set(path, v)} />
        ) : (
          <input
            className="entry min-w-0 font-mono"
            aria-label={name}
            spellCheck={false}
            value={text}
            onChange={(e) => draft.set(path, e.target.value)}
          />
        )}
        <button
          type="button"
          className="act text-small"
          aria-label={`Remove ${name}`}
          onClick={() => draft.remove(path)}
        >
          Remove
        </button>
      </div>
      {looks !== undefined && (
        <p className="text-small text-soft">changes {looks === 1 ? "1 look" : `${looks} looks`}</p>
      )}
      {problemsAt(problems, path).map((sentence) => (
        <p key={sentence} role="alert" className="border-l-2 border-ink pl-2 text-small">
          {sentence}
        </p>
      ))}
    </>
  );
}

interface NewNameProps {
  label: string;
  testid: string;
  taken: Record<string, unknown>;
  onAdd: (name: string) => void;
}

function NewName({ label, testid, taken, onAdd }: NewNameProps) {
  const [name, setName] = useState("");
  const isFree = name.trim() !== "" && !(name.trim() in taken);
  return (
    <span className="flex items-center gap-2">
      <input
        className="entry font-mono"
        aria-label={`new name under ${label}`}
        placeholder="name"
        value={name}
        onChange={(e) => setName(e.target.value)}
      />
      <button
        type="button"
        className="act text-small"
        data-testid={testid}
        disabled={!isFree}
        onClick={() => {
          onAdd(name.trim());
          setName("");
        }}
      >
        Add
      </button>
    </span>
  );
}
