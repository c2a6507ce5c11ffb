import { readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { findingName, nameOf, named } from "./names";

/** A source of the core; tests run in web/. */
const core = (path: string) => readFileSync(join(process.cwd(), "../src", path), "utf8");
const quoted = (text: string) => [...text.matchAll(/"([a-z0-9_-]+)"/g)].map((m) => m[1]);

describe("names for identifiers", () => {
  it("has one for every light, shape, view and layer that the core knows", () => {
    const lists = [
      /Ids = \[([^\]]*)\]/.exec(core("Kiln.Proof/Lights/Lights.cs"))![1],
      /Ids = \[([^\]]*)\]/.exec(core("Kiln.Proof/Geometry/Forms.cs"))![1],
      /Ids = \[([^\]]*)\]/.exec(core("Kiln.Colour/Views/View.cs"))![1],
      /Light = \[([^\]]*)\]/.exec(core("Kiln.Proof/Rendering/ProofLayers.cs"))![1],
    ];
    const ids = lists.flatMap(quoted);
    expect(ids.length).toBeGreaterThan(18);
    for (const id of ids) expect(nameOf(id), id).toMatch(/^[A-Z]/);
  });

  it("shows what a studio named as it was named", () => {
    expect(nameOf("harbour noon")).toBe("harbour noon");
    expect(named(["softbox", "my_light"])).toEqual([
      { value: "softbox", words: "Softbox" },
      { value: "my_light", words: "my light" },
    ]);
  });

  it("says findings in words", () => expect(findingName("shine.inverted")).toBe("Glossiness not inverted"));
});
