import { useVirtualizer } from "@tanstack/react-virtual";
import { useRef } from "react";
import type { House, MapRole, MapSet, PlacedMap } from "../api/types";
import { columns } from "./columns";
import { SetRow, type Carried } from "./SetRow";

interface Props {
  sets: MapSet[];
  house: House;
  carried: Carried | null;
  selected: ReadonlySet<string>;
  onSelect: (set: string, extend: boolean) => void;
  onSelectAll: (all: boolean) => void;
  onCarry: (what: Carried | null) => void;
  onDrop: (what: Carried, toSet: string, toRole: MapRole) => void;
  onOpen: (map: PlacedMap) => void;
  children: React.ReactNode;
}

const usualRow = 148;

/** The rows that are in view, and a few more; a library of hundreds of surfaces scrolls like a short list. */
export function SetTable({ sets, house, carried, selected, onSelect, onSelectAll, children, ...row }: Props) {
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
  const all = sets.length > 0 && sets.every((s) => selected.has(s.name));
  /** A cell that is out of sight is scrolled to before it takes the focus. */
  const reach = (index: number, column: string) => {
    rows.scrollToIndex(index);
    requestAnimationFrame(() =>
      requestAnimationFrame(() =>
        document.querySelector<HTMLElement>(`[data-cell="${CSS.escape(`${sets[index].name}/${column}`)}"]`)?.focus(),
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
                <input
                  type="checkbox"
                  checked={all}
                  onChange={(e) => onSelectAll(e.target.checked)}
                  aria-label="select all shown surfaces"
                />
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
              count={sets.length}
              house={house}
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
        </tbody>
      </table>
      {children}
    </div>
  );
}
