import { ChevronRight } from "lucide-react";
import { Collapsible } from "radix-ui";
import type { ReactNode } from "react";

interface Props {
  /** The line that is always seen. */
  head: ReactNode;
  open?: boolean;
  className?: string;
  testid?: string;
  children: ReactNode;
}

/** Details behind a line that opens. What is closed is not made. */
export function Fold({ head, open, className = "", testid, children }: Props) {
  return (
    <Collapsible.Root defaultOpen={open} className={className}>
      <Collapsible.Trigger data-testid={testid} className="group flex items-center gap-1 text-left">
        <ChevronRight size={12} aria-hidden="true" className="shrink-0 group-data-[state=open]:rotate-90" />
        {head}
      </Collapsible.Trigger>
      <Collapsible.Content className="mt-1">{children}</Collapsible.Content>
    </Collapsible.Root>
  );
}
