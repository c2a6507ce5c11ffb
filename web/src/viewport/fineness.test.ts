import { describe, expect, it } from "vitest";
import { finenessAfter, placesOf, type Fineness } from "./fineness";

const after = (times: number[]) => times.reduce<Fineness>((now, t) => finenessAfter(now, t), 1);

describe("how fine a frame is drawn", () => {
  it("is once until a frame was quick", () => {
    expect(placesOf(after([Infinity, 30, 8]))).toBe(1);
    expect(placesOf(after([Infinity, 30, 5]))).toBe(2);
  });

  it("stays twice while that is quick enough", () => expect(placesOf(after([5, 12, 15, 9]))).toBe(2));

  it("goes back for good where twice is too slow", () => expect(placesOf(after([5, 18, 4, 4]))).toBe(1));
});
