import { Check, ChevronDown } from "lucide-react";
import { Select as Radix } from "radix-ui";
import { emptyValue, type ChoiceProps } from "./options";

const inner = (value: string, known: boolean) => (value === "" && known ? emptyValue : value);
const outer = (value: string) => (value === emptyValue ? "" : value);

/** One of a few. What is chosen by typing is a Combobox. */
export function Select({
  label,
  value,
  options,
  onChange,
  placeholder,
  className = "",
  disabled,
  testid,
}: ChoiceProps) {
  const hasEmpty = options.some((o) => o.value === "");
  return (
    <Radix.Root value={inner(value, hasEmpty)} onValueChange={(v) => onChange(outer(v))} disabled={disabled}>
      <Radix.Trigger
        aria-label={label}
        data-testid={testid}
        className={`entry inline-flex min-w-0 items-center justify-between gap-1 text-left data-placeholder:text-soft ${className}`}
      >
        <span className="truncate">
          <Radix.Value placeholder={placeholder ?? ""} />
        </span>
        <Radix.Icon asChild>
          <ChevronDown size={12} aria-hidden="true" className="shrink-0 text-soft" />
        </Radix.Icon>
      </Radix.Trigger>
      <Radix.Portal>
        <Radix.Content
          position="popper"
          sideOffset={2}
          className="listed max-h-(--radix-select-content-available-height)"
        >
          <Radix.Viewport>
            {options.map((o) => (
              <Radix.Item
                key={o.value}
                value={inner(o.value, hasEmpty)}
                data-value={o.value}
                disabled={o.disabled}
                className="listed-item"
              >
                <Radix.ItemText>{o.words}</Radix.ItemText>
                {o.note && <span className="text-small text-soft">{o.note}</span>}
                <Radix.ItemIndicator className="ml-auto pl-3">
                  <Check size={12} aria-hidden="true" />
                </Radix.ItemIndicator>
              </Radix.Item>
            ))}
          </Radix.Viewport>
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
