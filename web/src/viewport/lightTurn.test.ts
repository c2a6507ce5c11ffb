import { describe, expect, it } from "vitest";
import { turnedDirection, turnedHarmonics } from "./lightTurn";

/** The basis as FormOcclusion.Basis has it. */
const basis = ([x, y, z]: number[]) => [
  0.28209479,
  0.48860251 * x,
  0.48860251 * y,
  0.48860251 * z,
  0.54627422 * (z * z - x * x),
  1.09254843 * x * y,
  0.31539157 * (3 * y * y - 1),
  1.09254843 * y * z,
  1.09254843 * x * z,
];

describe("a light that turns", () => {
  const own = [1, 0.3, -0.2, 0.7, 0.4, -0.5, 0.6, 0.1, -0.3];
  const grey = own.flatMap((v) => [v, v, v]);
  const at = (numbers: number[], d: number[]) => basis(d).reduce((sum, b, i) => sum + b * numbers[i * 3], 0);

  it.each([0, 0.4, 1.9, 3.1, -2])("is the same light seen from the other side: %d", (angle) => {
    const turned = turnedHarmonics(grey, angle);
    for (const d of [
      [0.6, 0.64, 0.48],
      [-0.36, 0.48, -0.8],
      [0, -0.6, 0.8],
    ])
      expect(at(turned, turnedDirection(d, angle))).toBeCloseTo(at(grey, d), 5);
  });
});
