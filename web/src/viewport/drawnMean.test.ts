import { expect, it } from "vitest";
import { drawnMean } from "./drawnMean";

/** Red rises from the left, green from the bottom. */
const ramp = (side: number) => ({
  side,
  numbers: Float32Array.from({ length: 4 * side * side }, (_, i) => {
    const [x, y] = [(i >> 2) % side, Math.floor((i >> 2) / side)];
    return [x, y, 1, 1][i % 4];
  }),
});

const near = (...numbers: number[]) => numbers.map((n): unknown => expect.closeTo(n, 6));

it("reads one pixel where the square is no larger", () => {
  expect(drawnMean(ramp(8), 0.5 / 8, 0.5 / 8, 1 / 8)).toEqual([0, 7, 1]);
  expect(drawnMean(ramp(8), 7.5 / 8, 7.5 / 8, 0)).toEqual([7, 0, 1]);
});

it("takes the mean of a square, which ends at the picture's edges", () => {
  expect(drawnMean(ramp(8), 3.5 / 8, 3.5 / 8, 3 / 8)).toEqual(near(3, 4, 1));
  expect(drawnMean(ramp(8), 0, 1, 3 / 8)).toEqual(near(0.5, 0.5, 1));
});
