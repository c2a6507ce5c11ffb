import { beforeAll, describe, expect, it } from "vitest";
import { someLook, someSteps } from "../../testing/looks";
import {
  addressWords,
  allChains,
  inputOf,
  isShareable,
  laneAt,
  layerAddress,
  maskAddress,
  parseAddress,
  runOf,
  selectedSteps,
  sideAddress,
  sourceAddress,
  usersOf,
} from "./address";

beforeAll(someSteps);

describe("addresses of lanes", () => {
  it.each([
    ["base_color", { source: null, layer: null, input: "base_color", sides: [] }],
    ["source:wear", { source: "wear", layer: null, input: null, sides: [] }],
    ["cover:2:mask", { source: null, layer: 2, input: null, sides: [] }],
    ["cover:0:base_color", { source: null, layer: 0, input: "base_color", sides: [] }],
    [
      "base_color/s2/amount",
      { source: null, layer: null, input: "base_color", sides: [{ step: "s2", name: "amount" }] },
    ],
  ])("%s is taken apart", (address, parts) => expect(parseAddress(address)).toEqual(parts));

  it.each(["", "base_color/s2", "source:", "cover:x:mask", "cover:0:", "a:b"])("%j is none", (address) =>
    expect(parseAddress(address)).toBeNull(),
  );

  it("are put together as they are taken apart", () => {
    expect(parseAddress(sideAddress(layerAddress(1, "coat_weight"), "s4", "other"))).toEqual({
      source: null,
      layer: 1,
      input: "coat_weight",
      sides: [{ step: "s4", name: "other" }],
    });
    expect(parseAddress(sourceAddress("edge wear"))?.source).toBe("edge wear");
    expect(parseAddress(maskAddress(3))?.layer).toBe(3);
  });

  it("find lanes, layers, masks, sources and side rows in each of their forms", () => {
    const look = someLook();
    expect(laneAt(look, "specular_roughness")?.value).toEqual({ kind: "scalar", number: 0.4 });
    expect(laneAt(look, "cover:0:mask")?.chain?.origin).toEqual({ kind: "source", source: "wear" });
    expect(laneAt(look, "base_color/s2/other")?.value?.kind).toBe("colour");
    expect(laneAt(look, "base_color/s2/amount")?.value).toEqual({ kind: "scalar", number: 0.5 });
    expect(laneAt(look, "base_color/s3/occlusion")?.chain?.origin).toEqual({ kind: "slot", slot: "ao" });
    expect(laneAt(look, "base_color/s9/amount")).toBeUndefined();
    expect(laneAt(look, "cover:7:mask")).toBeUndefined();
  });

  it("are said in words, in British spelling", () => {
    expect(addressWords("base_color")).toBe("base colour");
    expect(addressWords("cover:0:mask")).toBe("mask of layer 1");
    expect(addressWords("base_color/s2/amount")).toBe("amount in base colour");
  });

  it("tell the input, and what may be given to other looks", () => {
    expect(inputOf("cover:0:base_color")).toBe("base_color");
    expect(inputOf("base_color/s2/amount")).toBeNull();
    expect(["base_color", "source:wear", "cover:0:base_color", "base_color/s2/amount"].map(isShareable)).toEqual([
      true,
      true,
      false,
      false,
    ]);
  });

  it("lead to every chain and to everything that uses a source", () => {
    expect(allChains(someLook()).map((c) => c.address)).toEqual([
      "base_color",
      "base_color/s2/amount",
      "base_color/s3/occlusion",
      "source:wear",
      "cover:0:mask",
    ]);
    expect(usersOf(someLook(), "source", "wear")).toEqual(["base_color/s2/amount", "cover:0:mask"]);
    expect(usersOf(someLook(), "slot", "ao")).toEqual(["base_color/s3/occlusion"]);
  });

  it("select runs of steps from either end", () => {
    expect(runOf({ lane: "base_color", step: 2, to: 0 })).toEqual([0, 2]);
    expect(selectedSteps(someLook(), { lane: "base_color", step: 2, to: 1 }).map((s) => s.id)).toEqual(["s2", "s3"]);
    expect(selectedSteps(someLook(), { lane: "base_color", step: -1 })).toEqual([]);
  });
});
