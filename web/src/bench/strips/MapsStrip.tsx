import { Ellipsis } from "lucide-react";
import { memo, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { Menu, MenuItem, MenuRule } from "../../ui/Menu";
import { Modal } from "../../ui/Modal";
import { ReadoutPicture } from "../../ui/ReadoutPicture";
import { thumbnailUrl } from "../../ui/ReadingChip";
import { Tip } from "../../ui/Tip";
import { laneAt, sourceAddress, usersOf } from "../document/address";
import { chainOfSlot, freeSource } from "../document/connect";
import { slotWords } from "../document/words";
import { carry } from "../lanes/drag";
import { FileChoice } from "../lanes/FileDrop";
import { useBench, useBenchStore, useBenchValue } from "../state/benchState";
import { WhereUsed } from "./WhereUsed";

/** The look's maps by role in one row that scrolls sideways. Each can be dragged onto a lane. */
export function MapsStrip() {
  const names = useBenchValue(useShallow((s) => Object.keys(s.look.slots ?? {})));
  return (
    <ul
      aria-label="maps"
      data-testid="maps"
      tabIndex={0}
      className="flex items-stretch gap-1.5 overflow-x-auto border-b border-rule px-3 py-1"
    >
      {names.map((name) => (
        <MapCard key={name} name={name} />
      ))}
      <li className="shrink-0 self-center">
        <FileChoice lane={null} words="Add maps…" />
      </li>
    </ul>
  );
}

const uses = (n: number) => (n === 0 ? "unused" : `used by ${n} lane${n === 1 ? "" : "s"}`);

/** Role, size, bits and who uses it in words; everything that can be done with it in a menu. */
const MapCard = memo(function MapCard({ name }: { name: string }) {
  const { studio, edit, select } = useBench("studio", "edit", "select");
  const store = useBenchStore();
  const [shown, setShown] = useState<"used" | "picture" | null>(null);
  const slot = useBenchValue((s) => s.look.slots?.[name]);
  const lanes = useBenchValue(useShallow((s) => usersOf(s.look, "slot", name)));
  // As its first lane reads it: a packed file shows the channel that is meant.
  const origin = useBenchValue((s) => (lanes[0] ? laneAt(s.look, lanes[0])?.chain?.origin : undefined));
  if (!slot) return null;
  const { file, candidates } = slot;
  const index = candidates.findIndex((c) => c.content === file.content);
  const words = slotWords(store.getState().look, studio, name);
  const exchange = (next: (typeof candidates)[number] | undefined) => {
    if (next && next.content !== file.content)
      void edit({ edit: "slot", slot: name, content: { ...slot, file: next } });
  };
  const turn = (by: number) => exchange(candidates[(index + by + candidates.length) % candidates.length]);
  const asSource = () => {
    const { look } = store.getState();
    const source = freeSource(look, studio.roles.find((r) => r.id === slot.role)?.words ?? name);
    const content = { chain: chainOfSlot(look, studio, name, sourceAddress(source)) };
    void edit({ edit: "lane", lane: sourceAddress(source), content });
    select({ lane: sourceAddress(source), step: -1 });
  };
  const first = lanes[0];
  const reading = origin?.kind === "slot" ? origin.reading : plain;
  return (
    <li className="flex shrink-0 border border-rule bg-raised" data-map={name}>
      <Tip
        words={`${file.name}${candidates.length > 1 ? `\n${candidates.length} files to choose from: left and right arrow keys` : ""}`}
      >
        <button
          className="flex items-center gap-1.5 pr-1 text-left"
          data-slot={name}
          draggable
          onDragStart={(e) => carry(e, "slot", name)}
          onKeyDown={(e) => {
            if (e.key !== "ArrowRight" && e.key !== "ArrowLeft") return;
            e.preventDefault();
            turn(e.key === "ArrowRight" ? 1 : -1);
          }}
          onClick={() => first && select({ lane: first, step: -1 })}
        >
          <img src={thumbnailUrl(file.content, reading, 64)} alt="" className="size-9 bg-well object-cover" />
          <span className="text-small leading-[15px] whitespace-nowrap">
            <span className="block font-medium">
              {words}
              {candidates.length > 1 && (
                <span className="font-normal text-soft">
                  {" "}
                  {index + 1} of {candidates.length}
                </span>
              )}
            </span>
            <span className="block text-soft">
              {file.width} px · {file.bits} bit · {uses(lanes.length)}
            </span>
          </span>
        </button>
      </Tip>
      <Menu
        trigger={
          <button
            className="px-1 text-soft hover:bg-glaze-pale"
            aria-label={`${words}: actions`}
            data-testid="map-menu"
          >
            <Ellipsis size={13} aria-hidden="true" />
          </button>
        }
      >
        {candidates
          .filter((c) => c.content !== file.content)
          .map((c) => (
            <MenuItem key={c.content} testid="menu-candidate" onSelect={() => exchange(c)}>
              Replace by {c.name}{" "}
              <span className="text-small text-soft">
                {c.width} px, {c.bits} bit
              </span>
            </MenuItem>
          ))}
        {candidates.length > 1 && <MenuRule />}
        <MenuItem testid="menu-share" onSelect={asSource}>
          Share as a source <span className="text-small text-soft">one chain that feeds any number of lanes</span>
        </MenuItem>
        <MenuItem testid="menu-used" onSelect={() => setShown("used")}>
          Where used, and replace it there…
        </MenuItem>
        <MenuItem disabled={!first} testid="menu-read" onSelect={() => first && select({ lane: first, step: -1 })}>
          Read otherwise… {!first && <span className="text-small text-soft">no lane uses it</span>}
        </MenuItem>
        <MenuItem testid="menu-picture" onSelect={() => setShown("picture")}>
          Show at 1:1…
        </MenuItem>
      </Menu>
      {shown === "used" && <WhereUsed slot={slot} onClose={() => setShown(null)} />}
      {shown === "picture" && (
        <Modal title={file.name} open onOpenChange={() => setShown(null)} width={860} testid="map-picture">
          <figure>
            <img
              src={thumbnailUrl(file.content, plain, 512, false, { crop: 512 })}
              alt={`the middle of ${file.name}, pixel for pixel`}
              className="mx-auto max-w-full bg-well"
            />
            <figcaption className="mt-1 text-small text-soft">
              The middle of {file.width} × {file.height} pixels, pixel for pixel. Below, the whole.
            </figcaption>
          </figure>
          <ReadoutPicture file={file} reading={plain} title={file.name} />
        </Modal>
      )}
    </li>
  );
});

const plain = {
  kind: "colour",
  space: "srgb_texture",
  channel: "rgb",
  normalY: null,
  midpoint: 0,
  authority: "role",
  reason: "",
} as const;
