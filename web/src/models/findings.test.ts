import { describe, expect, it } from "vitest";
import type { ModelFinding, ModelPart } from "../api/types";
import { confirming, settingsFor } from "./findings";

const part = (path: string, lookId: string | null, projection: string | null = null) =>
  ({ path, name: path, own: {}, projection, lookId }) as ModelPart;

const finding = (parts: string[], settings: NonNullable<ModelFinding["repair"]>["settings"]): ModelFinding => ({
  code: "uvs.flipped",
  severity: "warning",
  parts,
  message: "",
  evidence: "",
  fix: "Flip U",
  repair: { kind: "settings", settings },
});

describe("findings of a model", () => {
  it("are mended from what is seen of each part, and leave out parts that are gone", () => {
    const mirrored = { placement: { mirrorU: true } } as ModelPart["own"];
    const found = finding(
      ["/a", "/gone"],
      [
        { path: "/a", own: mirrored, projection: "box" },
        { path: "/gone", own: {}, projection: null },
      ],
    );
    expect(settingsFor(found, [part("/a", null, "box")])).toEqual([
      { path: "/a", was: { own: {}, projection: "box" }, now: { own: mirrored, projection: "box" } },
    ]);
    expect(settingsFor({ ...found, repair: null }, [part("/a", null)])).toEqual([]);
  });

  it("are confirmed look by look, on the parts that still have one", () => {
    const parts = [
      part("/a", "brass"),
      part("/b", "steel"),
      part("/c", "brass"),
      part("/d", null),
      part("/e", "brass"),
    ];
    expect(confirming(finding(["/a", "/b", "/c", "/d"], []), parts)).toEqual([
      {
        look: "brass",
        parts: [
          { path: "/a", was: "brass" },
          { path: "/c", was: "brass" },
        ],
      },
      { look: "steel", parts: [{ path: "/b", was: "steel" }] },
    ]);
  });
});
