import { Command } from "cmdk";
import { ChevronsUpDown } from "lucide-react";
import { Popover } from "radix-ui";
import { useState } from "react";
import { emptyValue, type ChoiceProps, wordsOf } from "./options";

interface Props extends ChoiceProps {
  /** The control looks as a button that does something, not as a setting with a value. */
  acts?: boolean;
  /** What is typed may be chosen although it is not in the list; this is how that is offered: “New collection”. */
  creates?: string;
}

/** How well words answer what is typed: 0 not at all, more the earlier it stands. Every part typed must occur. */
export function match(words: string, typed: string): number {
  const own = words.toLowerCase();
  let score = 1;
  for (const part of typed.toLowerCase().split(/\s+/).filter(Boolean)) {
    const at = own.indexOf(part);
    if (at < 0) return 0;
    score *= at === 0 || /\W/.test(own[at - 1]) ? 1 : 0.5;
  }
  return score;
}

/** One of many, chosen by typing a part of its words. */
export function Combobox(props: Props) {
  const { label, value, options, onChange, placeholder, className = "", disabled, testid, acts, creates } = props;
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState("");
  const shown = wordsOf(options, value) ?? (creates && value ? value : undefined);
  const isNew = !!creates && typed.trim() !== "" && !options.some((o) => o.words === typed.trim());
  const choose = (chosen: string) => {
    setOpen(false);
    setTyped("");
    onChange(chosen);
  };
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        disabled={disabled}
        data-testid={testid}
        aria-haspopup="listbox"
        // The name holds what is seen, so that it can be spoken to.
        aria-label={acts ? undefined : `${label}: ${shown ?? placeholder ?? ""}`}
        className={
          acts
            ? `act ${className}`
            : `entry inline-flex min-w-0 items-center justify-between gap-1 text-left ${className}`
        }
      >
        <span className={acts ? "" : shown === undefined ? "truncate text-soft" : "truncate"}>
          {shown ?? placeholder ?? label}
        </span>
        {!acts && <ChevronsUpDown size={12} aria-hidden="true" className="shrink-0 text-soft" />}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="start" sideOffset={2} className="listed w-72" aria-label={label}>
          <Command label={label} filter={(_, typed, keywords) => match((keywords ?? []).join(" "), typed)}>
            <Command.Input
              className="entry mb-1 w-full"
              placeholder={creates ? "Type to find or to name a new one" : "Type to find"}
              value={typed}
              onValueChange={setTyped}
            />
            <Command.List className="max-h-72 overflow-auto" label={label}>
              <Command.Empty className="px-2 py-1 text-soft">No matches.</Command.Empty>
              {options.map((o) => (
                <Command.Item
                  key={o.value}
                  value={o.value || emptyValue}
                  keywords={[o.words, o.note ?? ""]}
                  disabled={o.disabled}
                  data-choice={o.value}
                  className="listed-item"
                  onSelect={() => choose(o.value)}
                >
                  <span className="truncate">{o.words}</span>
                  {o.note && <span className="text-small text-soft">{o.note}</span>}
                </Command.Item>
              ))}
              {isNew && (
                <Command.Item
                  forceMount
                  value={`new ${typed}`}
                  data-choice-new
                  className="listed-item"
                  onSelect={() => choose(typed.trim())}
                >
                  {creates} “{typed.trim()}”
                </Command.Item>
              )}
            </Command.List>
          </Command>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
