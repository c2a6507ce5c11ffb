import type { CellDifference, Studio, LookSummary, Wall } from "../api/types";
import { AddColumn, AddRow } from "./Adding";
import { cellSide, columnName, rowName, samePlace, type Place } from "./wall";
import { WallCell } from "./cells/WallCell";
import type { WallDrawer } from "./cells/WallDrawer";

interface Props {
  /** What the wall has to stand in. */
  room: { width: number; height: number };
  wall: Wall;
  studio: Studio;
  looks: LookSummary[];
  first: Place | null;
  second: Place | null;
  differences: Map<string, CellDifference>;
  /** What draws the cells instead of proofs; null for proofs. */
  drawer: WallDrawer | null;
  onShown: (source: string) => void;
  onChange: (part: Partial<Wall>) => void;
  onChoose: (place: Place) => void;
}

/** The proofs; below each how far it is from the first row's in its column. */
export function WallTable({
  room,
  wall,
  studio,
  looks,
  first,
  second,
  differences,
  drawer,
  onShown,
  onChange,
  onChoose,
}: Props) {
  const side = cellSide(wall.rows.length, wall.columns.length, room);
  if (wall.rows.length === 0)
    return (
      <div className="mx-auto mt-16 max-w-md">
        <h2 className="mb-2 text-large font-medium">Nothing to compare yet</h2>
        <p className="mb-3 text-soft">
          Choose a look, then add others, renderers or lights. Looks selected on the Looks page can be added together.
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
                      aria-label={`Remove ${columnName(c)}`}
                      onClick={() => onChange({ columns: wall.columns.filter((_, k) => k !== i) })}
                    >
                      Remove
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
                <span className="block text-small text-soft">{row === 0 ? "reference" : "\u00a0"}</span>
                <span className="flex gap-2 text-small">
                  {row > 0 && (
                    <button
                      className="underline"
                      onClick={() => onChange({ rows: [r, ...wall.rows.filter((_, k) => k !== row)] })}
                    >
                      Move to the top
                    </button>
                  )}
                  <button
                    className="underline"
                    aria-label={`Remove ${rowName(r, looks, studio)}`}
                    onClick={() => onChange({ rows: wall.rows.filter((_, k) => k !== row) })}
                  >
                    Remove
                  </button>
                </span>
              </th>
              {wall.columns.map((c, column) => {
                const place = { row, column };
                const mark = samePlace(place, first) ? "1" : samePlace(place, second) ? "2" : "";
                const d = differences.get(`${row}/${column}`);
                return (
                  <WallCell
                    key={columnName(c)}
                    wall={wall}
                    place={place}
                    looks={looks}
                    name={`${rowName(r, looks, studio)}, ${columnName(c)}`}
                    mark={mark}
                    side={side}
                    difference={d}
                    drawer={drawer}
                    onShown={onShown}
                    onChoose={onChoose}
                  />
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
