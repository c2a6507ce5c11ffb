import { useState } from "react";
import type { CellDifference, LookSummary, Wall } from "../../api/types";
import { RenderedPicture } from "../../ui/LookPicture";
import { stopsWords } from "../../ui/numbers";
import { ReadoutMarks } from "../../ui/ReadoutMarks";
import { placeOf, useCellReadout, useDrawnReadout, type Place as At } from "../../ui/useReadout";
import { ViewportCell } from "./ViewportCell";
import { cellOf, cellSize, cellSource, revisionOf, soon, wallCellName, type Place } from "../wall";
import type { WallDrawer } from "./WallDrawer";

interface Props {
  wall: Wall;
  place: Place;
  looks: LookSummary[];
  name: string;
  /** 1 or 2 where it is one of the two compared. */
  mark: string;
  side: number;
  /** From the first row's picture in its column. */
  difference: CellDifference | undefined;
  /** What draws the cell instead of a proof; null for proofs. */
  drawer: WallDrawer | null;
  onShown: (source: string) => void;
  onChoose: (place: Place) => void;
}

/** A proof of a wall, or the viewport in its place; under it how far it is from the reference, as a whole or at the pointer's place. */
export function WallCell(props: Props) {
  const { wall, place, looks, name, mark, side, difference, drawer, onShown, onChoose } = props;
  const [at, setAt] = useState<At | null>(null);
  const [isThere, setIsThere] = useState("");
  const source = (of: Place, samples = wall.samples) =>
    cellSource({ ...wall, samples }, of, revisionOf(wall.rows[of.row], looks));
  const own = source(place);
  const reference = { row: 0, column: place.column };
  const proved = useCellReadout(
    !drawer && isThere === own ? cellOf(wall, place) : null,
    place.row > 0 && difference ? cellOf(wall, reference) : null,
    `${own} ${place.row > 0 && difference ? source(reference) : ""}`,
    at,
  );
  const drawnAt = (of: Place) => (at && drawer ? drawer.lightAt(wallCellName(of), at.u, at.v, 5 / cellSize) : null);
  const drawn = useDrawnReadout(drawnAt(place), place.row > 0 ? drawnAt(reference) : null);
  const numbers = drawer ? drawn : proved;
  return (
    <td className="align-top">
      <button
        className="relative block border-2 border-transparent aria-pressed:border-glaze"
        aria-pressed={mark !== ""}
        aria-label={`${mark ? `${mark}: ` : ""}${name}`}
        onClick={() => onChoose(place)}
        onPointerMove={(e) => setAt(placeOf(e, 240))}
        onPointerLeave={() => setAt(null)}
      >
        {drawer ? (
          <ViewportCell
            drawer={drawer}
            wall={wall}
            place={place}
            revision={revisionOf(wall.rows[place.row], looks)}
            side={side}
          />
        ) : (
          <RenderedPicture
            source={own}
            standIn={`/api/v1/looks/${wall.rows[place.row].look}/stand-in`}
            sooner={source(place, soon)}
            alt=""
            evenUnseen
            className="bg-well"
            side={side}
            onShown={() => {
              setIsThere(own);
              onShown(own);
            }}
          />
        )}
        {mark && <span className="absolute top-1 left-1 bg-panel px-1.5 font-mono">{mark}</span>}
        <ReadoutMarks at={at} pin={null} />
      </button>
      <span
        className="block truncate px-1 font-mono text-small"
        style={{ maxWidth: side }}
        data-difference={difference?.mean}
        data-readout={at && numbers ? "cell" : undefined}
      >
        {at && numbers
          ? [
              ...(numbers.deltaE == null ? [] : [`ΔE ${numbers.deltaE.toFixed(1)}`]),
              numbers.first.hex,
              stopsWords(numbers.first.stops),
            ].join(" ")
          : drawer
            ? "viewport"
            : place.row === 0
              ? "\u00a0"
              : difference
                ? `ΔE ${difference.mean.toFixed(2)}`
                : "…"}
      </span>
    </td>
  );
}
