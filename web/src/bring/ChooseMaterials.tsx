import { Modal, ModalActions } from "../ui/Modal";
import { useState } from "react";
import type { ChoiceOfMaterials } from "./useNetworkFile";
import { Checkbox } from "../ui/Checkbox";

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
    <Modal
      title={`${file.name} has ${materials.length} materials`}
      open
      onOpenChange={(open) => !open && onLeave()}
      width={560}
    >
      <div className="overflow-auto">
        <label className="flex items-center gap-2 border-b border-rule py-1 text-soft">
          <Checkbox
            checked={taken.size === materials.length}
            onChange={(on) => setTaken(new Set(on ? materials.keys() : []))}
          />
          all of them
        </label>
        <ul aria-label="materials">
          {materials.map((m, n) => (
            <li key={n}>
              <label className="flex items-center gap-2 border-b border-rule py-1">
                <Checkbox label={m.name} checked={taken.has(n)} onChange={() => toggle(n)} />
                <span className="grow break-all">{m.name}</span>
                <span className="text-small text-soft">
                  {m.dialect}, <span className="font-mono">{m.maps}</span> map{m.maps === 1 ? "" : "s"}
                </span>
              </label>
            </li>
          ))}
        </ul>
      </div>
      <ModalActions
        testid="make-looks"
        disabled={taken.size === 0}
        words={taken.size === 1 ? "Make one look" : `Make ${taken.size} looks`}
        onDo={() => onTake([...taken].sort((a, b) => a - b))}
      />
    </Modal>
  );
}
