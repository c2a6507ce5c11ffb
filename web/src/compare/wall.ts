import type { Studio, LookSummary, Wall, WallColumn, WallRow } from "../api/types";
import { nameOf } from "../ui/names";
import type { Subject } from "../viewport/assets";
import type { Sight } from "../viewport/Scene";

/** A cell by its row and column. */
export interface Place {
  row: number;
  column: number;
}

export const samePlace = (a: Place | null, b: Place | null) => a?.row === b?.row && a?.column === b?.column;

export const cellSize = 240;

/** Samples of the first picture of a cell, until all cells have one. */
export const soon = 8;

export const emptyWall: Wall = {
  rows: [],
  columns: [{ form: "vessel", light: "softbox", turn: 0 }],
  yaw: null,
  pitch: null,
  zoom: 1,
  lightRotation: 0,
  exposure: 0,
  view: "aces1-sdr",
  samples: 32,
};

/** Besides the pictures: the names of rows at the left, of columns above, a line under each picture, and what adds rows below. */
const around = { left: 160, top: 40, under: 30, foot: 90 };

/** The side of a picture, so that the wall fills its room and is seen whole; within what can still be judged. */
export function cellSide(rows: number, columns: number, room: { width: number; height: number }): number {
  const wide = (room.width - around.left) / columns - 8;
  const high = (room.height - around.top - around.foot) / rows - around.under;
  return Math.floor(Math.min(360, Math.max(88, Math.min(wide, high))));
}

/** What is asked of the server for one cell. */
export function cellOf(wall: Wall, { row, column }: Place) {
  const [r, c] = [wall.rows[row], wall.columns[column]];
  return {
    look: r.look,
    dialect: r.dialect ?? null,
    at: r.at ?? null,
    form: c.form,
    light: c.light,
    lightRotation: wall.lightRotation + c.turn,
    exposure: wall.exposure,
    view: wall.view,
    yaw: wall.yaw ?? null,
    pitch: wall.pitch ?? null,
    zoom: wall.zoom,
    size: cellSize,
    samples: wall.samples,
  };
}

/** What the viewport is told of a cell by name. */
export const wallCellName = ({ row, column }: Place) => `${row}/${column}`;

/** The look of a row, as the viewport asks for it. */
export const wallSubject = (row: WallRow): Subject => ({
  id: row.look,
  dialect: row.dialect ?? null,
  variant: null,
  soloLane: null,
  soloSteps: null,
  at: row.at ?? null,
  live: [],
});

/** How a cell is looked at: as its proof is. */
export const wallSight = (wall: Wall, { column }: Place): Sight => ({
  yaw: wall.yaw ?? null,
  pitch: wall.pitch ?? null,
  zoom: wall.zoom,
  lightRotation: wall.lightRotation + wall.columns[column].turn,
  exposure: wall.exposure,
  blurred: false,
  layer: null,
  tile: null,
});

/** The address of a cell's picture. The revision makes a changed look a new picture. */
export function cellSource(wall: Wall, place: Place, revision: number): string {
  const query = new URLSearchParams();
  for (const [name, value] of Object.entries(cellOf(wall, place))) if (value !== null) query.set(name, String(value));
  return `/api/v1/proofs/cell?${query}&r=${revision}`;
}

export const revisionOf = (row: WallRow, looks: LookSummary[]) => looks.find((l) => l.id === row.look)?.revision ?? 0;

export function rowName(row: WallRow, looks: LookSummary[], studio: Studio): string {
  const look = looks.find((l) => l.id === row.look)?.name ?? "a look that is gone";
  const dialect = studio.dialects.find((d) => d.id === row.dialect)?.title;
  return look + (dialect ? `, ${dialect}` : "") + (row.at ? `, edit ${row.at}` : "");
}

export const columnName = (c: WallColumn) => `${nameOf(c.form)}, ${nameOf(c.light)}${c.turn ? `, ${c.turn}°` : ""}`;

/** The light turned once around in eight steps. */
export const lightWalk = (c: WallColumn): WallColumn[] => Array.from({ length: 8 }, (_, i) => ({ ...c, turn: i * 45 }));
