import type { CellDifference, Studio, LookSummary, Wall } from "../api/types";
import { DifferenceScale, stepOf, useDifferenceScale } from "./DifferenceScale";
import { columnName, rowName, type Place } from "./wall";
import { Tip } from "../ui/Tip";

interface Props {
  wall: Wall;
  studio: Studio;
  looks: LookSummary[];
  differences: Map<string, CellDifference>;
  onChoose: (place: Place) => void;
}

/**
 * The whole wall in numbers: how far every proof is from the first row's, mean and 95th percentile; a click lays the
 * two over each other.
 */
export function DifferenceTable({ wall, studio, looks, differences, onChoose }: Props) {
  const steps = useDifferenceScale();
  if (wall.rows.length < 2) return null;
  const sameLook = wall.rows.every((r) => r.look === wall.rows[0].look);
  const sameForm = wall.columns.every((c) => c.form === wall.columns[0].form);
  const short = (row: number) => {
    const name = rowName(wall.rows[row], looks, studio);
    return sameLook ? name.slice(name.indexOf(", ") + 2) : name;
  };
  return (
    <section className="border-t border-rule p-2" aria-label="Differences in numbers">
      <h2 className="font-medium">ΔE to {rowName(wall.rows[0], looks, studio)}</h2>
      <p className="mb-1 text-small text-soft">mean, and below it what 95 % of the picture stays under</p>
      <table className="w-full border-collapse text-small" data-testid="difference-table">
        <thead>
          <tr>
            <td />
            {wall.columns.map((c) => (
              <th key={columnName(c)} scope="col" className="pr-1 pb-1 text-left font-normal">
                {sameForm ? columnName(c).slice(c.form.length + 2) : columnName(c)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {wall.rows.map((r, row) =>
            row === 0 ? null : (
              <tr key={`${r.look}/${r.dialect}/${r.at}`} className="border-t border-rule">
                <th scope="row" className="py-0.5 pr-1 text-left align-top font-normal">
                  {short(row)}
                </th>
                {wall.columns.map((c, column) => {
                  const d = differences.get(`${row}/${column}`);
                  return (
                    <td key={columnName(c)} className="py-0.5 pr-1 align-top">
                      {d ? (
                        <Tip words={`${short(row)}, ${columnName(c)}: compare with the first row`}>
                          <button
                            className="grid w-full grid-cols-[6px_1fr] gap-x-1 text-left font-mono"
                            onClick={() => onChoose({ row, column })}
                          >
                            <span
                              className="row-span-2 border border-rule"
                              style={{ background: stepOf(steps, d.mean)?.colour }}
                            />
                            <span>{d.mean.toFixed(2)}</span>
                            <span className="text-soft">{d.percentile95.toFixed(2)}</span>
                          </button>
                        </Tip>
                      ) : (
                        <span className="font-mono text-soft">…</span>
                      )}
                    </td>
                  );
                })}
              </tr>
            ),
          )}
        </tbody>
      </table>
      <DifferenceScale steps={steps} />
    </section>
  );
}
