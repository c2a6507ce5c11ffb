import { Dialog } from "radix-ui";
import { useEffect, useState } from "react";
import { benchKeys } from "./useBenchKeys";

/** The keys of the bench, behind ?. */
export function KeysDialog() {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const typing = e.target instanceof HTMLInputElement || e.target instanceof HTMLTextAreaElement;
      if (e.key !== "?" || typing) return;
      e.preventDefault();
      e.stopImmediatePropagation();
      setOpen(true);
    };
    // Before the frame's own listener, which shows the keys of places without keys of their own.
    window.addEventListener("keydown", onKey, true);
    return () => window.removeEventListener("keydown", onKey, true);
  }, []);
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger className="act text-small" aria-label="Keys of the bench">
        ?
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-black/25" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-24 left-1/2 z-40 w-[560px] -translate-x-1/2 border border-rule bg-panel p-4"
        >
          <Dialog.Title className="mb-2 text-large font-medium">Keys of the bench</Dialog.Title>
          <table className="w-full text-left">
            <tbody>
              {benchKeys.map(([key, what]) => (
                <tr key={key} className="border-t border-rule">
                  <th className="py-0.5 pr-4 font-mono font-normal whitespace-nowrap">{key}</th>
                  <td>{what}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <Dialog.Close className="act mt-3">Close</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
