import { describe, expect, it } from "vitest";
import { liveAddress, liveFields } from "./liveNumbers";

describe("numbers while they move", () => {
  it("are named as the shader names them", () =>
    expect(
      liveFields("base_color", "dye", { gain: 1.5, amount: { value: 0.25, chain: null }, mode: "multiply", on: true }),
    ).toEqual({ "base_color/dye#gain": [1.5], "base_color/dye/amount": [0.25] }));

  it("belong to what is selected", () => {
    expect(liveAddress({ lane: "coat_weight", step: -1 }, null)).toEqual(["coat_weight"]);
    expect(liveAddress({ lane: "base_color", step: 1 }, "dye")).toEqual(["base_color/dye"]);
    expect(liveAddress(null, null)).toEqual([]);
  });
});
