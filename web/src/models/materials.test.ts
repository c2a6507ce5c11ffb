import { describe, expect, it } from "vitest";
import type { MaterialInfo, ModelPart } from "../api/types";
import { asked, foundWords, isTaken, pictureOf, replacedWords, valueWords, withPicture, withTaken } from "./materials";

const part = (path: string, lookId: string | null, lookName: string | null = null): ModelPart => ({
  path,
  name: path.slice(1),
  material: null,
  triangles: 1,
  uvSets: [],
  area: 1,
  size: [1, 1, 1],
  own: {},
  projection: null,
  lookId,
  lookName,
  boundBy: null,
  confidence: null,
  reasons: [],
  candidates: [],
});

const choice = (content: string, sure: boolean) =>
  ({
    file: { content },
    sure,
    score: sure ? 1 : 0.7,
    reason: "",
    from: "",
  }) as MaterialInfo["textures"][number]["choices"][number];

const steel: MaterialInfo = {
  number: 0,
  name: "steel",
  parts: ["/knob", "/bolt"],
  textures: [
    { role: "baseColor", written: "D:/a.png", fault: null, choices: [choice("a", true), choice("b", false)] },
    { role: "roughness", written: "D:/r.png", fault: null, choices: [choice("r", false)] },
    { role: "normal", written: "D:/n.png", fault: null, choices: [] },
  ],
  values: { base_metalness: [1], base_color: [0.5, 0.25, 0.12345] },
  lookId: null,
  lookName: null,
};
const parts = [part("/knob", null), part("/bolt", "l1", "brass"), part("/foot", null)];

describe("a model's own materials", () => {
  it("are taken where a part is grey and no look was made yet, unless somebody says", () => {
    expect(isTaken({}, steel, parts)).toBe(true);
    expect(isTaken({}, { ...steel, lookId: "made" }, parts)).toBe(false);
    expect(isTaken({}, { ...steel, parts: ["/bolt"] }, parts)).toBe(false);
    expect(isTaken({}, { ...steel, parts: [] }, parts)).toBe(false);
    // Nothing was found and it has no values: the look would be plain white.
    expect(isTaken({}, { ...steel, values: {}, textures: [steel.textures[2]] }, parts)).toBe(false);
    expect(isTaken(withTaken({}, 0, false), steel, parts)).toBe(false);
  });

  it("take the likeliest picture, or the one that is chosen, or none", () => {
    expect([0, 1, 2].map((t) => pictureOf({}, steel, t))).toEqual(["a", "r", ""]);
    const chosen = withPicture(withPicture({}, 0, 0, "b"), 0, 1, "");
    expect(asked(chosen, [steel], parts)).toEqual([
      {
        number: 0,
        pictures: [
          { role: "baseColor", content: "b" },
          { role: "roughness", content: null },
          { role: "normal", content: null },
        ],
        parts: [
          { path: "/knob", was: null },
          { path: "/bolt", was: "l1" },
        ],
      },
    ]);
    expect(asked(withTaken({}, 0, false), [steel], parts)).toEqual([]);
  });

  it("say what was found, what would be replaced, and their values", () => {
    expect(foundWords([steel])).toBe("3 pictures · 1 found · 1 proposed, look at it · 1 not found");
    expect(foundWords([{ ...steel, textures: [] }])).toBe("1 material names no pictures");
    expect(replacedWords(steel, parts)).toBe("replaces brass on 1 part");
    expect(replacedWords({ ...steel, parts: ["/knob"] }, parts)).toBe("");
    expect(valueWords(steel.values)).toBe("base metalness 1 · base colour 0.5 0.25 0.123");
  });
});
