import { Dialog } from "radix-ui";
import { useEffect, useState, type ReactElement, type ReactNode } from "react";

interface Props {
  title: string;
  trigger?: ReactElement;
  open?: boolean;
  onOpenChange?: (open: boolean) => void;
  testid?: string;
  children: ReactNode;
}

/** Slides in from the right and leaves the rest in use; a picture that is worked on is never covered. */
export function Drawer({ title, trigger, open, onOpenChange, testid, children }: Props) {
  const place = usePlaceBesidePicture();
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange} modal={false}>
      {trigger && <Dialog.Trigger asChild>{trigger}</Dialog.Trigger>}
      <Dialog.Portal>
        <Dialog.Content
          aria-describedby={undefined}
          data-testid={testid}
          style={place}
          onInteractOutside={(e) => e.preventDefault()}
          className="fixed bottom-0 z-20 w-[400px] overflow-auto border-x border-rule bg-panel p-4"
        >
          <Dialog.Title className="text-large font-medium break-words">{title}</Dialog.Title>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

export const DrawerClose = Dialog.Close;

/** Height of the top line, in pixels. */
const topLine = 34;

/** Where a drawer stands: at the right edge of the window, or of what is left of a picture that stays in view and of the row above it. */
function usePlaceBesidePicture(): { right: number; top: number } {
  const [place, setPlace] = useState({ right: 0, top: topLine });
  useEffect(() => {
    const picture = document.querySelector("[data-stays]");
    if (!picture) return;
    const measure = () => {
      const { left, top } = picture.getBoundingClientRect();
      setPlace({ right: Math.max(0, window.innerWidth - left), top });
    };
    measure();
    const watched = new ResizeObserver(measure);
    watched.observe(picture);
    watched.observe(document.body);
    return () => watched.disconnect();
  }, []);
  return place;
}
