import { DataUtils } from "three";
import { describe, expect, it } from "vitest";
import { guideColumns, guideOf, guideRows } from "./guide";

const width = 256;

/** A light that is dark but for one patch of it. */
function light(bright: (x: number, y: number) => number) {
  const sharp = new Uint16Array((4 * width * width) / 2);
  for (let y = 0; y < width / 2; y++)
    for (let x = 0; x < width; x++)
      for (let c = 0; c < 3; c++) sharp[4 * (y * width + x) + c] = DataUtils.toHalfFloat(bright(x, y));
  return sharp;
}

const share = (guide: Float32Array, row: number, column: number) =>
  guide[row * guideColumns + column] - (column > 0 ? guide[row * guideColumns + column - 1] : 0);

describe("guideOf", () => {
  it("ends every row and the rows themselves at one, and never falls", () => {
    const guide = guideOf(
      light((x, y) => (x % 7) + (y % 5)),
      width,
    );
    for (let row = 0; row <= guideRows; row++) {
      const count = row < guideRows ? guideColumns : guideRows;
      expect(guide[row * guideColumns + count - 1]).toBeCloseTo(1, 5);
      for (let i = 1; i < count; i++) expect(share(guide, row, i)).toBeGreaterThan(0);
    }
  });

  it("gives even light as often as it is large on the sphere", () => {
    const guide = guideOf(
      light(() => 1),
      width,
    );
    for (let row = 0; row < guideRows; row++) {
      const part = Math.cos((Math.PI * row) / guideRows) - Math.cos((Math.PI * (row + 1)) / guideRows);
      expect(share(guide, guideRows, row)).toBeCloseTo(part / 2, 3);
      expect(share(guide, row, 5)).toBeCloseTo(1 / guideColumns, 4);
    }
  });

  it("asks for a lamp nearly always, and for the dark now and then", () => {
    const guide = guideOf(
      light((x, y) => (x >= 64 && x < 66 && y >= 40 && y < 42 ? 1000 : 0)),
      width,
    );
    expect(share(guide, guideRows, 20)).toBeGreaterThan(0.99);
    expect(share(guide, 20, 32)).toBeGreaterThan(0.99);
    expect(share(guide, 20, 90)).toBeGreaterThan(0);
  });
});
