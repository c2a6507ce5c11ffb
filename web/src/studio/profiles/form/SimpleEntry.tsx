import { useState } from "react";
import type { JsonPath } from "../../../forms/jsonText";
import { Combobox } from "../../../ui/Combobox";
import { OptionalNumber } from "../../../ui/OptionalNumber";
import { Select } from "../../../ui/Select";
import { Switch } from "../../../ui/Switch";
import { useForm } from "./FormContext";
import { asNumbers, asWords, kindOf, namesFor, type Schema } from "./schema";

interface Props {
  label: string;
  schema: Schema;
  path: JsonPath;
  value: unknown;
  optional: boolean;
}

/** The control of a field without parts. What is emptied and may be left out is taken out of the text. */
export function SimpleEntry({ label, schema, path, value, optional }: Props) {
  const { draft, schema: whole } = useForm();
  const put = (next: unknown) => (next === null && optional ? draft.remove(path) : draft.set(path, next ?? ""));
  switch (kindOf(schema)) {
    case "choice":
      return (
        <Select
          label={label}
          value={typeof value === "string" ? value : typeof schema.default === "string" ? schema.default : ""}
          placeholder="choose…"
          options={Object.entries(schema["x-choices"] ?? {}).map(([id, words]) => ({ value: id, words }))}
          onChange={put}
        />
      );
    case "switch":
      return (
        <Switch
          label={label}
          checked={typeof value === "boolean" ? value : schema.default === true}
          onChange={(on) => (on === (schema.default === true) && optional ? draft.remove(path) : draft.set(path, on))}
        />
      );
    case "number":
      return (
        <OptionalNumber
          label={label}
          placeholder={typeof schema.default === "number" ? String(schema.default) : undefined}
          value={typeof value === "number" ? value : null}
          onChange={put}
        />
      );
    case "words":
      return (
        <Separated
          label={label}
          value={Array.isArray(value) ? value.join(", ") : ""}
          onChange={(typed) => put(asWords(typed).length > 0 ? asWords(typed) : optional ? null : [])}
        />
      );
    case "numbers":
      return (
        <Separated
          label={label}
          className="w-40"
          value={Array.isArray(value) ? value.join(", ") : ""}
          onChange={(typed) => {
            const numbers = asNumbers(typed);
            if (numbers) put(numbers.length > 0 ? numbers : null);
          }}
        />
      );
    default: {
      const names = namesFor(whole, draft.value, schema["x-oneOf"]);
      const text = typeof value === "string" ? value : "";
      if (names) return <Combobox label={label} value={text} placeholder="choose…" options={names} onChange={put} />;
      return (
        <input
          className={`entry min-w-0 grow ${schema["x-formula"] ? "font-mono" : ""}`}
          aria-label={label}
          spellCheck={false}
          value={text}
          onChange={(e) => put(e.target.value || null)}
        />
      );
    }
  }
}

interface SeparatedProps {
  label: string;
  value: string;
  className?: string;
  onChange: (typed: string) => void;
}

/** Several words or numbers in one entry, with commas; kept on Enter or when one leaves it. */
function Separated({ label, value, className = "min-w-0 grow", onChange }: SeparatedProps) {
  const [draft, setDraft] = useState<string | null>(null);
  const commit = () => {
    if (draft !== null && draft !== value) onChange(draft);
    setDraft(null);
  };
  return (
    <input
      className={`entry font-mono ${className}`}
      aria-label={`${label}, with commas between them`}
      spellCheck={false}
      value={draft ?? value}
      onChange={(e) => setDraft(e.target.value)}
      onBlur={commit}
      onKeyDown={(e) => {
        if (e.key === "Enter") commit();
        if (e.key === "Escape") setDraft(null);
      }}
    />
  );
}
