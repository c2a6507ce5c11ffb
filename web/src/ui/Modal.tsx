import { Dialog } from "radix-ui";
import type { ReactElement, ReactNode } from "react";
import { classes } from "./classes";

interface Props {
  title: string;
  /** What opens it; without one it is open until it is closed. */
  trigger?: ReactElement;
  open?: boolean;
  onOpenChange?: (open: boolean) => void;
  /** Its width in pixels. */
  width?: number;
  testid?: string;
  children: ReactNode;
}

/** Over everything: only for what must be answered before work goes on. */
export function Modal({ title, trigger, open, onOpenChange, width = 720, testid, children }: Props) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      {trigger && <Dialog.Trigger asChild>{trigger}</Dialog.Trigger>}
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-black/25" />
        <Dialog.Content
          aria-describedby={undefined}
          data-testid={testid}
          className={classes(
            "fixed top-12 left-1/2 z-40 flex max-h-[86vh] max-w-[94vw] -translate-x-1/2 flex-col overflow-auto",
            "border border-rule bg-panel p-4 shadow-lg",
          )}
          style={{ width }}
        >
          <Dialog.Title className="mb-2 text-large font-medium break-words">{title}</Dialog.Title>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

export const ModalClose = Dialog.Close;

interface ActionsProps {
  /** What is done, as a verb and its object. */
  words: string;
  disabled?: boolean;
  testid?: string;
  /** Left out where a form around it is submitted. */
  onDo?: () => void;
}

/** The last row of a dialog: do it, or leave everything as it is. */
export function ModalActions({ words, disabled, testid, onDo }: ActionsProps) {
  return (
    <p className="mt-3 flex gap-2">
      <button
        type={onDo ? "button" : "submit"}
        className="act"
        data-main="true"
        data-testid={testid}
        disabled={disabled}
        onClick={onDo}
      >
        {words}
      </button>
      <ModalClose className="act">Cancel</ModalClose>
    </p>
  );
}
