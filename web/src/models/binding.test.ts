import { describe, expect, it } from "vitest";
import type { ModelPart } from "../api/types";
import { grouped, sizeWords, stateOf, undoing } from "./binding";

const part: ModelPart = {
  path: "/radio/knob",
  name: "knob",
  material: null,
  triangles: 12,
  uvSets: [],
  area: 1,
  size: [1, 1, 1],
  own: {},
  projection: null,
  lookId: null,
  lookName: null,
  boundBy: null,
  confidence: null,
  reasons: [],
  candidates: [],
};

describe("binding", () => {
  it("is undone look by look, and expects what it did", () => {
    const done = {
      look: "brass",
      parts: [
        { path: "/a", was: null },
        { path: "/b", was: "steel" },
        { path: "/c", was: null },
      ],
    };
    expect(undoing(done)).toEqual([
      {
        look: null,
        parts: [
          { path: "/a", was: "brass" },
          { path: "/c", was: "brass" },
        ],
      },
      { look: "steel", parts: [{ path: "/b", was: "brass" }] },
    ]);
  });

  it("says how a part came by its look", () => {
    expect(stateOf(part).words).toBe("no look: plain grey");
    expect(stateOf({ ...part, candidates: ["a", "b"] })).toMatchObject({ asks: true });
    expect(stateOf({ ...part, lookId: "a", boundBy: "name", confidence: 0.972, reasons: ["x"] })).toEqual({
      words: "by name, 97 % sure",
      asks: false,
      reasons: "x",
    });
    expect(stateOf({ ...part, lookId: "a", boundBy: "person" }).words).toBe("chosen");
  });

  it("measures in the unit that suits", () => {
    expect(sizeWords([0.01, 0.02, 0.03])).toBe("10.0 x 20.0 x 30.0 mm");
    expect(sizeWords([0.5, 0.2, 0.1])).toBe("50.0 x 20.0 x 10.0 cm");
    expect(sizeWords([5, 2, 1])).toBe("5.00 x 2.00 x 1.00 m");
    expect(grouped(1234567)).toBe("1\u202f234\u202f567");
  });
});
