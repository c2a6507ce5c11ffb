import { describe, expect, it } from "vitest";
import { coarsest, finenessAfter } from "./fineness";

const after = (times: number[]) => times.reduce(finenessAfter, coarsest).places;

describe("how fine a frame is drawn", () => {
  it("is once until a frame was quick", () => {
    expect(after([Infinity, 30, 8])).toBe(1);
    expect(after([Infinity, 30, 5])).toBe(2);
  });

  it("becomes finer as long as there is time", () => {
    expect(after([5, 12, 15, 9])).toBe(2);
    expect(after([2, 4, 5, 5])).toBe(3);
  });

  it("goes back for good where it was too slow", () => {
    expect(after([5, 18, 4, 4])).toBe(1);
    expect(after([2, 4, 18, 4, 4])).toBe(2);
  });
});
