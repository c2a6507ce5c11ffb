import { describe, expect, it } from "vitest";
import type { ShownNetwork } from "../../api/types";
import { firstView, pathThrough } from "./path";

const network = {
  nodes: [
    { name: "map", ports: [] },
    { name: "gain", ports: [{ name: "in", from: "map" }] },
    { name: "other", ports: [] },
    { name: "surface", ports: [{ name: "colour", from: "gain" }, { name: "coat", from: "other" }, { name: "ior" }] },
  ],
} as unknown as ShownNetwork;

describe("the way from map to surface", () => {
  it("goes both ways from a node", () => {
    expect([...pathThrough(network, "gain")].sort()).toEqual(["gain", "map", "surface"]);
    expect([...pathThrough(network, "surface")].sort()).toEqual(["gain", "map", "other", "surface"]);
    expect([...pathThrough(network, "other")].sort()).toEqual(["other", "surface"]);
  });
});

describe("the first view of a network", () => {
  const room = { width: 800, height: 600 };

  it("shows a small one whole, in the middle, no larger than it is", () => {
    expect(firstView({ x: 0, y: 0, width: 400, height: 200 }, room)).toEqual({ x: 200, y: 200, zoom: 1 });
  });

  it("never makes it too small to be read, and shows the surface at its right end", () => {
    const view = firstView({ x: -100, y: 0, width: 3000, height: 4000 }, room);
    expect(view.zoom).toBe(0.8);
    expect(view.x + (-100 + 3000) * view.zoom).toBe(800 - 16);
    expect(view.y).toBe(16);
  });
});
