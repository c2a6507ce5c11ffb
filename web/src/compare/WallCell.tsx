import { useState } from "react";
import type { CellDifference, LookSummary, Wall } from "../api/types";
import { RenderedPicture } from "../ui/LookPicture";
import { stopsWords } from "../ui/numbers";
import { ReadoutMarks } from "../ui/ReadoutMarks";
import { placeOf, useCellReadout, type Place as At } from "../ui/useReadout";
import { cellOf, cellSource, revisionOf, soon, type Place } from "./wall";

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
  onShown: (source: string) => void;
  onChoose: (place: Place) => void;
}

/** One proof of a wall; under it how far it is from the reference, as a whole and, under the pointer, at that place. */
export function WallCell({ wall, place, looks, name, mark, side, difference, onShown, onChoose }: Props) {
  const [at, setAt] = useState<At | null>(null);
  const [isThere, setIsThere] = useState("");
  const source = (of: Place, samples = wall.samples) =>
    cellSource({ ...wall, samples }, of, revisionOf(wall.rows[of.row], looks));
  const own = source(place);
  const reference = { row: 0, column: place.column };
  const numbers = useCellReadout(
    isThere === own ? cellOf(wall, place) : null,
    place.row > 0 && difference ? cellOf(wall, reference) : null,
    `${own} ${place.row > 0 && difference ? source(reference) : ""}`,
    at,
  );
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
        <RenderedPicture
          source={own}
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
          : place.row === 0
            ? "\u00a0"
            : difference
              ? `ΔE ${difference.mean.toFixed(2)}`
              : "…"}
      </span>
    </td>
  );
}
