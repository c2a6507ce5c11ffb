import { Command } from "cmdk";
import { Popover } from "radix-ui";
import { memo, useRef, useState } from "react";
import { useKeptChains } from "../../api/queries";
import { allSteps } from "../../api/steps";
import type { LookEdit } from "../../api/types";
import { match } from "../../ui/Combobox";
import { addressWords, laneAt } from "../document/address";
import { freshId, noiseStep, refreshed } from "../document/steps";
import { useBenchStore } from "../state/benchState";
import { dropped, takesDrop } from "./drag";
import { gapHeight, type TileSize } from "./tileSize";
import { classes } from "../../ui/classes";

interface Choice {
  word: string;
  also: string;
  make: () => object[];
}

interface Props {
  address: string;
  at: number;
  size: TileSize;
}

/** The place between two tiles: takes a new step by typing its name, and a step that is dropped there. */
export const Gap = memo(function Gap({ address, at, size }: Props) {
  const store = useBenchStore();
  const [open, setOpen] = useState(false);
  const [over, setOver] = useState(false);
  const isPut = useRef(false);
  const put = (choice: Choice) => {
    isPut.current = true;
    setOpen(false);
    const { look, edit, select } = store.getState();
    const chain = laneAt(look, address)?.chain;
    if (!chain) return;
    const steps = refreshed(choice.make(), chain);
    const edits: LookEdit[] = steps.map((step, i) => ({ edit: "stepInsert", lane: address, at: at + i, step }));
    void edit(
      edits.length === 1
        ? edits[0]
        : { edit: "batch", name: `${choice.word} added to ${addressWords(address)}`, edits },
    );
    select({ lane: address, step: at });
  };
  const drop = (e: React.DragEvent) => {
    setOver(false);
    const [kind, value] = dropped(e);
    if (kind !== "step") return;
    const { look, edit } = store.getState();
    const from = JSON.parse(value) as { address: string; id: string };
    const chain = laneAt(look, address)?.chain;
    const steps = laneAt(look, from.address)?.chain?.steps ?? [];
    const index = steps.findIndex((s) => s.id === from.id);
    if (index < 0 || !chain) return;
    const copies = e.ctrlKey;
    if (!copies && from.address === address)
      void edit({ edit: "stepMove", lane: address, stepId: from.id, to: at > index ? at - 1 : at });
    else {
      const insert = { edit: "stepInsert", lane: address, at, step: { ...steps[index], id: freshId(chain) } };
      const remove = { edit: "stepRemove", lane: from.address, stepId: from.id };
      void edit(copies ? insert : { edit: "batch", name: "step moved to another lane", edits: [insert, remove] });
    }
  };
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        className={classes(
          "w-4 shrink-0 text-soft hover:bg-glaze-pale hover:text-ink data-[state=open]:bg-glaze-pale",
          gapHeight[size],
          over && "bg-glaze-pale",
        )}
        data-testid="gap"
        data-at={at}
        aria-label={`add a step at place ${at + 1}`}
        onDragOver={(e) => {
          if (!takesDrop(e, ["step"])) return;
          e.preventDefault();
          e.dataTransfer.dropEffect = e.ctrlKey ? "copy" : "move";
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={drop}
      >
        +
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={2}
          className="listed w-60"
          aria-label="new step"
          onCloseAutoFocus={(e) => {
            if (!isPut.current) return;
            // The new tile is selected; the keys go on from there.
            isPut.current = false;
            e.preventDefault();
            const row = CSS.escape(address);
            const tile = `[data-lane="${row}"] [data-chosen="true"], [data-side="${row}"] [data-chosen="true"]`;
            document.querySelector<HTMLElement>(tile)?.focus();
          }}
          onKeyDown={(e) => e.stopPropagation()}
        >
          <StepChoice onChoose={put} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
});

/** What a step is called counts for more than what else it is known as. */
const fits = (_: string, typed: string, [word = "", also = ""]: string[] = []) =>
  Math.max(match(word, typed), match(`${word} ${also}`, typed) * 0.4);

/** Every step, and what the studio has saved, found by what it is called and by what else it is known as. */
function StepChoice({ onChoose }: { onChoose: (choice: Choice) => void }) {
  const kept = useKeptChains();
  const choices: Choice[] = [
    ...allSteps().map(({ kind, label, alsoFoundBy, fresh }) => ({
      word: label,
      also: alsoFoundBy,
      make: () => [{ kind, ...fresh }],
    })),
    { word: "noise", also: "fractal cell gradient undulation", make: () => [noiseStep()] },
    ...(kept.data ?? []).map((k) => ({ word: k.name, also: `saved steps ${k.words}`, make: () => k.steps })),
  ];
  return (
    <Command label="steps" filter={fits}>
      <Command.Input
        className="entry mb-1 w-full"
        aria-label="new step"
        data-testid="new-step"
        placeholder="Name a step"
      />
      <Command.List className="max-h-64 overflow-auto" label="steps">
        <Command.Empty className="px-2 py-1 text-soft">No step of that name.</Command.Empty>
        {choices.map((c) => (
          <Command.Item
            key={c.word}
            value={c.word}
            keywords={[c.word, c.also]}
            className="listed-item"
            data-step-choice={c.word}
            onSelect={() => onChoose(c)}
          >
            {c.word}
          </Command.Item>
        ))}
      </Command.List>
    </Command>
  );
}
