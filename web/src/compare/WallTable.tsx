import type { CellDifference, Studio, LookSummary, Wall } from "../api/types";
import { RenderedPicture } from "../ui/LookPicture";
import { AddColumn, AddRow } from "./Adding";
import { cellSource, columnName, revisionOf, rowName, samePlace, soon, type Place } from "./wall";

interface Props {
  wall: Wall;
  studio: Studio;
  looks: LookSummary[];
  first: Place | null;
  second: Place | null;
  differences: Map<string, CellDifference>;
  onShown: (source: string) => void;
  onChange: (part: Partial<Wall>) => void;
  onChoose: (place: Place) => void;
}

/** The proofs; below each how far it is from the first row's in its column. */
export function WallTable({ wall, studio, looks, first, second, differences, onShown, onChange, onChoose }: Props) {
  // The more there are, the smaller the pictures, so that the wall is seen whole.
  const many = Math.max(wall.columns.length, wall.rows.length - 2);
  const size = many <= 4 ? "size-38" : many <= 6 ? "size-29" : "size-22";
  if (wall.rows.length === 0)
    return (
      <div className="mx-auto mt-16 max-w-md">
        <h2 className="mb-2 text-large font-medium">Nothing on the wall yet</h2>
        <p className="mb-3 text-soft">
          Choose a look to begin with; then add others, its dialects, or lights. Looks chosen on the Looks page can be
          brought here at once.
        </p>
        <AddRow wall={wall} studio={studio} looks={looks} onChange={onChange} />
      </div>
    );
  return (
    <>
      <table className="border-separate border-spacing-1">
        <thead className="sticky top-0 z-10 bg-panel">
          <tr>
            <td />
            {wall.columns.map((c, i) => (
              <th key={columnName(c)} scope="col" className="px-1 text-left text-small font-normal">
                <span className="flex items-baseline justify-between gap-1">
                  {columnName(c)}
                  {wall.columns.length > 1 && (
                    <button
                      className="text-soft underline"
                      aria-label={`take ${columnName(c)} off`}
                      onClick={() => onChange({ columns: wall.columns.filter((_, k) => k !== i) })}
                    >
                      off
                    </button>
                  )}
                </span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {wall.rows.map((r, row) => (
            <tr key={`${r.look}/${r.dialect}/${r.at}`}>
              <th scope="row" className="w-36 min-w-36 pr-2 text-left align-top font-normal">
                <span className="font-medium">{rowName(r, looks, studio)}</span>
                <span className="block text-small text-soft">{row === 0 ? "measured against" : "\u00a0"}</span>
                <span className="flex gap-2 text-small">
                  {row > 0 && (
                    <button
                      className="underline"
                      onClick={() => onChange({ rows: [r, ...wall.rows.filter((_, k) => k !== row)] })}
                    >
                      to the top
                    </button>
                  )}
                  <button
                    className="underline"
                    aria-label={`take ${rowName(r, looks, studio)} off`}
                    onClick={() => onChange({ rows: wall.rows.filter((_, k) => k !== row) })}
                  >
                    off
                  </button>
                </span>
              </th>
              {wall.columns.map((c, column) => {
                const place = { row, column };
                const mark = samePlace(place, first) ? "1" : samePlace(place, second) ? "2" : "";
                const d = differences.get(`${row}/${column}`);
                return (
                  <td key={columnName(c)} className="align-top">
                    <button
                      className="relative block border-2 border-transparent aria-pressed:border-glaze"
                      aria-pressed={mark !== ""}
                      aria-label={`${mark ? `${mark}: ` : ""}${rowName(r, looks, studio)}, ${columnName(c)}`}
                      onClick={() => onChoose(place)}
                    >
                      <RenderedPicture
                        source={cellSource(wall, place, revisionOf(r, looks))}
                        sooner={cellSource({ ...wall, samples: soon }, place, revisionOf(r, looks))}
                        alt=""
                        evenUnseen
                        className={`${size} bg-well`}
                        onShown={() => onShown(cellSource(wall, place, revisionOf(r, looks)))}
                      />
                      {mark && <span className="absolute top-1 left-1 bg-panel px-1.5 font-mono">{mark}</span>}
                    </button>
                    <span className="block px-1 font-mono text-small" data-difference={d?.mean}>
                      {row === 0 ? "\u00a0" : d ? `ΔE ${d.mean.toFixed(2)}` : "…"}
                    </span>
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
      <div className="mt-3 flex flex-wrap gap-x-6 gap-y-2">
        <AddRow wall={wall} studio={studio} looks={looks} onChange={onChange} />
        <AddColumn wall={wall} studio={studio} onChange={onChange} />
      </div>
    </>
  );
}
