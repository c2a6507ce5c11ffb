import { useEffect, useRef, useState } from "react";
import type { Wall } from "../../api/types";
import { wallCellName, wallSight, wallSubject, type Place } from "../wall";
import type { WallDrawer } from "./WallDrawer";

interface Props {
  drawer: WallDrawer;
  wall: Wall;
  place: Place;
  /** Of the row's look, so that a changed one is drawn anew. */
  revision: number;
  side: number;
}

/** More pixels than this are not told from fewer at a cell's size. */
const mostPixels = 720;

/** A cell as the viewport draws it. What was drawn before lies under a veil until then. */
export function ViewportCell({ drawer, wall, place, revision, side }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const pixels = Math.min(mostPixels, Math.round(side * window.devicePixelRatio));
  const { form, light } = wall.columns[place.column];
  const asked = JSON.stringify({
    name: wallCellName(place),
    filled: { subject: wallSubject(wall.rows[place.row]), form, light, view: wall.view },
    sight: wallSight(wall, place),
    side: pixels,
    revision,
  });
  const [drawn, setDrawn] = useState("");
  useEffect(() => {
    const { name, filled, sight, side } = JSON.parse(asked) as Omit<Parameters<WallDrawer["ask"]>[0], "to" | "onDrawn">;
    return drawer.ask({ name, filled, sight, side, to: canvas.current!, onDrawn: () => setDrawn(asked) });
  }, [drawer, asked]);
  return (
    <canvas
      ref={canvas}
      data-drawn={drawn === asked}
      className={`block bg-well ${drawn === asked ? "" : "opacity-40"}`}
      style={{ width: side, height: side }}
    />
  );
}
