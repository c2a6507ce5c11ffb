import { useState } from "react";
import type { House, MapRole, MapSet, PlacedMap } from "../api/types";
import { columns, mapsIn, missing, ready, type Column } from "./columns";
import { MapCell } from "./MapCell";

export interface Carried {
  path: string;
  role: string | null;
}

interface Props {
  set: MapSet;
  sets: MapSet[];
  house: House;
  carried: Carried | null;
  onCarry: (what: Carried | null) => void;
  onDrop: (what: Carried, toSet: string, toRole: MapRole) => void;
  onOpen: (map: PlacedMap) => void;
}

/** One surface. Cells take drops, and while something is carried by keyboard they take focus and Enter. */
export function SetRow({ set, sets, house, carried, onCarry, onDrop, onOpen }: Props) {
  const [over, setOver] = useState<string | null>(null);
  const gone = missing(set);
  const words = (role: string) => house.roles.find((r) => r.id === role)?.words ?? role;
  const focusCell = (setName: string, column: string) =>
    document.querySelector<HTMLElement>(`[data-cell="${CSS.escape(`${setName}/${column}`)}"]`)?.focus();
  const onKey = (e: React.KeyboardEvent, column: Column) => {
    if (!carried) return;
    const c = columns.indexOf(column);
    const r = sets.indexOf(set);
    if (e.key === "Escape") onCarry(null);
    else if (e.key === "Enter") onDrop(carried, set.name, free(column, carried.path));
    else if (e.key === "ArrowRight") focusCell(set.name, columns[Math.min(columns.length - 1, c + 1)].id);
    else if (e.key === "ArrowLeft") focusCell(set.name, columns[Math.max(0, c - 1)].id);
    else if (e.key === "ArrowDown") focusCell(sets[Math.min(sets.length - 1, r + 1)].name, column.id);
    else if (e.key === "ArrowUp") focusCell(sets[Math.max(0, r - 1)].name, column.id);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  /** The first role of the column that no other map holds, else its first. */
  const free = (column: Column, path: string): MapRole =>
    column.roles.find((role) => set.maps.every((m) => m.role !== role || m.path === path)) ?? column.roles[0];
  return (
    <tr className="border-b border-rule align-top">
      <th scope="row" className="w-40 px-3 py-2 text-left font-normal">
        <span className="block text-base font-medium break-words">{set.name.replaceAll("_", " ")}</span>
        <span className="block text-small text-soft">{ready(set) ? "ready" : "needs a look"}</span>
        {gone.length > 0 && <span className="block text-small">no {gone.join(", no ")}</span>}
      </th>
      {columns.map((column) => (
        <td
          key={column.id}
          tabIndex={carried ? 0 : -1}
          data-cell={`${set.name}/${column.id}`}
          data-over={over === column.id}
          aria-label={`${set.name}, ${column.word}`}
          className="px-1 py-2 data-[over=true]:bg-glaze-pale"
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
          <div className="flex flex-col gap-2">
            {mapsIn(set, column).map((map) => (
              <MapCell
                key={map.path + map.role + map.udim}
                map={map}
                word={words(map.role)}
                alternates={set.alternates.filter((a) => a.map.role === map.role).length}
                carried={carried?.path === map.path && carried.role === map.role}
                onPick={() => {
                  onCarry({ path: map.path, role: map.role });
                  requestAnimationFrame(() => focusCell(set.name, column.id));
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
