import { expect, it } from "vitest";
import { deliveryName } from "./deliveryName";

it("calls a delivery by the folder that holds it all", () => {
  expect(deliveryName(["bronze/colour.png", "bronze/sub/rough.png"])).toBe("bronze");
});

it("says how many more there are where files came loose", () => {
  expect(deliveryName(["colour.png", "rough.png", "maps/normal.png"])).toBe("colour.png and 2 more");
});

it("leaves the ending of an archive away", () => {
  expect(deliveryName(["Limewashed wall.ZIP"])).toBe("Limewashed wall");
  expect(deliveryName([])).toBe("delivery");
});
