import { thumbnailUrl } from "../../ui/ReadingChip";
import { useBench } from "../BenchContext";
import { WhereUsed } from "../WhereUsed";
import { sourceAddress, usersOf } from "./address";
import { freeSource, chainOfSlot } from "./connect";
import { carry } from "./drag";
import { FileChoice } from "./FileDrop";
import { slotWords } from "./words";

/**
 * The look's files by role. Exchanging one changes every lane that uses it; arrow keys step through the candidates
 * under a live proof. Each can be dragged onto a lane.
 */
export function SlotsStrip() {
  const { look, studio, edit, select } = useBench();
  return (
    <ul
      aria-label="Slots"
      tabIndex={0}
      className="flex max-h-[92px] flex-wrap gap-1.5 overflow-auto border-b border-rule px-3 py-1.5"
    >
      {Object.entries(look.slots ?? {}).map(([name, slot]) => {
        const index = slot.candidates.findIndex((c) => c.content === slot.file.content);
        const words = slotWords(look, studio, name);
        const used = usersOf(look, "slot", name).length;
        const turn = (by: number) => {
          const next = slot.candidates[(index + by + slot.candidates.length) % slot.candidates.length];
          if (next && next.content !== slot.file.content)
            void edit({ edit: "slot", slot: name, content: { ...slot, file: next } });
        };
        const asSource = () => {
          const source = freeSource(look, studio.roles.find((r) => r.id === slot.role)?.words ?? name);
          void edit({
            edit: "lane",
            lane: sourceAddress(source),
            content: { chain: chainOfSlot(look, studio, name, sourceAddress(source)) },
          });
          select({ lane: sourceAddress(source), step: -1 });
        };
        return (
          <li key={name} className="flex shrink-0 border border-rule bg-raised">
            <button
              className="flex items-center gap-1.5 pr-2 text-left"
              title={`${slot.candidates.map((c) => c.name).join("\n")}\narrow keys: the next candidate`}
              data-slot={name}
              draggable
              onDragStart={(e) => carry(e, "slot", name)}
              onKeyDown={(e) => {
                if (e.key === "ArrowRight") turn(1);
                if (e.key === "ArrowLeft") turn(-1);
              }}
              onClick={() => turn(1)}
            >
              <img src={thumbnailUrl(slot.file.content, plain, 64)} alt="" className="size-8 bg-well object-cover" />
              <span className="text-small leading-4 whitespace-nowrap">
                <span className="block">{words}</span>
                <span className="block font-mono text-soft">
                  {slot.file.width} · {used} lane{used === 1 ? "" : "s"}
                  {slot.candidates.length > 1 && ` · ${index + 1}/${slot.candidates.length}`}
                </span>
              </span>
            </button>
            <button
              className="border-l border-rule px-1 text-small text-soft hover:bg-glaze-pale"
              title={`make ${words} a source that can feed any number of lanes`}
              onClick={asSource}
            >
              <span aria-hidden="true">↪</span>
              <span className="sr-only">make {words} a source</span>
            </button>
            <WhereUsed words={words} slot={slot} />
          </li>
        );
      })}
      <li className="self-center">
        <FileChoice lane={null} words="Bring pictures…" />
      </li>
    </ul>
  );
}

const plain = {
  kind: "colour",
  space: "srgb_texture",
  channel: "rgb",
  normalY: null,
  midpoint: 0,
  authority: "role",
  reason: "",
} as const;
