import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef } from "react";
import type { Studio, MapRole, MapSet, PlacedMap } from "../api/types";
import { columns } from "./columns";
import { newSurface, NewSurfaceRow } from "./NewSurfaceRow";
import { SetRow, type Carried } from "./SetRow";
import { Checkbox } from "../ui/Checkbox";

interface Props {
  sets: MapSet[];
  studio: Studio;
  carried: Carried | null;
  selected: ReadonlySet<string>;
  onSelect: (set: string, extend: boolean) => void;
  onSelectAll: (all: boolean) => void;
  onCarry: (what: Carried | null) => void;
  onDrop: (what: Carried, toSet: string, toRole: MapRole) => void;
  onOpen: (map: PlacedMap) => void;
  onBegin: (what: Carried, role: MapRole) => void;
  children: React.ReactNode;
}

const usualRow = 148;

/** The rows that are in view, and a few more; a library of hundreds of surfaces scrolls like a short list. */
export function SetTable({ sets, studio, carried, selected, onSelect, onSelectAll, onBegin, children, ...row }: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: sets.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => usualRow,
    overscan: 1,
    getItemKey: (i) => sets[i].name,
  });
  const shown = rows.getVirtualItems();
  const above = shown[0]?.start ?? 0;
  const below = rows.getTotalSize() - (shown.at(-1)?.end ?? 0);
  // What is taken up in the tray is carried from the first cell on, so that the arrow keys lead somewhere.
  const taken = carried?.role === null ? carried.path : null;
  useEffect(() => {
    if (taken !== null) reach(0, columns[0].id);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- only when another file is taken up
  }, [taken]);
  const all = sets.length > 0 && sets.every((s) => selected.has(s.name));
  /** A cell that is out of sight is scrolled to before it takes the focus. */
  const reach = (index: number, column: string) => {
    const name = index < sets.length ? sets[index].name : newSurface;
    if (index < sets.length) rows.scrollToIndex(index);
    requestAnimationFrame(() =>
      requestAnimationFrame(() =>
        document.querySelector<HTMLElement>(`[data-cell="${CSS.escape(`${name}/${column}`)}"]`)?.focus(),
      ),
    );
  };
  return (
    <div ref={scroller} className="overflow-auto" data-testid="sorting">
      <table className="w-full border-collapse" aria-rowcount={sets.length + 1}>
        <thead className="sticky top-0 z-10 bg-panel text-left text-small text-soft">
          <tr>
            <th className="border-b border-rule px-3 py-1 font-normal">
              <label className="flex items-center gap-2">
                <Checkbox label="select all shown surfaces" checked={all} onChange={(on) => onSelectAll(on)} />
                surface
              </label>
            </th>
            {columns.map((c) => (
              <th key={c.id} className="border-b border-rule px-1 font-normal">
                {c.word}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {above > 0 && (
            <tr aria-hidden="true">
              <td colSpan={columns.length + 1} style={{ height: above }} />
            </tr>
          )}
          {shown.map((item) => (
            <SetRow
              key={item.key}
              measure={rows.measureElement}
              index={item.index}
              set={sets[item.index]}
              studio={studio}
              carried={carried}
              selected={selected.has(sets[item.index].name)}
              onSelect={onSelect}
              onReach={reach}
              {...row}
            />
          ))}
          {below > 0 && (
            <tr aria-hidden="true">
              <td colSpan={columns.length + 1} style={{ height: below }} />
            </tr>
          )}
          <NewSurfaceRow
            carried={carried}
            onCarry={row.onCarry}
            onReach={(c, up) => reach(up ? Math.max(0, sets.length - 1) : sets.length, columns[c].id)}
            onBegin={onBegin}
          />
        </tbody>
      </table>
      {children}
    </div>
  );
}
