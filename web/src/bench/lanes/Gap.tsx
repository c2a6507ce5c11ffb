import { useState } from "react";
import { useKeptChains } from "../../api/queries";
import type { LookEdit, Step } from "../../api/types";
import { gapHeight, type TileSize } from "./tileSize";
import { useBench } from "../BenchContext";
import { laneAt } from "./address";
import { dropped, takesDrop } from "./drag";
import { allSteps } from "../../api/steps";
import { freshId, noiseStep, refreshed } from "./steps";

interface Choice {
  word: string;
  also: string;
  make: () => object[];
}

/** The place between two tiles: takes a new step by click or by typing its name, and a step that is dropped there. */
export function Gap({ address, at, size }: { address: string; at: number; size: TileSize }) {
  const { look, edit, select } = useBench();
  const kept = useKeptChains();
  const [typed, setTyped] = useState<string | null>(null);
  const [over, setOver] = useState(false);
  const [coming, setComing] = useState<string | null>(null);
  const chain = laneAt(look, address)!.chain!;
  const choices: Choice[] = [
    ...allSteps().map(({ kind, label, alsoFoundBy, fresh }) => ({
      word: label,
      also: alsoFoundBy,
      make: () => [{ kind, ...fresh }],
    })),
    { word: "noise", also: "fractal cell gradient undulation", make: () => [noiseStep()] },
    ...(kept.data ?? []).map((k) => ({ word: k.name, also: `studio chain ${k.words}`, make: () => k.steps })),
  ];
  const found = choices.filter((c) => {
    const words = (typed ?? "").toLowerCase().split(/\s+/).filter(Boolean);
    return words.every((w) => c.word.toLowerCase().includes(w) || c.also.toLowerCase().includes(w));
  });
  const put = (choice: Choice | undefined) => {
    setTyped(null);
    if (!choice) return;
    const steps = refreshed(choice.make() as Step[], chain);
    const edits: LookEdit[] = steps.map((step, i) => ({ edit: "stepInsert", lane: address, at: at + i, step }));
    setComing(choice.word);
    void edit(
      edits.length === 1 ? edits[0] : { edit: "batch", name: `${choice.word} added to ${address}`, edits },
    ).finally(() => setComing(null));
    select({ lane: address, step: at });
  };
  const drop = (e: React.DragEvent) => {
    setOver(false);
    const [kind, value] = dropped(e);
    if (kind !== "step") return;
    const from = JSON.parse(value) as { address: string; id: string };
    const steps = laneAt(look, from.address)?.chain?.steps ?? [];
    const index = steps.findIndex((s) => s.id === from.id);
    if (index < 0) return;
    const copies = e.ctrlKey;
    if (!copies && from.address === address)
      void edit({ edit: "stepMove", lane: address, stepId: from.id, to: at > index ? at - 1 : at });
    else {
      const insert = { edit: "stepInsert", lane: address, at, step: { ...steps[index], id: freshId(chain) } };
      const remove = { edit: "stepRemove", lane: from.address, stepId: from.id };
      void edit(copies ? insert : { edit: "batch", name: "step moved to another lane", edits: [insert, remove] });
    }
  };
  // It shows at once that something was added, however long the server takes; no second one by impatience.
  if (coming !== null)
    return (
      <span
        role="status"
        className={`${gapHeight[size]} mx-1 shrink-0 border border-dashed border-rule px-1 text-small`}
      >
        adding {coming}…
      </span>
    );
  if (typed === null)
    return (
      <button
        className={`${gapHeight[size]} w-4 shrink-0 text-soft hover:bg-glaze-pale hover:text-ink ${over ? "bg-glaze-pale" : ""}`}
        onClick={() => setTyped("")}
        onDragOver={(e) => {
          if (!takesDrop(e, ["step"])) return;
          e.preventDefault();
          e.dataTransfer.dropEffect = e.ctrlKey ? "copy" : "move";
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={drop}
        aria-label={`add a step at place ${at + 1}`}
      >
        +
      </button>
    );
  return (
    <div className="relative mx-1 w-36">
      <input
        autoFocus
        className="entry w-full"
        aria-label="new step"
        placeholder="name a step"
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={() => setTyped(null)}
        onKeyDown={(e) => {
          if (e.key === "Enter") put(found[0]);
          if (e.key === "Escape") setTyped(null);
          e.stopPropagation();
        }}
      />
      <ul
        className="absolute top-full left-0 z-30 max-h-64 w-48 overflow-auto border border-rule bg-panel"
        aria-label="steps"
      >
        {found.map((c, i) => (
          <li key={c.word}>
            <button
              className={`w-full px-2 py-0.5 text-left hover:bg-glaze-pale ${i === 0 ? "bg-glaze-pale" : ""}`}
              data-step-choice={c.word}
              onMouseDown={(e) => {
                e.preventDefault();
                put(c);
              }}
            >
              {c.word}
            </button>
          </li>
        ))}
        {found.length === 0 && <li className="px-2 text-soft">no step of that name</li>}
      </ul>
    </div>
  );
}
