import type { Chain, Studio, Lane, LookEdit, NeutralInput, Reading } from "../../api/types";
import type { Look } from "../../api/types";
import { inputOf, isTangent, laneAt, parseAddress, sidesOf } from "./address";
import { loose } from "./steps";

/** What a lane takes: colour, scalar or direction; null for sources and mixes, which take what comes. */
function kindOf(look: Look, studio: Studio, address: string): Reading["kind"] | null {
  const input = studio.inputs.find((i: NeutralInput) => i.name === inputOf(address));
  if (input) return input.type === "colour" ? "colour" : input.type === "direction" ? "direction" : "scalar";
  const at = parseAddress(address);
  const side = at?.sides.at(-1);
  if (!side) return at?.layer != null ? "scalar" : null;
  // Reliefs meet as directions; amounts, masks and channels are numbers; a mix takes what comes.
  const owner = address.slice(0, -`/${side.step}/${side.name}`.length);
  const found = laneAt(look, owner)?.chain?.steps.find((s) => s.id === side.step);
  const takes = found && sidesOf(loose(found)).find((s) => s.name === side.name)?.takes;
  return takes === "anything" ? null : takes === "direction" ? "direction" : "scalar";
}

const ownKinds: Record<string, Reading["kind"]> = {
  baseColor: "colour",
  specularColor: "colour",
  emission: "colour",
  subsurface: "colour",
  fuzz: "colour",
  idMask: "colour",
  normal: "direction",
};

/**
 * The chain that reads a slot into a lane with the steps it needs there: decoding for normals, slopes for heights,
 * inversion for glossiness.
 */
export function chainOfSlot(look: Look, studio: Studio, slot: string, address: string): Chain {
  const { role, file } = look.slots![slot];
  const along = isTangent(inputOf(address));
  const coloured = file.channels.length >= 3 && !file.equalChannels;
  const own = along ? (coloured ? "direction" : "scalar") : (ownKinds[role] ?? "scalar");
  const wanted = kindOf(look, studio, address) ?? own;
  const kind = wanted === "direction" && own !== "direction" ? "scalar" : wanted;
  const reading: Reading = {
    kind,
    space: kind !== "colour" ? "raw" : file.isFloat ? "lin_rec709" : "srgb_texture",
    channel: kind === "scalar" ? "luminance" : "rgb",
    normalY: null,
    midpoint: 0.5,
    authority: "person",
    reason: "connected by hand",
  };
  // The same slot may be read elsewhere already: then as there.
  const known = Object.values(look.lanes ?? {}).find((l) => {
    const o = l.chain?.origin;
    return o?.kind === "slot" && o.slot === slot && o.reading.kind === kind;
  })?.chain?.origin;
  const steps: object[] = [];
  if (wanted === "direction" && own === "direction") steps.push({ kind: "decodeNormal", strength: { value: 1 } });
  if (wanted === "direction" && own !== "direction" && !along)
    steps.push({ kind: "heightToNormal", strength: { value: 1 }, heightMetres: 0.02 });
  if (role === "glossiness" && inputOf(address)?.includes("roughness")) steps.push({ kind: "invert" });
  return {
    origin: { kind: "slot", slot, reading: known?.kind === "slot" ? known.reading : reading },
    steps: steps.map((s, i) => ({ ...s, id: `s${i + 1}` })),
  } as unknown as Chain;
}

export function chainOfSource(look: Look, studio: Studio, source: string, address: string): Chain {
  return {
    origin: { kind: "source", source },
    steps:
      kindOf(look, studio, address) === "direction" && !isTangent(inputOf(address))
        ? [{ kind: "heightToNormal", id: "s1", strength: { value: 1 }, heightMetres: 0.02 }]
        : [],
  } as unknown as Chain;
}

/** Puts a chain at the head of a lane, keeping the lane's value. */
export const connect = (look: Look, address: string, chain: Chain): LookEdit => ({
  edit: "lane",
  lane: address,
  content: { value: laneAt(look, address)?.value ?? null, chain } satisfies Lane,
});

/** A name no source has yet. */
export function freeSource(look: Look, wanted: string): string {
  let name = wanted;
  for (let n = 2; look.sources?.[name]; n++) name = `${wanted} ${n}`;
  return name;
}
