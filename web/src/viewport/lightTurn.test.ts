import { describe, expect, it } from "vitest";
import { turnedDirection } from "./lightTurn";

describe("a light that turns", () => {
  it("turns about the vertical, from the camera's side to the right", () => {
    const [x, y, z] = turnedDirection([0, 0.6, 0.8], Math.PI / 2);
    expect([x, y, z].map((v) => Math.round(v * 1e6) / 1e6)).toEqual([0.8, 0.6, 0]);
  });

  it.each([0.4, 1.9, 3.1, -2])("comes back from %d radians", (angle) => {
    const back = turnedDirection(turnedDirection([0.36, 0.48, -0.8], angle), -angle);
    [0.36, 0.48, -0.8].forEach((v, i) => expect(back[i]).toBeCloseTo(v, 6));
  });
});
