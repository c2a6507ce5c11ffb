import { ToggleGroup as Radix } from "radix-ui";
import { emptyValue } from "./options";
import { Tip } from "./Tip";

interface Props {
  label: string;
  value: string;
  options: readonly { value: string; words: string; tip?: string }[];
  onChange: (value: string) => void;
  testid?: string;
}

/** One of a few side by side; exactly one is on. */
export function Segments({ label, value, options, onChange, testid }: Props) {
  return (
    <Radix.Root
      type="single"
      aria-label={label}
      value={value || emptyValue}
      onValueChange={(v) => v !== "" && onChange(v === emptyValue ? "" : v)}
      data-testid={testid}
      className="flex pl-px"
    >
      {options.map((o) => (
        <Tip key={o.value} words={o.tip}>
          <Radix.Item
            value={o.value || emptyValue}
            data-value={o.value}
            className="act -ml-px rounded-none px-1.5 text-small"
          >
            {o.words}
          </Radix.Item>
        </Tip>
      ))}
    </Radix.Root>
  );
}
