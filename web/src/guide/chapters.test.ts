import { existsSync, readdirSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { chapterOf } from "../../plugins/guide";
import { chapterFor, chapters, sectionsWith, words } from "./chapters";

const folder = `${__dirname}/../../../docs/guide`;

describe("the guide", () => {
  it("has its chapters in the order of a first week's work", () => {
    expect(chapters.map((c) => c.id)).toEqual([
      "first-look",
      "readings",
      "layers",
      "converting",
      "collections",
      "models",
      "own-renderer",
      "words",
    ]);
  });

  it("is about every place of the rail", () => {
    for (const view of ["intake", "looks", "models", "compare", "collections", "studio"])
      expect(chapterFor(view).views, view).toContain(view);
  });

  it("shows every picture that there is, and none that there is not", () => {
    const html = chapters.flatMap((c) => c.sections.map((s) => s.html)).join("");
    for (const file of readdirSync(`${folder}/pictures`)) expect(html).toContain(file.replace(".png", ""));
    expect(html).not.toContain("%%");
    expect(existsSync(`${folder}/pictures`)).toBe(true);
  });

  it("is found by words of its titles first, then of its text", () => {
    expect(sectionsWith("glossiness")[0].section.title).toBe("Glossiness");
    expect(sectionsWith("normal direction")[0].section.title).toBe("Normal direction");
    expect(sectionsWith("spreadsheet").map((f) => f.chapter.id)).toContain("layers");
    expect(sectionsWith("zebra")).toEqual([]);
    expect(sectionsWith("")).toEqual([]);
  });

  it("explains our own words", () => {
    expect(words.length).toBeGreaterThan(20);
    expect(words.find(([w]) => w === "lane")?.[1]).toContain("left to right");
  });

  it("refuses a chapter without a head", () => {
    expect(() => chapterOf("## No head\n", "x")).toThrow("title");
  });

  it("does not put text of a chapter into its own marks", () => {
    const { chapter } = chapterOf('---\ntitle: T\nviews: x\norder: 1\n---\n\n## A <b> & "c"\n\nOne.\n', "t");
    expect(chapter.sections[0]).toMatchObject({ title: 'A <b> & "c"', id: "a-b-c", text: "One." });
  });
});
