import { Check } from "lucide-react";
import { Checkbox as Radix } from "radix-ui";
import type { MouseEvent } from "react";
import { classes } from "./classes";

interface Props {
  checked: boolean;
  onChange: (on: boolean) => void;
  /** The accessible name, where no label stands around it. */
  label?: string;
  className?: string;
  disabled?: boolean;
  testid?: string;
  name?: string;
  onClick?: (e: MouseEvent<HTMLButtonElement>) => void;
}

/** On or off. Stands in a label with its words, or has a name of its own. */
export function Checkbox({ checked, onChange, label, className = "", disabled, testid, name, onClick }: Props) {
  return (
    <Radix.Root
      checked={checked}
      onCheckedChange={(on) => onChange(on === true)}
      aria-label={label}
      disabled={disabled}
      data-testid={testid}
      data-name={name}
      onClick={onClick}
      className={classes(
        "inline-grid size-[14px] shrink-0 place-items-center rounded-[2px] border border-soft bg-raised align-[-2px]",
        "data-[state=checked]:border-ink data-[state=checked]:bg-ink",
        className,
      )}
    >
      <Radix.Indicator>
        <Check size={11} strokeWidth={3} aria-hidden="true" className="text-panel" />
      </Radix.Indicator>
    </Radix.Root>
  );
}
