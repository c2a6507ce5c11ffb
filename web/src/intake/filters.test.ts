import { describe, expect, it } from "vitest";
import type { MapSet } from "../api/types";
import { alternatesOf, columns, mapsIn, missing, ready } from "./columns";
import { filtered } from "./filters";

const map = (role: string, confidence = 1, udim: number | null = null) => ({
  role,
  confidence,
  udim,
  path: `${role}${udim ?? ""}.png`,
});
const set = (name: string, maps: object[], alternates: object[] = []) =>
  ({ name, maps, alternates, tags: [], previews: [] }) as unknown as MapSet;

const whole = set("blue_tile", [map("baseColor"), map("roughness"), map("normal"), map("metalness")]);
const unsure = set("rope", [map("baseColor", 0.6), map("roughness"), map("normal"), map("metalness")]);
const bare = set("wall", [map("roughness")]);

describe("surfaces of a delivery", () => {
  it("are found by their state", () => {
    const names = (filter: Parameters<typeof filtered>[1], words = "") =>
      filtered([whole, unsure, bare], filter, words).map((s) => s.name);
    expect(names("all")).toEqual(["blue_tile", "rope", "wall"]);
    expect(names("ready")).toEqual(["blue_tile", "wall"]);
    expect(names("look")).toEqual(["rope"]);
    expect(names("missing")).toContain("wall");
    expect(names("missing")).not.toContain("blue_tile");
    expect(names("refused")).toEqual([]);
    expect(names("all", "TILE blue")).toEqual(["blue_tile"]);
    expect(names("ready", "rope")).toEqual([]);
  });

  it("are ready when no map asks", () => expect([whole, unsure].map(ready)).toEqual([true, false]));

  it("say which maps and which UDIM tiles are missing", () => {
    const tiles = set("body", [
      map("baseColor", 1, 1001),
      map("baseColor", 1, 1002),
      map("roughness", 1, 1001),
      map("normal", 1, 1001),
      map("normal", 1, 1002),
    ]);
    expect(missing(tiles)).toContain("tile 1002 of roughness");
    expect(missing(bare)).toContain("base colour");
  });

  it("have each role in one column", () => {
    const roles = columns.flatMap((c) => c.roles);
    expect(new Set(roles).size).toBe(roles.length);
    expect(
      mapsIn(
        whole,
        columns.find((c) => c.id === "rough")!,
      ).map((m) => m.role),
    ).toEqual(["roughness"]);
  });

  it("show every alternate beside some map", () => {
    const gloss = { map: map("glossiness"), insteadOf: "roughness.png" };
    const odd = { map: map("curvature"), insteadOf: "none.png" };
    const both = set("tile", [map("baseColor"), map("roughness")], [gloss, odd]);
    expect(both.maps.flatMap((m) => alternatesOf(both, m))).toHaveLength(2);
    expect(alternatesOf(both, both.maps[1])).toEqual([gloss]);
  });
});
