import { useState } from "react";
import type { MapRole } from "../api/types";
import { takesDrops, columns } from "./columns";
import type { Carried } from "./SetRow";
import { classes } from "../ui/classes";

/** Where a carried or dragged map begins a surface of its own; the last row of the table. */
export const newSurface = "+ new surface";

interface Props {
  carried: Carried | null;
  onCarry: (what: Carried | null) => void;
  onReach: (column: number, up: boolean) => void;
  onBegin: (what: Carried, role: MapRole) => void;
}

export function NewSurfaceRow({ carried, onCarry, onReach, onBegin }: Props) {
  const [over, setOver] = useState<string | null>(null);
  return (
    <tr className="border-b border-rule" data-testid="new-surface">
      <th scope="row" className="px-3 py-2 text-left font-normal text-soft">
        new surface
      </th>
      {columns.map((column, c) => (
        <td
          key={column.id}
          tabIndex={carried ? 0 : -1}
          data-cell={`${newSurface}/${column.id}`}
          data-over={over === column.id || undefined}
          aria-label={`new surface, ${column.word}`}
          className={classes("h-10 px-1 text-small text-soft data-[over=true]:bg-glaze-pale", carried && takesDrops)}
          onClick={() => carried && onBegin(carried, column.roles[0])}
          onKeyDown={(e) => {
            if (!carried) return;
            if (e.key === "Escape") onCarry(null);
            else if (e.key === "Enter") onBegin(carried, column.roles[0]);
            else if (e.key === "ArrowRight") onReach(Math.min(columns.length - 1, c + 1), false);
            else if (e.key === "ArrowLeft") onReach(Math.max(0, c - 1), false);
            else if (e.key === "ArrowUp") onReach(c, true);
            else return;
            e.preventDefault();
            e.stopPropagation();
          }}
          onDragOver={(e) => {
            e.preventDefault();
            setOver(column.id);
          }}
          onDragLeave={() => setOver(null)}
          onDrop={(e) => {
            e.preventDefault();
            setOver(null);
            onBegin(JSON.parse(e.dataTransfer.getData("application/x-kiln-map")) as Carried, column.roles[0]);
          }}
        >
          {carried && "put it here"}
        </td>
      ))}
    </tr>
  );
}
