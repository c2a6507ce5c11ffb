import { Fragment, memo, useState } from "react";
import type { Chain } from "../../api/types";
import { draftedOf, useBench, useBenchStore, useBenchValue } from "../state/benchState";
import { triedTile } from "../state/useTriedLane";
import { hasStep, runOf } from "../document/address";
import { carry } from "./drag";
import { Gap } from "./Gap";
import { stepKind } from "../../api/steps";
import { loose, telling } from "../document/steps";
import { tileFrame, tilePicture, type TileSize } from "./tileSize";

interface Props {
  address: string;
  chain: Chain;
  size: TileSize;
}
/** Runs of this many unselected steps are folded. */
const foldFrom = 5;

/** The steps of a chain with the gaps between them. Long runs fold; what is selected stays open. */
export const StepTiles = memo(function StepTiles({ address, chain, size }: Props) {
  const [open, setOpen] = useState(false);
  const here = useBenchValue((s) => (s.selection?.lane === address ? s.selection.step : null));
  const folds = !open && chain.steps.length >= foldFrom;
  // The first and the last stay, and what is selected with its neighbours.
  const shown = (i: number) =>
    !folds || i === 0 || i === chain.steps.length - 1 || (here !== null && Math.abs(i - here) <= 1);
  const hidden = chain.steps.filter((_, i) => !shown(i)).length;
  const firstHidden = chain.steps.findIndex((_, i) => !shown(i));
  return (
    <>
      {chain.steps.map((raw, i) => (
        <Fragment key={raw.id}>
          {shown(i) && <Gap address={address} at={i} size={size} />}
          {shown(i) && <StepTile address={address} chain={chain} at={i} size={size} />}
          {i === firstHidden && (
            <button
              className="mx-1 self-center border border-rule px-2 py-3 text-small text-soft"
              onClick={() => setOpen(true)}
            >
              {hidden} steps
            </button>
          )}
        </Fragment>
      ))}
      <Gap address={address} at={chain.steps.length} size={size} />
    </>
  );
});

function StepTile({ address, chain, at, size }: Props & { at: number }) {
  const { id, revision, select } = useBench("id", "revision", "select");
  const store = useBenchStore();
  const step = loose(chain.steps[at]);
  const isKnown = useBenchValue((s) => hasStep(s.known, address, at, step.id));
  const drafted = useBenchValue(draftedOf(address, step.id));
  const isChosen = useBenchValue(({ selection }) => {
    if (selection?.lane !== address) return false;
    const [first, last] = runOf(selection);
    return at >= first && at <= last;
  });
  const tried = useBenchValue((s) => s.tried?.tiles[triedTile(address, at + 1)]);
  const tile =
    tried ?? `/api/v1/looks/${id}/tile?lane=${encodeURIComponent(address)}&steps=${at + 1}&revision=${revision}`;
  return (
    <button
      className={`${tileFrame[size]} shrink-0 border border-rule bg-raised p-0.5 text-left ${
        isChosen ? "outline-2 outline-glaze" : ""
      } ${step.bypassed ? "opacity-60" : ""}`}
      onClick={(e) => {
        const { selection } = store.getState();
        const isRun = e.shiftKey && selection?.lane === address && selection.step >= 0;
        select(isRun ? { ...selection, to: at } : { lane: address, step: at });
      }}
      data-tile={stepKind(step.kind).label}
      data-chosen={isChosen}
      draggable
      onDragStart={(e) => carry(e, "step", JSON.stringify({ address, id: step.id }))}
    >
      {isKnown ? (
        <img
          src={tile}
          alt=""
          data-tried={tried ? true : undefined}
          className={`${tilePicture[size]} bg-well object-cover`}
          draggable={false}
        />
      ) : (
        <span className={`${tilePicture[size]} stipple block bg-well`} />
      )}
      <span className="block min-w-0">
        <span className="block truncate text-small">{stepKind(step.kind).label}</span>
        <span className="block truncate font-mono text-small text-soft">
          {step.bypassed ? "bypassed" : telling(drafted ? { ...step, ...drafted } : step)}
        </span>
      </span>
    </button>
  );
}
