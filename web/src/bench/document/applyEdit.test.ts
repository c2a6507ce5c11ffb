import { beforeAll, describe, expect, it } from "vitest";
import type { LookEdit } from "../../api/types";
import { someLook, someSteps } from "../../testing/looks";
import { laneAt } from "./address";
import { applyEdit } from "./applyEdit";

beforeAll(someSteps);

const after = (edit: LookEdit) => applyEdit(someLook(), edit)!;
const ids = (edit: LookEdit, lane = "base_color") => laneAt(after(edit), lane)?.chain?.steps.map((s) => s.id);

describe("an edit that is drawn before the server answers", () => {
  it("sets a value and leaves the rest as it was", () => {
    const look = someLook();
    const next = applyEdit(look, { edit: "value", lane: "coat_weight", value: { kind: "scalar", number: 0.6 } })!;
    expect(laneAt(next, "coat_weight")?.value).toEqual({ kind: "scalar", number: 0.6 });
    expect(next.lanes!.base_color).toBe(look.lanes!.base_color);
    expect(look.lanes!.coat_weight).toBeUndefined();
  });

  it("inserts, removes, changes and moves steps", () => {
    expect(ids({ edit: "stepInsert", lane: "base_color", at: 1, step: { kind: "gain", id: "s4" } })).toEqual([
      "s1",
      "s4",
      "s2",
      "s3",
    ]);
    expect(ids({ edit: "stepRemove", lane: "base_color", stepId: "s2" })).toEqual(["s1", "s3"]);
    expect(ids({ edit: "stepMove", lane: "base_color", stepId: "s3", to: 0 })).toEqual(["s3", "s1", "s2"]);
    expect(ids({ edit: "stepMove", lane: "base_color", stepId: "none", to: 0 })).toEqual(["s1", "s2", "s3"]);
    const bypassed = after({
      edit: "stepChange",
      lane: "base_color",
      step: { kind: "gain", id: "s1", bypassed: true },
    });
    expect(laneAt(bypassed, "base_color")?.chain?.steps[0]).toEqual({ kind: "gain", id: "s1", bypassed: true });
  });

  it("sets single fields of a step, the placement, the size and displacement", () => {
    const step = after({ edit: "fields", of: "step", lane: "base_color", step: "s1", fields: { gain: 3 } });
    expect(laneAt(step, "base_color")?.chain?.steps[0]).toMatchObject({ gain: 3, offset: 0 });
    expect(after({ edit: "fields", of: "placement", fields: { repeatsU: 4 } }).placement).toEqual({
      repeatsU: 4,
      repeatsV: 2,
    });
    expect(after({ edit: "fields", of: "size", fields: { sizeU: 0.3 } })).toMatchObject({ sizeU: 0.3 });
    const moved = after({ edit: "fields", of: "displacement", fields: { on: true, mode: "both" } });
    expect(moved.displacement).toEqual({ on: true, heightMetres: 0.01 });
    expect(moved.relief).toBe("both");
  });

  it("reaches side rows, each in the form it is kept in", () => {
    const amount = after({
      edit: "lane",
      lane: "base_color/s2/amount",
      content: { value: { kind: "scalar", number: 0.2 } },
    });
    expect((laneAt(amount, "base_color")!.chain!.steps[1] as unknown as { amount: object }).amount).toEqual({
      value: 0.2,
      chain: undefined,
    });
    expect(
      ids(
        { edit: "stepInsert", lane: "base_color/s2/amount", at: 1, step: { kind: "gain", id: "s2" } },
        "base_color/s2/amount",
      ),
    ).toEqual(["s1", "s2"]);
    expect(
      ids(
        { edit: "stepInsert", lane: "base_color/s3/occlusion", at: 0, step: { kind: "invert", id: "s1" } },
        "base_color/s3/occlusion",
      ),
    ).toEqual(["s1"]);
  });

  it("reaches sources, layers and masks; a lane without content is gone", () => {
    expect(
      ids({ edit: "stepInsert", lane: "cover:0:mask", at: 0, step: { kind: "invert", id: "s1" } }, "cover:0:mask"),
    ).toEqual(["s1"]);
    expect(
      laneAt(
        after({ edit: "value", lane: "cover:0:coat_weight", value: { kind: "scalar", number: 1 } }),
        "cover:0:coat_weight",
      ),
    ).toBeDefined();
    expect(after({ edit: "lane", lane: "source:wear", content: null }).sources).toEqual({});
  });

  it("keeps the order of lanes, so that rows do not jump", () => {
    expect(Object.keys(after({ edit: "value", lane: "base_color", value: null }).lanes!)).toEqual([
      "base_color",
      "specular_roughness",
    ]);
  });

  it("makes several at once, or none where one is the server's own", () => {
    const edits = [
      { edit: "tags", tags: ["metal"] },
      { edit: "stepRemove", lane: "base_color", stepId: "s1" },
    ];
    expect(after({ edit: "batch", name: "two", edits })).toMatchObject({ tags: ["metal"] });
    expect(
      applyEdit(someLook(), { edit: "batch", name: "x", edits: [...edits, { edit: "coverRemove", at: 0 }] }),
    ).toBeNull();
    expect(applyEdit(someLook(), { edit: "restore", document: {} })).toBeNull();
    expect(applyEdit(someLook(), { edit: "value", lane: "no:lane:at/all", value: null })).toBeNull();
  });
});
