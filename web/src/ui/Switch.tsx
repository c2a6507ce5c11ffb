import { Switch as Radix } from "radix-ui";
import { classes } from "./classes";

interface Props {
  checked: boolean;
  onChange: (on: boolean) => void;
  label: string;
  disabled?: boolean;
  testid?: string;
}

/** Something that is on or off and acts at once. */
export function Switch({ checked, onChange, label, disabled, testid }: Props) {
  return (
    <Radix.Root
      checked={checked}
      onCheckedChange={onChange}
      aria-label={label}
      disabled={disabled}
      data-testid={testid}
      className={classes(
        "relative h-[15px] w-[26px] shrink-0 rounded-[3px] border border-soft bg-raised",
        "data-[state=checked]:border-ink data-[state=checked]:bg-ink",
      )}
    >
      <Radix.Thumb
        className={classes(
          "block size-[9px] translate-x-[2px] rounded-[2px] bg-soft",
          "data-[state=checked]:translate-x-[13px] data-[state=checked]:bg-panel",
        )}
      />
    </Radix.Root>
  );
}
