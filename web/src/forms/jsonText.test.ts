import { describe, expect, it } from "vitest";
import { lineOf, partAt, readText, withItem, withKey, withoutPart, withPart } from "./jsonText";

const rules = `{
  // As scanned.
  "maps": ["baseColor", "normal"], /* both */
  "pixels": { "least": 1024, "most": 8192 },
  "baseLuminance": { "metal": { "least": 0.2 } },
}
`;

describe("a text with a form over it", () => {
  it("is read with comments and trailing commas", () => {
    const { value, fault } = readText(rules);
    expect(fault).toBeNull();
    expect(partAt(value, ["pixels", "most"])).toBe(8192);
    expect(partAt(value, ["none", "of", "these"])).toBeUndefined();
  });

  it("says the line of its first fault", () => {
    expect(readText('{\n  "a": 1\n  "b": 2\n}').fault).toEqual({ line: 3, sentence: "A comma is missing." });
    expect(readText('{\n  "a": "x\n}').fault?.line).toBe(2);
    expect(readText("").fault).not.toBeNull();
  });

  it("changes one part and leaves every other character", () => {
    expect(withPart(rules, ["pixels", "least"], 512)).toBe(rules.replace("1024", "512"));
    expect(withPart(rules, ["maps"], ["height"])).toContain("// As scanned.");
  });

  it("makes what is around a new part", () => {
    const text = withPart("{}", ["baseLuminance", "dielectric", "most"], 0.85);
    expect(readText(text).value).toEqual({ baseLuminance: { dielectric: { most: 0.85 } } });
  });

  it("removes a part with what is empty then, and nothing that is not there", () => {
    expect(readText(withoutPart(rules, ["baseLuminance", "metal", "least"])).value).toEqual({
      maps: ["baseColor", "normal"],
      pixels: { least: 1024, most: 8192 },
    });
    expect(withPart(rules, ["names"], undefined)).toBe(rules);
    expect(readText(withoutPart('{ "a": { "b": 1, "c": 2 } }', ["a", "b"])).value).toEqual({ a: { c: 2 } });
  });

  it("adds to a list, and makes the list", () => {
    expect(readText(withItem(rules, ["maps"], "height")).value).toMatchObject({
      maps: ["baseColor", "normal", "height"],
    });
    expect(readText(withItem("{}", ["readings"], "acescg")).value).toEqual({ readings: ["acescg"] });
    expect(readText(withItem("[\n]\n", [], { phrase: "x" })).value).toEqual([{ phrase: "x" }]);
  });

  it("renames a key where it stands", () => {
    const text = withKey(rules, ["pixels"], "sides");
    expect(text).toBe(rules.replace('"pixels"', '"sides"'));
  });

  it("finds the line of a part, or of what is around it", () => {
    expect(lineOf(rules, ["pixels", "least"])).toBe(4);
    expect(lineOf(rules, ["baseLuminance", "dielectric"])).toBe(5);
    expect(lineOf(rules, ["unknown"])).toBe(1);
  });
});
