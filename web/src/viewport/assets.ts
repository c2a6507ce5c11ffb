import { get, request } from "../api/client";
import type { components } from "../api/schema";
import type { PartRange } from "./ordering";
import { partsOf, type Parts } from "./parts";

export type ViewportLook = components["schemas"]["ViewportLook"];
export type FollowedNumber = components["schemas"]["FollowedNumber"];
export type ViewportText = components["schemas"]["ViewportText"];

export interface FormHead {
  centre: [number, number, number];
  radius: number;
  isSheet: boolean;
  yaw: number;
  pitch: number;
  zoom: number;
  fieldOfView: number;
  floorSide: number;
  floorMetres: number;
  /** Cells of directions, and how many of them lie above the horizon. */
  cells: number;
  cellsAbove: number;
  /** Vertices that are the form's own; others lie between them. */
  own: number;
}

export interface LightHead {
  sharpWidth: number;
  filteredWidth: number;
  layers: number;
  floorRadiance: [number, number, number];
  hasFloor: boolean;
  suns: { direction: number[]; irradiance: number[]; radius: number }[];
}

export interface ViewHead {
  side: number;
  least: number;
  most: number;
}

export interface AlbedoHead {
  side: number;
  count: number;
}

/** What is asked for again and again, and how many of it are kept. */
const kept = new Map<string, Promise<unknown>>();
const most = 24;

/** The answer of the first time; one that failed is asked for anew. */
function once<T>(key: string, ask: () => Promise<T>): Promise<T> {
  const known = kept.get(key) as Promise<T> | undefined;
  if (known) {
    kept.delete(key);
    kept.set(key, known);
    return known;
  }
  const asked = ask();
  kept.set(key, asked);
  asked.catch(() => kept.delete(key));
  while (kept.size > most) kept.delete(kept.keys().next().value!);
  return asked;
}

const bytes = async (path: string) => (await request("GET", path)).arrayBuffer();
const parts = <Head>(path: string): Promise<Parts<Head>> => once(path, async () => partsOf<Head>(await bytes(path)));
const words = (query: Record<string, string | number | boolean | null | undefined>) =>
  new URLSearchParams(
    Object.entries(query)
      .filter(([, value]) => value !== null && value !== undefined)
      .map(([name, value]) => [name, String(value)]),
  ).toString();

export const shadersOf = () => once("shaders", () => get("/api/v1/viewport/shaders"));
export const lightOf = (name: string, working: string) =>
  parts<LightHead>(`/viewport/lights/${encodeURIComponent(name)}?${words({ working })}`);
export const viewOf = (name: string, working: string) => parts<ViewHead>(`/viewport/views?${words({ name, working })}`);
export const albedoOf = (distribution: string) => parts<AlbedoHead>(`/viewport/albedo/${distribution}`);

/** Which look is drawn, and as what. */
export interface Subject {
  id: string;
  dialect: string | null;
  variant: string | null;
  soloLane: string | null;
  soloSteps: number | null;
  /** After that edit of its history; null for as it is now. */
  at?: number | null;
  /** Parts of the look whose numbers are about to change. */
  live: string[];
}

const asked = ({ dialect, variant, soloLane, soloSteps, at }: Subject) => ({
  dialect,
  variant,
  soloLane,
  soloSteps,
  at,
});

const living = (subject: Subject) => subject.live.map((name) => `&live=${encodeURIComponent(name)}`).join("");

/** How the numbers of the look's shader follow those that are about to change and have no name in it. */
export async function followedOf(subject: Subject, signal: AbortSignal): Promise<FollowedNumber[]> {
  const path = `/looks/${subject.id}/viewport/followed?${words(asked(subject))}${living(subject)}`;
  return (await (await request("GET", path, undefined, { signal })).json()) as FollowedNumber[];
}

/** So many of the texts that are here are told when a model is asked for. */
const mostTold = 40;

/** The text of each structure, which looks and revisions share. */
const texts = new Map<string, string>();

/** The look as it is now; its text comes once for each structure. */
export async function lookOf(
  subject: Subject,
  have: string | null,
  signal: AbortSignal,
): Promise<ViewportLook & { source: string }> {
  const path = `/looks/${subject.id}/viewport?${words({ ...asked(subject), have })}${living(subject)}`;
  const answer = await request("GET", path, undefined, { signal });
  const look = (await answer.json()) as ViewportLook;
  if (look.source) texts.set(look.structure, look.source);
  return { ...look, source: texts.get(look.structure) ?? "" };
}

/** Raised when forms have other parts: a browser keeps those of an address for a week. */
const edition = 2;

/** A form, moved as the look says. */
export const formOf = (form: string, subject: Subject, moved: string | null) => {
  const movement = moved === null ? {} : { ...asked(subject), moved };
  return parts<FormHead>(`/looks/${subject.id}/viewport/forms/${form}?${words({ ...movement, edition })}`);
};

/** How far a displayed picture, three bytes a pixel, is from the proof that was seen last. */
export const differenceToProof = async (viewer: string, picture: Uint8Array<ArrayBuffer>, signal: AbortSignal) => {
  const answer = await request("POST", `/viewport/difference?${words({ viewer })}`, new Blob([picture]), { signal });
  return (await answer.json()) as components["schemas"]["DifferenceFigures"];
};

/** A model's triangles, and the parts they belong to. */
export interface ModelHead extends FormHead {
  parts: PartRange[];
}

/** A model's looks with their texts, and which of them lies on which part. */
export type ModelScene = Omit<components["schemas"]["ModelScene"], "looks"> & {
  looks: (ViewportLook & { source: string })[];
};

export async function modelSceneOf(model: string, only: string | null, signal: AbortSignal): Promise<ModelScene> {
  const have = [...texts.keys()].slice(-mostTold).map((t) => `&have=${encodeURIComponent(t)}`);
  const path = `/models/${model}/viewport?${words({ only })}${have.join("")}`;
  const answer = await request("GET", path, undefined, { signal });
  const scene = (await answer.json()) as components["schemas"]["ModelScene"];
  for (const look of scene.looks) if (look.source) texts.set(look.structure, look.source);
  return { ...scene, looks: scene.looks.map((l) => ({ ...l, source: texts.get(l.structure) ?? "" })) };
}

export const modelShapeOf = async (model: string, only: string | null, shape: string, signal: AbortSignal) => {
  const path = `/models/${model}/viewport/shape?${words({ only, shape })}`;
  return partsOf<ModelHead>(await (await request("GET", path, undefined, { signal })).arrayBuffer());
};

/** Longest side of what stands in for maps until they are there. */
const smallMap = 64;

/** The size of what stands in for an array's maps, in their proportion. */
export const smallSize = (width: number, height: number): [number, number] => {
  const most = Math.max(width, height);
  const side = (s: number) => (most <= smallMap ? s : Math.max(1, Math.floor((s * smallMap) / most + 0.5)));
  return [side(width), side(height)];
};

/** One map of a look: halves, or floats where those are too coarse; small to begin with. */
export const layerOf = (look: ViewportLook, array: number, layer: number, small: boolean) => {
  const { isPrecise, layers } = look.maps[array];
  const { content, kind, space, channel, width, height, name } = layers[layer];
  const side = small ? smallMap : look.longestMap;
  const query = words({ kind, space, channel, width, height, working: look.working, precise: isPrecise, name, side });
  return once(`/viewport/maps/${content}?${query}`, () => bytes(`/viewport/maps/${content}?${query}`));
};
