import { Tabs as Radix } from "radix-ui";
import type { ReactNode } from "react";

interface Props {
  label: string;
  value: string;
  onChange: (value: string) => void;
  tabs: readonly { value: string; words: ReactNode; content: ReactNode }[];
  className?: string;
}

/** Several contents in one place. What is not shown is not made. */
export function Tabs({ label, value, onChange, tabs, className = "" }: Props) {
  return (
    <Radix.Root
      value={value}
      onValueChange={onChange}
      className={`grid min-h-0 grid-rows-[auto_minmax(0,1fr)] ${className}`}
    >
      <Radix.List aria-label={label} className="flex gap-4 border-b border-rule px-3">
        {tabs.map((t) => (
          <Radix.Trigger
            key={t.value}
            value={t.value}
            data-testid={`tab-${t.value}`}
            className="-mb-px border-b-2 border-transparent py-1 text-soft data-[state=active]:border-glaze data-[state=active]:text-ink"
          >
            {t.words}
          </Radix.Trigger>
        ))}
      </Radix.List>
      {tabs.map((t) => (
        <Radix.Content key={t.value} value={t.value} className="min-h-0 overflow-auto">
          {t.content}
        </Radix.Content>
      ))}
    </Radix.Root>
  );
}
