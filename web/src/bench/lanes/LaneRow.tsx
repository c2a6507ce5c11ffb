import { memo, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import type { Lane } from "../../api/types";
import { addressWords, inputOf, inputWords, isTangent, sideLane, sidesOf, sourceAddress } from "../document/address";
import { chainOfSlot, chainOfSource, connect } from "../document/connect";
import { loose } from "../document/steps";
import { valueWords } from "../document/words";
import { useBench, useBenchStore, useBenchValue } from "../state/benchState";
import { DialectLines } from "./dialect/DialectLines";
import { DisplacementEnd } from "./DisplacementEnd";
import { dropped, hasFiles, takesDrop } from "./drag";
import { MeterBar } from "./MeterBar";
import { OriginTile } from "./OriginTile";
import { StepTiles } from "./StepTiles";

interface Props {
  address: string;
  lane: Lane | undefined;
  /** What stands at the left instead of the input's name. */
  title?: string;
  /** Under the title, instead of the value. */
  note?: React.ReactNode;
  /** At the end: what layers make of it. */
  end?: React.ReactNode;
}

/**
 * One lane: name and value, where it begins, its steps, and at once after them the range of the result. What is dropped on it is
 * connected to it. Drawn again only when something of its own changes.
 */
export const LaneRow = memo(function LaneRow({ address, lane, title, note, end }: Props) {
  const { studio, select, compactRows } = useBench("studio", "select", "compactRows");
  const size = compactRows ? "low" : "full";
  const input = studio.inputs.find((i) => i.name === inputOf(address));
  const chain = lane?.chain ?? null;
  const isChosen = useBenchValue((s) => s.selection?.lane === address && s.selection.step === -1 && !chain);
  return (
    <LaneDrop address={address} className={`border-b border-rule ${compactRows ? "py-0.5" : "py-[3px]"}`}>
      <div className="flex items-start">
        <button
          className={`mr-2 w-[126px] shrink-0 px-1 text-left ${isChosen ? "outline-2 outline-glaze" : ""}`}
          data-testid="lane-head"
          onClick={() => select({ lane: address, step: -1 })}
        >
          <span className="block leading-tight font-medium">
            {title ?? inputWords(inputOf(address) ?? addressWords(address))}
          </span>
          <span className={`block text-small text-soft ${note || chain ? "" : "font-mono"}`}>
            {note ?? (chain ? "connected" : valueWords(lane?.value ?? null, input))}
          </span>
        </button>
        <div className="flex min-w-0 flex-wrap items-start gap-y-1">
          {chain && <OriginTile address={address} origin={chain.origin} size={size} />}
          {chain && <StepTiles address={address} chain={chain} size={size} />}
          {chain && <LaneMeter address={address} />}
          {address === "displacement" && <DisplacementEnd />}
          {end}
        </div>
      </div>
      <SideRows address={address} lane={lane} />
      {input && !address.includes(":") && <DialectLines input={input.name} />}
    </LaneDrop>
  );
});

/** The range of a lane's result; it comes after the lane itself. */
function LaneMeter({ address }: { address: string }) {
  const { studio } = useBench("studio");
  const meter = useBenchValue(useShallow((s) => s.tried?.meters[address] ?? s.board?.meters[address]));
  const input = studio.inputs.find((i) => i.name === inputOf(address));
  if (!meter) return null;
  return (
    <div className="ml-1 w-[124px] shrink-0 self-center">
      <MeterBar
        meter={meter}
        name={addressWords(address)}
        direction={input?.type === "direction" && !isTangent(input.name)}
        low={isTangent(input?.name) ? 0 : (input?.low ?? 0)}
        high={input?.high ?? 1}
      />
    </div>
  );
}

/** Takes maps, sources and files that are dropped on a lane. */
function LaneDrop({ address, className, children }: { address: string; className: string; children: React.ReactNode }) {
  const store = useBenchStore();
  const [over, setOver] = useState(false);
  return (
    <div
      className={`${className} ${over ? "bg-glaze-pale" : ""}`}
      data-lane={address}
      onDragOver={(e) => {
        if (!takesDrop(e, ["slot", "source"]) && !hasFiles(e)) return;
        e.preventDefault();
        // The board would sort what the lane takes.
        e.stopPropagation();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        setOver(false);
        const { look, studio, edit, bring } = store.getState();
        if (hasFiles(e)) {
          e.preventDefault();
          e.stopPropagation();
          void bring([...e.dataTransfer.files], address);
          return;
        }
        const [kind, name] = dropped(e);
        if (kind === "slot") void edit(connect(look, address, chainOfSlot(look, studio, name, address)));
        if (kind === "source" && address !== sourceAddress(name))
          void edit(connect(look, address, chainOfSource(look, studio, name, address)));
      }}
    >
      {children}
    </div>
  );
}

/** Width of the window from which side rows are open, in CSS pixels. */
const roomForSides = 1800;

/** Indented rows for the other inputs of the lane's steps; folded while none of them is selected. */
function SideRows({ address, lane }: { address: string; lane: Lane | undefined }) {
  // Only of this lane, so that a selection elsewhere draws nothing here.
  const within = useBenchValue((s) => (s.selection?.lane.startsWith(address + "/") ? s.selection.lane : null));
  const open = sideRowsOf(lane, address).filter(
    (side) => side.lane.chain || within === side.address || within?.startsWith(side.address + "/"),
  );
  if (open.length === 0) return null;
  return (
    <div className="mt-1 ml-[134px] border-l-3 border-rule pl-2">
      {open.map((side) => (
        <SideRow key={side.address} address={side.address} words={side.words} lane={side.lane} />
      ))}
    </div>
  );
}

function SideRow({ address, words, lane }: { address: string; words: string; lane: Lane }) {
  const { select } = useBench("select");
  const within = useBenchValue((s) => s.selection?.lane === address || !!s.selection?.lane.startsWith(address + "/"));
  // Where there is room, side rows are open.
  const [folded, setFolded] = useState(() => window.innerWidth < roomForSides);
  const chain = lane.chain;
  return (
    <div className="py-0.5" data-side={address}>
      <div className="flex items-start">
        <button
          className="mr-2 w-[92px] shrink-0 text-left text-small text-soft"
          onClick={() => {
            setFolded(!folded);
            select({ lane: address, step: -1 });
          }}
          aria-expanded={within || !folded}
        >
          {words}
        </button>
        {chain && <OriginTile address={address} origin={chain.origin} size="small" />}
        {chain && (within || !folded) && <StepTiles address={address} chain={chain} size="small" />}
        {chain && !within && folded && chain.steps.length > 0 && (
          <span className="self-center pl-2 text-small text-soft">
            + {chain.steps.length} step{chain.steps.length === 1 ? "" : "s"}
          </span>
        )}
      </div>
      {(within || !folded) && <SideRows address={address} lane={lane} />}
    </div>
  );
}

const sideRowsOf = (lane: Lane | undefined, address: string) =>
  (lane?.chain?.steps ?? []).flatMap((raw) => {
    const step = loose(raw);
    return sidesOf(step).map((side) => ({
      address: `${address}/${step.id}/${side.name}`,
      words: side.label,
      lane: sideLane(step, side),
    }));
  });
