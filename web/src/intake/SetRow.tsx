import { useState } from "react";
import type { Studio, MapRole, MapSet, PlacedMap } from "../api/types";
import { alternatesOf, takesDrops, columns, mapsIn, missing, ready, type Column } from "./columns";
import { MapCell } from "./MapCell";
import { Checkbox } from "../ui/Checkbox";
import { Tip } from "../ui/Tip";
import { classes } from "../ui/classes";

export interface Carried {
  path: string;
  role: string | null;
}

interface Props {
  set: MapSet;
  index: number;
  studio: Studio;
  carried: Carried | null;
  selected: boolean;
  measure: (row: HTMLTableRowElement | null) => void;
  onSelect: (set: string, extend: boolean) => void;
  onReach: (index: number, column: string) => void;
  onCarry: (what: Carried | null) => void;
  onDrop: (what: Carried, toSet: string, toRole: MapRole) => void;
  onOpen: (map: PlacedMap) => void;
}

/** One surface. Cells take drops, and while something is carried by keyboard they take focus and Enter. */
export function SetRow(props: Props) {
  const { set, index, studio, carried, selected, measure, onSelect, onReach, onCarry, onDrop, onOpen } = props;
  const [over, setOver] = useState<string | null>(null);
  const gone = missing(set);
  const words = (role: string) => studio.roles.find((r) => r.id === role)?.words ?? role;
  const onKey = (e: React.KeyboardEvent, column: Column) => {
    if (!carried) return;
    const c = columns.indexOf(column);
    if (e.key === "Escape") onCarry(null);
    else if (e.key === "Enter") onDrop(carried, set.name, free(column, carried.path));
    else if (e.key === "ArrowRight") onReach(index, columns[Math.min(columns.length - 1, c + 1)].id);
    else if (e.key === "ArrowLeft") onReach(index, columns[Math.max(0, c - 1)].id);
    else if (e.key === "ArrowDown") onReach(index + 1, column.id);
    else if (e.key === "ArrowUp") onReach(Math.max(0, index - 1), column.id);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  /** The first role of the column that no other map holds, else its first. */
  const free = (column: Column, path: string): MapRole =>
    column.roles.find((role) => set.maps.every((m) => m.role !== role || m.path === path)) ?? column.roles[0];
  return (
    <tr
      ref={measure}
      data-index={index}
      aria-rowindex={index + 2}
      className="border-b border-rule align-top data-[chosen=true]:bg-glaze-pale"
      data-chosen={selected}
    >
      <th scope="row" className="w-40 px-3 py-2 text-left font-normal">
        <label className="flex items-start gap-2">
          <Checkbox
            className="mt-1"
            checked={selected}
            label={`select ${set.name.replaceAll("_", " ")}`}
            onChange={() => undefined}
            onClick={(e) => onSelect(set.name, e.shiftKey)}
          />
          <span className="block text-base font-medium break-words">{set.name.replaceAll("_", " ")}</span>
        </label>
        <span className="block pl-5 text-small text-soft">{ready(set) ? "ready" : "needs a look"}</span>
        {gone.length > 0 && <span className="block pl-5 text-small">no {gone.join(", no ")}</span>}
        {set.previews.length > 0 && (
          <Tip words={set.previews.join("\n")}>
            <span className="block pl-5 text-small text-soft">
              {set.previews.length} preview{set.previews.length === 1 ? "" : "s"} to compare with
            </span>
          </Tip>
        )}
      </th>
      {columns.map((column) => (
        <td
          key={column.id}
          tabIndex={carried ? 0 : -1}
          data-cell={`${set.name}/${column.id}`}
          data-over={over === column.id}
          aria-label={`${set.name.replaceAll("_", " ")}, ${column.word}`}
          className={classes("px-1 py-2 data-[over=true]:bg-glaze-pale", carried && takesDrops)}
          onClickCapture={(e) => {
            // While something is carried a click puts it down, whatever lies in the cell.
            if (!carried) return;
            e.preventDefault();
            e.stopPropagation();
            onDrop(carried, set.name, free(column, carried.path));
          }}
          onKeyDown={(e) => onKey(e, column)}
          onDragOver={(e) => {
            e.preventDefault();
            setOver(column.id);
          }}
          onDragLeave={() => setOver(null)}
          onDrop={(e) => {
            e.preventDefault();
            setOver(null);
            const what = JSON.parse(e.dataTransfer.getData("application/x-kiln-map")) as Carried;
            onDrop(what, set.name, free(column, what.path));
          }}
        >
          <div className={column.id === "relief" ? "grid w-[220px] grid-cols-2 gap-2" : "flex flex-col gap-2"}>
            {mapsIn(set, column).map((map) => (
              <MapCell
                key={map.path + map.role + map.udim}
                map={map}
                word={words(map.role)}
                alternates={alternatesOf(set, map).length}
                carried={carried?.path === map.path && carried.role === map.role}
                onPick={() => {
                  onCarry({ path: map.path, role: map.role });
                  onReach(index, column.id);
                }}
                onOpen={() => onOpen(map)}
                onDragStart={(e) =>
                  e.dataTransfer.setData("application/x-kiln-map", JSON.stringify({ path: map.path, role: map.role }))
                }
              />
            ))}
          </div>
        </td>
      ))}
    </tr>
  );
}
