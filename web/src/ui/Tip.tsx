import { Tooltip } from "radix-ui";
import { useRef, useState, type ReactElement, type ReactNode } from "react";

interface Props {
  /** What it says; nothing is shown without words. */
  words: ReactNode;
  children: ReactElement;
}

/** A line that explains the control under the pointer or the focus. What has no other name needs a label besides. */
export function Tip({ words, children }: Props) {
  const trigger = useRef<HTMLButtonElement>(null);
  // A tip belongs to the part of the page that its control is in; a dialog has its own.
  const [place, setPlace] = useState<HTMLElement | null>(null);
  if (!words) return children;
  return (
    <Tooltip.Root
      onOpenChange={(open) => {
        const inDialog = trigger.current?.closest("[role=dialog]");
        if (open)
          setPlace(inDialog ? null : (trigger.current?.closest<HTMLElement>("main, header, nav, aside") ?? null));
      }}
    >
      <Tooltip.Trigger
        asChild
        ref={trigger}
        // Focus that nobody sees, as after a click elsewhere, explains nothing.
        onFocus={(e) => {
          if (!e.currentTarget.matches(":focus-visible")) e.preventDefault();
        }}
      >
        {children}
      </Tooltip.Trigger>
      <Tooltip.Portal container={place}>
        <Tooltip.Content
          sideOffset={4}
          collisionPadding={6}
          className="z-50 max-w-80 rounded-tile bg-ink px-2 py-1 text-small whitespace-pre-line text-panel"
        >
          {words}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}

/** Around the whole application: how long a pointer rests before a tip opens. */
export function TipProvider({ children }: { children: ReactNode }) {
  return (
    <Tooltip.Provider delayDuration={500} skipDelayDuration={200} disableHoverableContent>
      {children}
    </Tooltip.Provider>
  );
}
