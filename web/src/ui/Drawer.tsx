import { Dialog } from "radix-ui";
import type { ReactElement, ReactNode } from "react";

interface Props {
  title: string;
  trigger?: ReactElement;
  open?: boolean;
  onOpenChange?: (open: boolean) => void;
  testid?: string;
  children: ReactNode;
}

/** Slides in from the right and leaves the rest in use. */
export function Drawer({ title, trigger, open, onOpenChange, testid, children }: Props) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange} modal={false}>
      {trigger && <Dialog.Trigger asChild>{trigger}</Dialog.Trigger>}
      <Dialog.Portal>
        <Dialog.Content
          aria-describedby={undefined}
          data-testid={testid}
          onInteractOutside={(e) => e.preventDefault()}
          className="fixed top-[34px] right-0 bottom-0 z-20 w-[400px] overflow-auto border-l border-rule bg-panel p-4"
        >
          <Dialog.Title className="text-large font-medium break-words">{title}</Dialog.Title>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

export const DrawerClose = Dialog.Close;
