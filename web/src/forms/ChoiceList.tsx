import { X } from "lucide-react";
import { Combobox } from "../ui/Combobox";
import type { Option } from "../ui/options";

interface Props {
  label: string;
  value: readonly string[];
  options: readonly Option[];
  /** What the button says that adds one. */
  add: string;
  testid?: string;
  onChange: (value: string[]) => void;
}

/** Some of many: each stands with a button that takes it out, the rest are added by typing a part of their words. */
export function ChoiceList({ label, value, options, add, testid, onChange }: Props) {
  const wordsOf = (id: string) => options.find((o) => o.value === id)?.words ?? id;
  return (
    <span className="flex flex-wrap items-center gap-1" role="group" aria-label={label}>
      {value.map((id) => (
        <span key={id} className="flex items-center gap-1 border border-rule bg-raised pl-1.5">
          {wordsOf(id)}
          <button
            className="px-1"
            aria-label={`Remove ${wordsOf(id)}`}
            onClick={() => onChange(value.filter((v) => v !== id))}
          >
            <X size={11} aria-hidden="true" />
          </button>
        </span>
      ))}
      <Combobox
        acts
        label={add}
        testid={testid}
        value=""
        className="text-small"
        options={options.filter((o) => !value.includes(o.value))}
        onChange={(id) => onChange([...value, id])}
      />
    </span>
  );
}
