import { RadioGroup as Radix } from "radix-ui";
import type { ReactNode } from "react";
import { classes } from "./classes";

interface Props {
  label: string;
  value: string;
  options: readonly { value: string; words: ReactNode; disabled?: boolean }[];
  onChange: (value: string) => void;
  disabled?: boolean;
  testid?: string;
}

/** One of a few that are all seen, each with its words. */
export function RadioGroup({ label, value, options, onChange, disabled, testid }: Props) {
  return (
    <Radix.Root aria-label={label} value={value} onValueChange={onChange} disabled={disabled} data-testid={testid}>
      {options.map((o) => (
        <label key={o.value} className="flex items-baseline gap-1.5 py-0.5">
          <Radix.Item
            value={o.value}
            data-value={o.value}
            disabled={o.disabled}
            className={classes(
              "grid size-[14px] shrink-0 translate-y-[2px] place-items-center rounded-full border border-soft bg-raised",
              "data-[state=checked]:border-ink",
            )}
          >
            <Radix.Indicator className="block size-[8px] rounded-full bg-ink" />
          </Radix.Item>
          <span>{o.words}</span>
        </label>
      ))}
    </Radix.Root>
  );
}
