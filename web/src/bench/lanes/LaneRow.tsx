import { Fragment, useState } from "react";
import type { Lane } from "../../api/types";
import { useBench } from "../BenchContext";
import { addressWords, inputOf, inputWords, isTangent, sourceAddress } from "./address";
import { chainOfSlot, chainOfSource, connect } from "./connect";
import { DialectLines } from "./DialectLines";
import { dropped, hasFiles, takesDrop } from "./drag";
import { MeterBar } from "./MeterBar";
import { OriginTile } from "./OriginTile";
import { StepTiles } from "./StepTiles";
import { valueWords } from "./words";

interface Props {
  address: string;
  lane: Lane | undefined;
  /** What stands at the left instead of the input's name. */
  title?: string;
  /** Under the title, instead of the value. */
  note?: React.ReactNode;
  /** At the right end: what covers make of it. */
  end?: React.ReactNode;
}

/** One lane: name and value, where it begins, its steps, the result with its range. What is dropped on it is wired to it. */
export function LaneRow({ address, lane, title, note, end }: Props) {
  const { look, studio, board, select, selection, edit, bring, lowRows } = useBench();
  const size = lowRows ? "low" : "full";
  const [over, setOver] = useState(false);
  const input = studio.inputs.find((i) => i.name === inputOf(address));
  const chain = lane?.chain ?? null;
  const meter = board?.meters[address];
  const isChosen = selection?.lane === address && selection.step === -1 && !chain;
  return (
    <div
      className={`border-b border-rule ${lowRows ? "py-0.5" : "py-1.5"} ${over ? "bg-glaze-pale" : ""}`}
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
      <div className="flex items-start gap-0">
        <button
          className={`mr-2 w-[132px] shrink-0 px-1 text-left ${isChosen ? "outline-2 outline-glaze" : ""}`}
          onClick={() => select({ lane: address, step: -1 })}
        >
          <span className="block font-medium">{title ?? inputWords(inputOf(address) ?? addressWords(address))}</span>
          <span className="block font-mono text-small text-soft">
            {note ?? (chain ? "mapped" : valueWords(lane?.value ?? null, input))}
          </span>
        </button>
        {chain && (
          <>
            <div className="flex min-w-0 flex-wrap items-start gap-y-1">
              <OriginTile address={address} origin={chain.origin} size={size} />
              <StepTiles address={address} chain={chain} size={size} />
            </div>
            <div className="ml-auto flex shrink-0 items-start">
              {end}
              <div className="w-[124px] pr-2">
                {meter && (
                  <MeterBar
                    meter={meter}
                    name={address}
                    direction={input?.type === "direction" && !isTangent(input.name)}
                    low={isTangent(input?.name) ? 0 : (input?.low ?? 0)}
                    high={input?.high ?? 1}
                  />
                )}
              </div>
            </div>
          </>
        )}
        {!chain && end && <div className="ml-auto pr-[124px]">{end}</div>}
      </div>
      <SideRows address={address} />
      {input && !address.includes(":") && <DialectLines input={input.name} />}
    </div>
  );
}

/** Indented rows for the other inputs of the lane's steps; folded while none of them is selected. */
function SideRows({ address }: { address: string }) {
  const { look, selection } = useBench();
  const open = sideRowsOf(look, address).filter(
    (side) => side.chain || selection?.lane === side.address || selection?.lane.startsWith(side.address + "/"),
  );
  if (open.length === 0) return null;
  return (
    <div className="mt-1 ml-[140px] border-l-3 border-rule pl-2">
      {open.map((side) => (
        <Fragment key={side.address}>
          <SideRow address={side.address} words={side.words} lane={side.lane} />
        </Fragment>
      ))}
    </div>
  );
}

function SideRow({ address, words, lane }: { address: string; words: string; lane: Lane }) {
  const { selection, select } = useBench();
  const [folded, setFolded] = useState(true);
  const within = selection?.lane === address || selection?.lane.startsWith(address + "/");
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
      {(within || !folded) && <SideRows address={address} />}
    </div>
  );
}

import { laneAt, sideLane, sidesOf } from "./address";
import type { Look } from "../../api/types";
import { loose } from "./steps";

function sideRowsOf(look: Look, address: string) {
  return (laneAt(look, address)?.chain?.steps ?? []).flatMap((raw) => {
    const step = loose(raw);
    return sidesOf(step).map((side) => {
      const lane = sideLane(step, side);
      return { address: `${address}/${step.id}/${side.name}`, words: side.label, lane, chain: lane.chain };
    });
  });
}
