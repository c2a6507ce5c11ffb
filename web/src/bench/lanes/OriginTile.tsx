import { memo } from "react";
import type { Chain } from "../../api/types";
import { ReadingChip, thumbnailUrl } from "../../ui/ReadingChip";
import { useBench, useBenchValue } from "../state/benchState";
import { laneAt, sourceAddress, usersOf } from "../document/address";
import { tileFrame, tilePicture, type TileSize } from "./tileSize";
import { valueWords } from "../document/words";
import { nameOf } from "../../ui/names";
import { Tip } from "../../ui/Tip";

interface Props {
  address: string;
  origin: Chain["origin"];
  size: TileSize;
}

/** Where a lane begins: a map with its reading, a reference to a source, noise, or a constant. */
export const OriginTile = memo(function OriginTile({ address, origin, size }: Props) {
  const { select } = useBench("select");
  const slotName = origin.kind === "slot" ? origin.slot : null;
  const slot = useBenchValue((s) => (slotName === null ? undefined : s.look.slots?.[slotName]));
  const used = useBenchValue((s) => (slotName === null ? 0 : usersOf(s.look, "slot", slotName).length));
  const isChosen = useBenchValue((s) => s.selection?.lane === address && s.selection.step === -1);
  // Selecting one end of a reference shows the others.
  const related = useBenchValue(
    ({ look, selection: at }) => !!at && at.step === -1 && at.lane !== address && sharesOrigin(look, at.lane, origin),
  );
  const frame = `${tileFrame[size]} shrink-0 border border-rule bg-raised p-0.5 text-left ${
    isChosen ? "outline-2 outline-glaze" : related ? "outline-2 outline-dashed outline-glaze" : ""
  }`;
  const picture = `${tilePicture[size]} bg-well object-cover`;
  const pick = () => select({ lane: address, step: -1 });
  if (origin.kind === "slot") {
    if (!slot) return null;
    return (
      <Tip words={`${slot.file.name}\n${origin.reading.reason ?? ""}`}>
        <button className={frame} onClick={pick} data-tile="map" data-origin={address}>
          <img src={thumbnailUrl(slot.file.content, origin.reading)} alt="" className={picture} />
          <span className="block min-w-0">
            <span className="block truncate text-small">{tailOf(slot.file.name)}</span>
            {size !== "small" && (
              <span className="flex items-center gap-1">
                <ReadingChip reading={origin.reading} quiet />
                {size === "full" && used > 1 && <span className="text-small text-soft">×{used}</span>}
              </span>
            )}
          </span>
        </button>
      </Tip>
    );
  }
  const words =
    origin.kind === "source"
      ? { top: `↪ ${origin.source}`, under: "source" }
      : origin.kind === "noise"
        ? { top: "noise", under: nameOf(origin.noise.kind ?? "fractal") }
        : { top: "constant", under: valueWords(origin.kind === "constant" ? origin.value : null) };
  return (
    <button className={frame} onClick={pick} data-tile={origin.kind} data-origin={address}>
      <Made address={address} className={picture} />
      <span className="block min-w-0">
        <span className="block truncate text-small">{words.top}</span>
        <span className="block truncate font-mono text-small text-soft">{words.under}</span>
      </span>
    </button>
  );
});

/** What a source, noise or a constant looks like; made anew with each revision of the look. */
function Made({ address, className }: { address: string; className: string }) {
  const { id, revision } = useBench("id", "revision");
  const tile = `/api/v1/looks/${id}/tile?lane=${encodeURIComponent(address)}&steps=0&revision=${revision}`;
  return <img src={tile} alt="" className={className} />;
}

/** The end of a name says what the map is; its beginning is the same for all of a set. */
const tailOf = (name: string) => {
  const stem = name.replace(/\.[^.]+$/, "");
  return stem.length > 16 ? `…${stem.slice(-15)}` : stem;
};

function sharesOrigin(look: Parameters<typeof laneAt>[0], other: string, origin: Chain["origin"]): boolean {
  const theirs = laneAt(look, other)?.chain?.origin;
  if (origin.kind === "source")
    return other === sourceAddress(origin.source) || (theirs?.kind === "source" && theirs.source === origin.source);
  return origin.kind === "slot" && theirs?.kind === "slot" && theirs.slot === origin.slot;
}
