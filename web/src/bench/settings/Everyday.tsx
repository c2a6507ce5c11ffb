import { useState } from "react";
import type { Look, LookEdit } from "../../api/types";
import { useBench } from "../state/benchState";
import { inputOf, laneAt } from "../document/address";
import { chainOfSlot } from "../document/connect";
import { finer, freshId, noiseStep } from "../document/steps";

interface Chore {
  id: string;
  words: string;
  edits: (look: Look, address: string) => LookEdit[];
}

const slotOfRole = (look: Look, role: string) => Object.entries(look.slots ?? {}).find(([, s]) => s.role === role)?.[0];

/** The common steps, one gesture each; only those that fit the lane and the look are offered. */
export function Everyday({ address }: { address: string }) {
  const { look, studio, edit, select } = useBench("look", "studio", "edit", "select");
  const [coming, setComing] = useState<string | null>(null);
  const input = inputOf(address);
  const chain = laneAt(look, address)?.chain;
  const chores: Chore[] = [];
  const occlusion = slotOfRole(look, "ambientOcclusion");
  const base = slotOfRole(look, "baseColor");
  const append = (step: object): LookEdit => ({
    edit: "stepInsert",
    lane: address,
    at: chain?.steps.length ?? 0,
    step: { id: freshId(chain ?? { steps: [] }), ...step },
  });
  if (input === "base_color" && chain && occlusion)
    chores.push({
      id: "occlusion",
      words: "Multiply by the occlusion, at 30 %",
      edits: () => [
        append({
          kind: "occlusion",
          occlusion: { origin: chainOfSlot(look, studio, occlusion, "occlusion").origin, steps: [] },
          amount: { value: 0.3 },
        }),
      ],
    });
  if (input === "specular_roughness" && base)
    chores.push({
      id: "roughness-from-base",
      words: "Roughness from the base colour: luminance, inverted, remapped",
      edits: () => [
        {
          edit: "lane",
          lane: address,
          content: {
            chain: {
              origin: chainOfSlot(look, studio, base, "base_color").origin,
              steps: [
                { kind: "pick", id: "s1", channel: "luminance" },
                { kind: "invert", id: "s2" },
                { kind: "remap", id: "s3", inLow: 0, inHigh: 1, outLow: 0.3, outHigh: 0.8, clamp: true },
              ],
            },
          },
        },
      ],
    });
  if (input === "base_color" && chain) {
    const mask = slotOfRole(look, "metalness");
    if (mask)
      chores.push({
        id: "metal-colour",
        words: "Change the colour where it is metal",
        edits: () => [
          append({
            kind: "mix",
            mode: "multiply",
            other: { value: { kind: "colour", r: 0.8, g: 0.9, b: 1, space: "acescg" } },
            amount: {
              value: 1,
              chain: { origin: chainOfSlot(look, studio, mask, "base_metalness").origin, steps: [] },
            },
          }),
        ],
      });
  }
  if (input === "specular_weight" && slotOfRole(look, "specularColor"))
    chores.push({
      id: "specular",
      words: "Specular from the reflection map",
      edits: () => [
        {
          edit: "lane",
          lane: "specular_color",
          content: { chain: chainOfSlot(look, studio, slotOfRole(look, "specularColor")!, "specular_color") },
        },
      ],
    });
  if (input === "geometry_normal" && chain) {
    const relief = {
      origin: { kind: "noise", noise: { kind: "gradient", cells: 3, octaves: 1, gain: 0.5, seed: 1 } },
      steps: [{ kind: "heightToNormal", id: "s1", strength: { value: 1 }, heightMetres: 0.02 }],
    };
    for (const [slot, { role }] of Object.entries(look.slots ?? {}).filter(([, s]) =>
      ["normal", "height", "bump"].includes(s.role),
    )) {
      const detail = chainOfSlot(look, studio, slot, "geometry_normal");
      chores.push({
        id: `detail-${slot}`,
        words: `Add ${slot} as fine detail, repeated eight times as often`,
        edits: () => [
          append({
            kind: "combine",
            mode: "detail",
            other: {
              ...detail,
              steps: [...detail.steps, { kind: "place", id: freshId(detail), placement: finer(look.placement, 8) }],
            },
            ownWeight: { value: 1 },
            otherWeight: { value: role === "normal" ? 0.5 : 1 },
          }),
        ],
      });
    }
    chores.push({
      id: "undulation",
      words: "Add a slow undulation",
      edits: () => [
        append({ kind: "combine", mode: "detail", other: relief, ownWeight: { value: 1 }, otherWeight: { value: 1 } }),
      ],
    });
  }
  if (chain && input && studio.inputs.find((i) => i.name === input)?.type === "scalar")
    chores.push({ id: "noise", words: "Break it up with noise", edits: () => [append(noiseStep())] });
  if (input === "coat_weight" || input === "coat_roughness")
    chores.push({
      id: "coat",
      words: "A clear coat",
      edits: () => [
        { edit: "value", lane: "coat_weight", value: { kind: "scalar", number: 1 } },
        { edit: "value", lane: "coat_roughness", value: { kind: "scalar", number: 0.05 } },
      ],
    });
  if (input === "emission_color" && chain)
    chores.push({
      id: "emission",
      words: "Emit light: 100",
      edits: () => [{ edit: "value", lane: "emission_luminance", value: { kind: "scalar", number: 100 } }],
    });
  if (chores.length === 0) return null;
  return (
    <section aria-label="common steps">
      <h3 className="mt-2 text-small text-soft">common steps</h3>
      <ul className="mt-0.5 space-y-1">
        {chores.map((c) => (
          <li key={c.id}>
            <button
              className="act text-left whitespace-normal"
              data-testid={`chore-${c.id}`}
              disabled={coming !== null}
              onClick={() => {
                const edits = c.edits(look, address);
                setComing(c.words);
                void edit(edits.length === 1 ? edits[0] : { edit: "batch", name: c.words, edits }).finally(() =>
                  setComing(null),
                );
                if (chain) select({ lane: address, step: chain.steps.length });
              }}
            >
              {coming === c.words ? "adding…" : c.words}
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
