import { expect, it } from "vitest";
import { feedersOf } from "./feeders";

it("finds the inputs of a renderer that several lanes feed, among the lanes that there are", () => {
  const restated = {
    base_color: [{ input: "under" }, { input: "front" }],
    base_metalness: [{ input: "under" }, { input: "rim" }],
    specular_color: [{ input: "front" }],
    specular_roughness: [{ input: "grain" }],
  };
  expect([...feedersOf(restated, ["base_color", "base_metalness", "specular_roughness"])]).toEqual([
    ["under", ["base_color", "base_metalness"]],
  ]);
  expect(feedersOf(restated, ["specular_color", "base_color"]).get("front")).toEqual(["specular_color", "base_color"]);
  expect(feedersOf({}, ["base_color"]).size).toBe(0);
});
