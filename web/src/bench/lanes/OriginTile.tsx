import type { Chain } from "../../api/types";
import { ReadingChip, thumbnailUrl } from "../../ui/ReadingChip";
import { useBench } from "../BenchContext";
import { laneAt, sourceAddress, usersOf } from "./address";
import { tileFrame, tilePicture, type TileSize } from "./tileSize";
import { valueWords } from "./words";

interface Props {
  address: string;
  origin: Chain["origin"];
  size: TileSize;
}

/** Where a lane begins: a map with its reading, a reference to a source, noise, or a constant. */
export function OriginTile({ address, origin, size }: Props) {
  const { look, selection, select, id, revision } = useBench();
  const isChosen = selection?.lane === address && selection.step === -1;
  // Selecting one end of a reference shows the others.
  const related = selection && selection.step === -1 && sharesOrigin(look, selection.lane, origin) && !isChosen;
  const frame = `${tileFrame[size]} shrink-0 border border-rule bg-raised p-0.5 text-left ${
    isChosen ? "outline-2 outline-glaze" : related ? "outline-2 outline-dashed outline-glaze" : ""
  }`;
  const picture = `${tilePicture[size]} bg-well object-cover`;
  const pick = () => select({ lane: address, step: -1 });
  if (origin.kind === "slot") {
    const slot = look.slots?.[origin.slot];
    if (!slot) return null;
    const used = usersOf(look, "slot", origin.slot).length;
    return (
      <button className={frame} onClick={pick} data-tile="map" data-origin={address} title={slot.file.name}>
        <img src={thumbnailUrl(slot.file.content, origin.reading)} alt="" className={picture} />
        <span className="block min-w-0">
          <span className="block truncate text-small">{slot.file.name}</span>
          {size !== "small" && <ReadingChip reading={origin.reading} />}
          {size === "full" && used > 1 && <span className="block text-small text-soft">feeds {used}</span>}
        </span>
      </button>
    );
  }
  const tile = `/api/v1/looks/${id}/tile?lane=${encodeURIComponent(address)}&steps=0&revision=${revision}`;
  const words =
    origin.kind === "source"
      ? { top: `↪ ${origin.source}`, under: "source" }
      : origin.kind === "noise"
        ? { top: "noise", under: origin.noise.kind }
        : { top: "constant", under: valueWords(origin.kind === "constant" ? origin.value : null) };
  return (
    <button className={frame} onClick={pick} data-tile={origin.kind} data-origin={address}>
      <img src={tile} alt="" className={picture} />
      <span className="block min-w-0">
        <span className="block truncate text-small">{words.top}</span>
        <span className="block truncate font-mono text-small text-soft">{words.under}</span>
      </span>
    </button>
  );
}

function sharesOrigin(look: Parameters<typeof laneAt>[0], other: string, origin: Chain["origin"]): boolean {
  const theirs = laneAt(look, other)?.chain?.origin;
  if (origin.kind === "source")
    return other === sourceAddress(origin.source) || (theirs?.kind === "source" && theirs.source === origin.source);
  return origin.kind === "slot" && theirs?.kind === "slot" && theirs.slot === origin.slot;
}
