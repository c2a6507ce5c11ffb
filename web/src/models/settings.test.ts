import { describe, expect, it } from "vitest";
import type { ModelPart } from "../api/types";
import { changing, common, ownWords, placing, quarter, settingsOf, takingBack } from "./settings";

const part = (path: string, own: ModelPart["own"] = {}, projection: string | null = null) =>
  ({ path, name: path, own, projection }) as ModelPart;

describe("what parts have of their own", () => {
  it("flips each part from what it has, and is taken back as it was", () => {
    const parts = [
      part("/a"),
      part("/b", { placement: { ...placing([part("/x")], () => ({ mirrorV: true }))[0].now.own.placement! } }),
    ];
    const done = placing(parts, (now) => ({ mirrorV: !now.mirrorV }));
    expect(done.map((c) => c.now.own.placement?.mirrorV)).toEqual([true, false]);
    expect(done.map((c) => c.was)).toEqual(parts.map(settingsOf));
    expect(takingBack(done).map((c) => c.now)).toEqual(parts.map(settingsOf));
  });

  it("keeps what is not changed", () => {
    const tinted = part("/a", { tint: { r: 1, g: 0, b: 0, space: "acescg" } }, "box");
    const [change] = placing([tinted], () => ({ offsetU: 0.25 }));
    expect(change.now.own.tint).toEqual(tinted.own.tint);
    expect(change.now.projection).toBe("box");
    expect(changing([tinted], (now) => ({ ...now, projection: null }))[0].now.own).toEqual(tinted.own);
  });

  it("turns by quarters within half a turn either way", () => {
    expect([0, 90, 180, -90].map(quarter)).toEqual([90, 180, -90, 0]);
  });

  it("says in words what is there", () => {
    expect(ownWords(part("/a"))).toBe("");
    const [change] = placing([part("/a", {}, "cylinder")], () => ({ mirrorV: true, rotationDegrees: 90 }));
    expect(ownWords(part("/a", change.now.own, "cylinder"))).toBe(
      "UVs around the upward axis, flipped along V, turned 90°",
    );
  });

  it("has one value only where all parts agree", () => {
    expect(common([part("/a", {}, "box"), part("/b", {}, "box")], (p) => p.projection)).toBe("box");
    expect(common([part("/a", {}, "box"), part("/b")], (p) => p.projection)).toBeNull();
  });
});
