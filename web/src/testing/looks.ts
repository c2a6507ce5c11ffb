import { takeStepTable } from "../api/steps";
import type { Look, LookInfo, StepDescription } from "../api/types";

/** A table of steps with the three forms in which a step's other input is kept: a chain, a number with a chain, a lane. */
export function someSteps() {
  const side = (name: string) => ({ name, label: name, isAmount: false, takes: "anything", high: 1 });
  const kind = (name: string, sides: string[] = []) =>
    ({
      kind: name,
      label: name,
      alsoFoundBy: "",
      sentence: "",
      tells: "{gain} + {offset}",
      fields: [],
      sides: sides.map(side),
      fresh: {},
    }) as unknown as StepDescription;
  takeStepTable([kind("gain"), kind("invert"), kind("mix", ["other", "amount"]), kind("occlusion", ["occlusion"])]);
}

/** A look with a source, a layer, and lanes whose steps have inputs of their own. */
export const someLook = () =>
  ({
    name: "copper",
    lanes: {
      base_color: {
        chain: {
          origin: { kind: "slot", slot: "baseColor" },
          steps: [
            { kind: "gain", id: "s1", gain: 2, offset: 0 },
            {
              kind: "mix",
              id: "s2",
              other: { value: { kind: "colour", r: 1, g: 1, b: 1, space: "acescg" } },
              amount: {
                value: 0.5,
                chain: { origin: { kind: "source", source: "wear" }, steps: [{ kind: "invert", id: "s1" }] },
              },
            },
            { kind: "occlusion", id: "s3", occlusion: { origin: { kind: "slot", slot: "ao" }, steps: [] } },
          ],
        },
      },
      specular_roughness: { value: { kind: "scalar", number: 0.4 } },
    },
    sources: { wear: { chain: { origin: { kind: "slot", slot: "height" }, steps: [] } } },
    covers: [
      {
        name: "paint",
        relief: "replace",
        mask: { chain: { origin: { kind: "source", source: "wear" }, steps: [] } },
        lanes: { base_color: { value: { kind: "colour", r: 0, g: 0, b: 1, space: "acescg" } } },
      },
    ],
    placement: { repeatsU: 1, repeatsV: 2 },
    displacement: { on: false, heightMetres: 0.01 },
    relief: "shading",
  }) as unknown as Look;

export const someInfo = (revision: number, document = someLook()) =>
  ({ id: "x", revision, document }) as unknown as LookInfo;
