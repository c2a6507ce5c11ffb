import { describe, expect, it } from "vitest";
import { changes } from "./following";

const bent = { name: "coat_weight", component: 0, at: [3, 8], values: [0, 1, 3], numbers: [0, 5, 2, 5, 4, 9] };
const from = (value: number, to: number) => changes({ ...bent, value }, to);

describe("numbers of a shader that follow one of the look", () => {
  it("change on straight lines between what is known", () => {
    expect(from(0, 0.5)).toEqual([
      [3, 1],
      [8, 0],
    ]);
    expect(from(0.5, 2)).toEqual([
      [3, 2],
      [8, 2],
    ]);
  });

  it("go on beyond the ends, where a typed value may lie", () => {
    expect(from(3, 4)).toEqual([
      [3, 1],
      [8, 2],
    ]);
    expect(from(0, -1)).toEqual([
      [3, -2],
      [8, 0],
    ]);
  });

  it("are where they were when nothing has moved", () => {
    expect(from(3, 3).map(([, by]) => by)).toEqual([0, 0]);
  });
});
