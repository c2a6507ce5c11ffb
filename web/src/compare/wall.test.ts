import { describe, expect, it } from "vitest";
import { cellSide, cellSource, columnName, emptyWall, lightWalk, samePlace } from "./wall";

describe("a wall of proofs", () => {
  it("fills its room as long as it is seen whole", () => {
    const room = { width: 1200, height: 800 };
    expect(cellSide(1, 1, room)).toBe(360);
    for (const [rows, columns] of [
      [2, 3],
      [4, 2],
      [3, 5],
    ]) {
      const side = cellSide(rows, columns, room);
      expect(side * columns + 160).toBeLessThanOrEqual(room.width);
      expect((side + 30) * rows + 130).toBeLessThanOrEqual(room.height);
    }
    expect(cellSide(9, 20, room)).toBe(88);
    // Before anything is measured.
    expect(cellSide(1, 1, { width: 0, height: 0 })).toBe(88);
  });

  it("names its columns as people do", () => {
    expect(columnName({ form: "vessel", light: "lowsun", turn: 45 })).toBe("Vessel, Low sun, 45°");
    expect(lightWalk({ form: "tile", light: "night", turn: 0 }).map((c) => c.turn)).toEqual([
      0, 45, 90, 135, 180, 225, 270, 315,
    ]);
  });

  it("asks for a cell by everything that makes its picture, and by the revision", () => {
    const wall = { ...emptyWall, rows: [{ look: "a", dialect: "gltf", at: null }] };
    const query = new URLSearchParams(cellSource(wall, { row: 0, column: 0 }, 7).split("?")[1]);
    expect(Object.fromEntries(query)).toMatchObject({
      look: "a",
      dialect: "gltf",
      form: "vessel",
      light: "softbox",
      r: "7",
    });
    expect(query.has("at")).toBe(false);
    expect(samePlace({ row: 0, column: 1 }, { row: 0, column: 1 })).toBe(true);
    expect(samePlace(null, { row: 0, column: 1 })).toBe(false);
  });
});
