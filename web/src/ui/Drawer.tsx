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
  const right = useEdgeOfPicture();
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange} modal={false}>
      {trigger && <Dialog.Trigger asChild>{trigger}</Dialog.Trigger>}
      <Dialog.Portal>
        <Dialog.Content
          aria-describedby={undefined}
          data-testid={testid}
          style={{ right }}
          onInteractOutside={(e) => e.preventDefault()}
          className="fixed top-[34px] bottom-0 z-20 w-[400px] overflow-auto border-x border-rule bg-panel p-4"
        >
          <Dialog.Title className="text-large font-medium break-words">{title}</Dialog.Title>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

export const DrawerClose = Dialog.Close;

/** How far from the right edge of the window the picture begins that stays in view, in pixels; 0 where there is none. */
function useEdgeOfPicture(): number {
  const [edge, setEdge] = useState(0);
  useEffect(() => {
    const picture = document.querySelector("[data-stays]");
    if (!picture) return;
    const measure = () => setEdge(Math.max(0, window.innerWidth - picture.getBoundingClientRect().left));
    measure();
    const watched = new ResizeObserver(measure);
    watched.observe(picture);
    watched.observe(document.body);
    return () => watched.disconnect();
  }, []);
  return edge;
}
