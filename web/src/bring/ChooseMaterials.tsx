import { Dialog } from "radix-ui";
import { useState } from "react";
import type { ChoiceOfMaterials } from "./useNetworkFile";

interface Props {
  choice: ChoiceOfMaterials;
  onTake: (numbers: number[]) => void;
  onLeave: () => void;
}

/** The materials of a file, each of which becomes a look; all are chosen to begin with. */
export function ChooseMaterials({ choice, onTake, onLeave }: Props) {
  const { file, materials } = choice;
  const [taken, setTaken] = useState<ReadonlySet<number>>(new Set(materials.keys()));
  const toggle = (n: number) => {
    const next = new Set(taken);
    if (!next.delete(n)) next.add(n);
    setTaken(next);
  };
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onLeave()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-black/25" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-20 left-1/2 z-40 grid max-h-[76vh] w-[560px] -translate-x-1/2 grid-rows-[auto_minmax(0,1fr)_auto] border border-rule bg-panel p-4"
        >
          <Dialog.Title className="mb-2 text-large font-medium">
            {file.name} has {materials.length} materials
          </Dialog.Title>
          <div className="overflow-auto">
            <label className="flex items-center gap-2 border-b border-rule py-1 text-soft">
              <input
                type="checkbox"
                checked={taken.size === materials.length}
                onChange={(e) => setTaken(new Set(e.target.checked ? materials.keys() : []))}
              />
              all of them
            </label>
            <ul aria-label="materials">
              {materials.map((m, n) => (
                <li key={n}>
                  <label className="flex items-center gap-2 border-b border-rule py-1">
                    <input type="checkbox" checked={taken.has(n)} onChange={() => toggle(n)} aria-label={m.name} />
                    <span className="grow break-all">{m.name}</span>
                    <span className="text-small text-soft">
                      {m.dialect}, <span className="font-mono">{m.maps}</span> map{m.maps === 1 ? "" : "s"}
                    </span>
                  </label>
                </li>
              ))}
            </ul>
          </div>
          <p className="mt-3 flex gap-2">
            <button
              className="act"
              data-main="true"
              disabled={taken.size === 0}
              onClick={() => onTake([...taken].sort((a, b) => a - b))}
            >
              {taken.size === 1 ? "Make a look of it" : `Make ${taken.size} looks`}
            </button>
            <Dialog.Close className="act">Leave it</Dialog.Close>
          </p>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
