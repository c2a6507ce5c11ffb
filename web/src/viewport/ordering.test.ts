import { describe, expect, it } from "vitest";
import { orderedByLook } from "./ordering";

const parts = [
  { path: "/a", first: 0, triangles: 1 },
  { path: "/b", first: 1, triangles: 2 },
  { path: "/c", first: 3, triangles: 1 },
];
const indices = Uint32Array.from([0, 1, 2, 10, 11, 12, 20, 21, 22, 30, 31, 32]);

describe("triangles by their looks", () => {
  it("puts the parts of a look side by side", () => {
    const lookOf = new Map([
      ["/a", 1],
      ["/b", 0],
      ["/c", 1],
    ]);
    const { indices: ordered, ranges } = orderedByLook(indices, parts, lookOf, 2);
    expect([...ordered]).toEqual([10, 11, 12, 20, 21, 22, 0, 1, 2, 30, 31, 32]);
    expect(ranges).toEqual([
      [0, 2],
      [2, 4],
    ]);
  });

  it("leaves out what has no look, and keeps a look that lies on nothing", () => {
    const { indices: ordered, ranges } = orderedByLook(indices, parts, new Map([["/b", 1]]), 2);
    expect([...ordered]).toEqual([10, 11, 12, 20, 21, 22]);
    expect(ranges).toEqual([
      [0, 0],
      [0, 2],
    ]);
  });
});
