import { describe, expect, it } from "vitest";
import { uvWords } from "./uvs";

const fine = {
  overlap: 0,
  outside: 0,
  flipped: 0,
  stretchP95: 1.001,
  texelsPerMetre: 2048.4,
  laid: 1,
  withoutUvs: [],
  over: null,
  otherLooks: 0,
  steps: [],
};

describe("figures of UVs", () => {
  it("says what is wrong first, and nothing of what is right", () => {
    expect(uvWords(fine)).toBe("95 % of the area stretched at most 1.0 times · 2048 pixels a metre");
    expect(uvWords({ ...fine, overlap: 0.123, flipped: 0.5, outside: 0.0421, texelsPerMetre: null })).toBe(
      "12 % overlap · 50 % of triangles mirrored · 4.2 % of triangles outside the tile · 95 % of the area stretched at most 1.0 times",
    );
  });

  it("says whose map is seen, and that others are not", () => {
    expect(uvWords({ ...fine, over: "cloth" })).toMatch(/ · over cloth$/);
    expect(uvWords({ ...fine, over: "cloth", otherLooks: 2 })).toMatch(
      /over cloth, the other looks \(2\) are not shown$/,
    );
  });

  it("says no figure where no part has any", () => {
    expect(uvWords({ ...fine, laid: 0, stretchP95: null, texelsPerMetre: null, withoutUvs: ["/radio/foot 1"] })).toBe(
      "nothing to measure · without UVs: foot 1",
    );
  });

  it("names parts that have none, and stretch that is no number", () => {
    expect(uvWords({ ...fine, stretchP95: null, texelsPerMetre: null, withoutUvs: ["/radio/foot 1"] })).toBe(
      "more than 5 % of the area without any extent on the map · without UVs: foot 1",
    );
  });
});
