import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { get } from "../api/client";
import { useStudio } from "../api/queries";
import type { CollectionTable } from "../api/types";
import { useChosenLooks } from "../looks/chosenLooks";
import { LookPicture } from "../ui/LookPicture";
import { Checkbox } from "../ui/Checkbox";
import { Tip } from "../ui/Tip";
import { keys } from "../api/keys";

type Row = CollectionTable["rows"][number];
type Order = { by: string; down: boolean };

/**
 * The looks of a collection by their measurements: what is far from the middle of all is marked with how far, and
 * what breaks the rules says so.
 */
export function MeasureTable({ id }: { id: string }) {
  const studio = useStudio();
  const { chosen, toggle } = useChosenLooks();
  const table = useQuery({
    queryKey: keys.collectionTable(id),
    queryFn: () => get("/api/v1/collections/{id}/table", { params: { path: { id } } }),
    refetchInterval: (q) => (q.state.data && q.state.data.pending > 0 ? 1200 : false),
  });
  const [order, setOrder] = useState<Order>({ by: "name", down: false });
  if (!table.data) return <p className="text-soft">{table.error ? table.error.message : "Opening the table…"}</p>;
  const { columns, rows, pending, hasRules } = table.data;
  const keyOf = (row: Row): number | string => {
    const at = columns.findIndex((c) => c.id === order.by);
    if (at >= 0) return row.cells[at].value ?? -Infinity;
    if (order.by === "rules") return row.broken.length;
    if (order.by === "lossy") return row.lossy.length;
    if (order.by === "mb") return row.megabytes;
    return row.name;
  };
  const sorted = [...rows].sort((a, b) => {
    const [x, y] = [keyOf(a), keyOf(b)];
    return (typeof x === "string" ? x.localeCompare(String(y)) : x - Number(y)) * (order.down ? -1 : 1);
  });
  const heading = (by: string, words: string, unit = "") => (
    <th
      key={by}
      scope="col"
      aria-sort={order.by === by ? (order.down ? "descending" : "ascending") : "none"}
      className={`px-1.5 py-1 align-bottom font-normal ${by === "name" ? "text-left" : "text-right"}`}
    >
      <button
        className="underline decoration-rule aria-pressed:decoration-glaze aria-pressed:decoration-2"
        aria-pressed={order.by === by}
        onClick={() => setOrder({ by, down: order.by === by ? !order.down : by !== "name" })}
      >
        {words}
      </button>
      {unit && <span className="block font-mono text-small text-soft">{unit}</span>}
    </th>
  );
  const title = (dialect: string) => studio.data?.dialects.find((d) => d.id === dialect)?.short ?? dialect;
  return (
    <>
      <p className="mb-2 flex items-baseline gap-3 text-small text-soft">
        <span>Marked: more than 3.5 from the median by the modified z-score, with the score.</span>
        <span className="grow" />
        {pending > 0 && <span role="status">{pending} measuring…</span>}
        <a className="act" href={`/api/v1/collections/${id}/table.csv`} download="table.csv">
          Export CSV
        </a>
      </p>
      <table className="w-full border-collapse">
        <thead className="sticky top-0 z-10 bg-panel">
          <tr className="border-b border-ink">
            <th>
              <span className="sr-only">picture</span>
            </th>
            {heading("name", "look")}
            {columns.map((c) => heading(c.id, c.words, c.unit))}
            {heading("lossy", "not exact in")}
            {heading("mb", "MB")}
            {heading("rules", "rules")}
          </tr>
          <tr className="border-b border-rule text-right font-mono text-small text-soft">
            <td />
            <th scope="row" className="px-1.5 text-left font-sans font-normal">
              median ± deviation
            </th>
            {columns.map((c) => (
              <td key={c.id} className="px-1.5 whitespace-nowrap">
                {c.median == null ? "" : `${short(c.median)} ± ${short(c.deviation ?? 0)}`}
              </td>
            ))}
            <td colSpan={3} />
          </tr>
        </thead>
        <tbody>
          {sorted.map((row) => (
            <tr key={row.id} className="border-b border-rule hover:bg-raised" data-row={row.name}>
              <td className="w-14 py-0.5">
                <span className="flex items-center gap-1">
                  <Checkbox
                    label={`choose ${row.name}`}
                    checked={chosen.includes(row.id)}
                    onChange={() => toggle(row.id)}
                  />
                  <LookPicture
                    look={row.id}
                    size={72}
                    asked={`&r=${row.revision}`}
                    alt=""
                    className="size-8 shrink-0 bg-well"
                  />
                </span>
              </td>
              <th scope="row" className="px-1.5 text-left font-medium">
                <Link to={`/looks/${row.id}`} className="hover:underline">
                  {row.name}
                </Link>
                {row.trouble && <span className="block text-small font-normal">{row.trouble}</span>}
              </th>
              {row.cells.map((cell, i) => (
                <td
                  key={columns[i].id}
                  className="px-1.5 text-right font-mono whitespace-nowrap"
                  data-outlier={cell.isOutlier || undefined}
                >
                  {i === 0 && row.colour && <Swatch colour={row.colour} />}
                  {cell.isOutlier ? (
                    <Tip words="modified z-score">
                      <mark className="bg-ink px-1 text-panel">
                        {cell.value === null ? "" : short(cell.value)}{" "}
                        <span className="text-small">{cell.score > 0 ? `+${cell.score}` : cell.score}</span>
                      </mark>
                    </Tip>
                  ) : cell.value == null ? (
                    ""
                  ) : (
                    short(cell.value)
                  )}
                </td>
              ))}
              <Tip words={row.lossy.map(title).join(", ")}>
                <td className="px-1.5 text-right text-small">{row.lossy.length === 0 ? "none" : row.lossy.length}</td>
              </Tip>
              <td className="px-1.5 text-right font-mono">{row.megabytes.toFixed(1)}</td>
              <Tip words={row.broken.map((b) => b.sentence).join("\n")}>
                <td className="px-1.5 text-right text-small">
                  {!hasRules ? "none" : row.broken.length === 0 ? "all kept" : `${row.broken.length} broken`}
                </td>
              </Tip>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

const short = (value: number) => (Math.abs(value) >= 100 ? value.toFixed(0) : value.toFixed(2));

/** A square of the mean base colour, drawn so that no style has to be written into the page. */
function Swatch({ colour }: { colour: string }) {
  return (
    <svg width="12" height="12" viewBox="0 0 12 12" className="mr-1.5 inline-block" role="img" aria-label={colour}>
      <rect width="12" height="12" fill={colour} />
    </svg>
  );
}
