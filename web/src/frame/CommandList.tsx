import { Command } from "cmdk";
import { Dialog } from "radix-ui";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { useFoundLooks } from "../api/queries";
import { useOfferedCommands } from "./commands";

const keys = [
  ["Ctrl+K", "this list"],
  ["Ctrl+Z / Ctrl+Shift+Z", "undo and redo on the bench"],
  ["? ", "the keys"],
  ["hold B on the bench", "blink to the other dialect's proof"],
  ["Enter on a map of the sorting table", "pick it up; arrow keys choose the cell, Enter puts it down, Esc leaves it"],
];

/** Go anywhere by typing; also shows the keys. */
export function CommandList() {
  const [open, setOpen] = useState(false);
  const navigate = useNavigate();
  const [words, setWords] = useState("");
  const looks = useFoundLooks({ words }, open);
  const offered = useOfferedCommands();
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const typing = e.target instanceof HTMLInputElement || e.target instanceof HTMLTextAreaElement;
      if ((e.key === "k" && e.ctrlKey) || (e.key === "?" && !typing)) {
        e.preventDefault();
        setOpen(true);
      }
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
  const go = (to: string) => {
    setOpen(false);
    void navigate(to);
  };
  const item = "rounded-tile px-2 py-1 data-[selected=true]:bg-glaze-pale";
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger className="act text-small">Go to… Ctrl+K</Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 bg-black/25" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-24 left-1/2 w-[520px] -translate-x-1/2 border border-rule bg-panel p-2 shadow-lg"
        >
          <Dialog.Title className="sr-only">Go to</Dialog.Title>
          <Command>
            <Command.Input
              className="entry mb-2 w-full"
              placeholder="What to do here, a place or a look"
              value={words}
              onValueChange={setWords}
            />
            <Command.List className="max-h-72 overflow-auto">
              <Command.Empty className="p-2 text-soft">Nothing of that name.</Command.Empty>
              {offered.map((c) => (
                <Command.Item
                  key={c.words}
                  className={item}
                  onSelect={() => {
                    setOpen(false);
                    c.run();
                  }}
                >
                  {c.words}
                </Command.Item>
              ))}
              {[
                ["/intake", "Intake"],
                ["/looks", "Looks"],
                ["/collections", "Collections"],
                ["/studio", "Studio"],
                ["/studio/colour", "Studio: colour"],
                ["/studio/chains", "Studio: kept chains"],
                ["/studio/dialects", "Studio: dialects"],
              ].map(([to, word]) => (
                <Command.Item key={to} className={item} onSelect={() => go(to)}>
                  {word}
                </Command.Item>
              ))}
              {looks.data?.pages.flat().map((l) => (
                <Command.Item
                  key={l.id}
                  value={`${l.name} ${l.id}`}
                  className={item}
                  onSelect={() => go(`/looks/${l.id}`)}
                >
                  {l.name}
                </Command.Item>
              ))}
            </Command.List>
          </Command>
          <dl className="mt-2 grid grid-cols-[auto_1fr] gap-x-4 border-t border-rule pt-2 text-small">
            {keys.map(([key, what]) => (
              <div key={key} className="contents">
                <dt className="font-mono">{key}</dt>
                <dd className="text-soft">{what}</dd>
              </div>
            ))}
          </dl>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
