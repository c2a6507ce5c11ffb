import { describe, expect, it } from "vitest";
import { liveAddress, liveFields, livePlacement } from "./liveNumbers";

describe("numbers while they move", () => {
  it("are named as the shader names them", () =>
    expect(
      liveFields("base_color", "dye", { gain: 1.5, amount: { value: 0.25, chain: null }, mode: "multiply", on: true }),
    ).toEqual({ "base_color/dye#gain": [1.5], "base_color/dye/amount": [0.25] }));

  it("of a placement are those that move, of a curve three for each point", () => {
    expect(livePlacement("placement#", { repeatsU: 2, repeatsV: 2, mirrorU: true })).toEqual({
      "placement#repeatsU": [2],
      "placement#repeatsV": [2],
    });
    expect(liveFields("base_color", "own", { placement: { repeatsU: 3, pivotU: 0.5, variation: null } })).toEqual({
      "base_color/own#placement.repeatsU": [3],
    });
    // By hand: slopes 2 and 0.5, their mean within the limit.
    const points = [
      { x: 0, y: 0 },
      { x: 0.25, y: 0.5 },
      { x: 1, y: 0.875 },
    ];
    expect(liveFields("base_color", "bend", { points })).toEqual({
      "base_color/bend#points": [0, 0, 2, 0.25, 0.5, 1.25, 1, 0.875, 0.5],
    });
  });

  it("belong to what is selected", () => {
    expect(liveAddress({ lane: "coat_weight", step: -1 }, null)).toEqual(["coat_weight"]);
    expect(liveAddress({ lane: "base_color", step: 1 }, "dye")).toEqual(["base_color/dye"]);
    expect(liveAddress(null, null)).toEqual(["placement", "size"]);
  });
});
