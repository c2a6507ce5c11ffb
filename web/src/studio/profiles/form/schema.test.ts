import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import {
  asNumbers,
  asWords,
  blank,
  isOptional,
  kindOf,
  problemsAt,
  problemsWithin,
  resolved,
  type Schema,
} from "./schema";

const whole = JSON.parse(readFileSync(`${__dirname}/../../../../../profiles/profile.schema.json`, "utf8")) as Schema;
const of = (...path: string[]) =>
  path.reduce((at, part) => resolved(whole, part === "*" ? at.items! : at.properties![part]), whole);

describe("the shipped schema of profiles", () => {
  it.each([
    [["id"], "text"],
    [["document"], "choice"],
    [["version"], "number"],
    [["inputs"], "list"],
    [["inputs", "*", "type"], "choice"],
    [["inputs", "*", "default"], "numbers"],
    [["inputs", "*", "choices"], "words"],
    [["inputs", "*", "switch"], "switch"],
    [["mapping"], "table"],
    [["nodes"], "table"],
    [["placement"], "object"],
    [["placement", "pivot"], "numbers"],
    [["displacement", "metres"], "formula"],
    [["textures", "formats"], "words"],
    [["approximations"], "list"],
    [["approximations", "*", "when"], "formula"],
  ])("%s is entered as %s", (path, kind) => expect(kindOf(of(...path))).toBe(kind));

  it("has a section for every part, and a label for everything that is shown", () => {
    const shown = whole["x-sections"]!.flatMap((s) => s.fields);
    expect([...shown].sort()).toEqual(Object.keys(whole.properties!).sort());
    for (const name of shown) expect(of(name).title, name).toBeTruthy();
  });

  it("begins a new part with what it cannot do without", () => {
    expect(blank(whole, of("displacement"))).toEqual({ metres: "", on: "" });
    expect(blank(whole, of("placement"))).toMatchObject({ scale: "multiply", order: "rotate-scale", shift: "before" });
    expect(blank(whole, of("losses", "*"))).toMatchObject({ input: "", note: "" });
  });

  it("tells what may be left out", () => {
    expect(isOptional(whole, "displacement")).toBe(true);
    expect(isOptional(whole, "mapping")).toBe(false);
  });
});

describe("problems and entries", () => {
  const problems = [
    { path: "mapping/skin", sentence: "one" },
    { path: "mapping/skin_cover", sentence: "two" },
    { path: "mapping", sentence: "three" },
  ];
  it("are counted by field and within it", () => {
    expect(problemsAt(problems, ["mapping", "skin"])).toEqual(["one"]);
    expect(problemsWithin(problems, ["mapping"])).toBe(3);
    expect(problemsWithin(problems, ["mapping", "skin"])).toBe(1);
  });
  it("are read with commas", () => {
    expect(asWords(" png, jpeg ,,")).toEqual(["png", "jpeg"]);
    expect(asNumbers("0.5, 0.5")).toEqual([0.5, 0.5]);
    expect(asNumbers("a")).toBeNull();
  });
});
