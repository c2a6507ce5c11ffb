import { inputWords } from "../bench/document/address";
import type { ChosenMaterial, MaterialInfo, ModelPart } from "../api/types";

/** What a person chose: of materials whether a look is made of them, of their pictures the content ("": none). */
export interface Choice {
  taken?: Record<number, boolean>;
  pictures?: Record<string, string>;
}

const key = (material: number, texture: number) => `${material}/${texture}`;

/** The content that is taken for a texture; "" for none. What nobody chose is the likeliest. */
export const pictureOf = (choice: Choice, material: MaterialInfo, texture: number): string =>
  choice.pictures?.[key(material.number, texture)] ?? material.textures[texture].choices[0]?.file.content ?? "";

export const withPicture = (choice: Choice, material: number, texture: number, content: string): Choice => ({
  ...choice,
  pictures: { ...choice.pictures, [key(material, texture)]: content },
});

/** Parts that have a material. */
export const partsOf = (material: MaterialInfo, parts: readonly ModelPart[]) => {
  const paths = new Set(material.parts);
  return parts.filter((p) => paths.has(p.path));
};

/** Whether there is anything that a look could be made of. */
const saysSomething = (material: MaterialInfo) =>
  Object.keys(material.values).length > 0 || material.textures.some((t) => t.choices.length > 0);

/** Whether a look is made of a material: unless somebody says, where it says something, a part is grey and no look was made yet. */
export const isTaken = (choice: Choice, material: MaterialInfo, parts: readonly ModelPart[]): boolean =>
  choice.taken?.[material.number] ??
  (!material.lookId && saysSomething(material) && partsOf(material, parts).some((p) => !p.lookId));

export const withTaken = (choice: Choice, material: number, taken: boolean): Choice => ({
  ...choice,
  taken: { ...choice.taken, [material]: taken },
});

/** What is asked for: the materials that are taken, with a picture said for each role, and their parts as they are seen. */
export const asked = (
  choice: Choice,
  materials: readonly MaterialInfo[],
  parts: readonly ModelPart[],
): ChosenMaterial[] =>
  materials
    .filter((m) => isTaken(choice, m, parts))
    .map((m) => ({
      number: m.number,
      pictures: m.textures.map((t, i) => ({ role: t.role, content: pictureOf(choice, m, i) || null })),
      parts: partsOf(m, parts).map((p) => ({ path: p.path, was: p.lookId ?? null })),
    }));

const count = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;

/** How many pictures the materials name, and how many of these were found. */
export function foundWords(materials: readonly MaterialInfo[]): string {
  const textures = materials.flatMap((m) => m.textures);
  if (textures.length === 0) return `${count(materials.length, "material names", "materials name")} no pictures`;
  const sure = textures.filter((t) => t.choices[0]?.sure).length;
  const near = textures.filter((t) => t.choices.length > 0 && !t.choices[0].sure).length;
  const gone = textures.length - sure - near;
  return [
    count(textures.length, "picture", "pictures"),
    sure > 0 && `${sure} found`,
    near > 0 && `${near} proposed, look at ${near === 1 ? "it" : "them"}`,
    gone > 0 && `${gone} not found`,
  ]
    .filter(Boolean)
    .join(" · ");
}

/** Looks that would be replaced: "replaces rubber foot on 4 parts". */
export function replacedWords(material: MaterialInfo, parts: readonly ModelPart[]): string {
  const dressed = partsOf(material, parts).filter((p) => p.lookId);
  const names = [...new Set(dressed.map((p) => p.lookName))];
  if (dressed.length === 0) return "";
  return `replaces ${names.length === 1 ? (names[0] ?? "a look") : `${names.length} looks`} on ${count(dressed.length, "part", "parts")}`;
}

/** The values of a material: "base colour 0.5 0.5 0.5 · specular roughness 0.3". */
export const valueWords = (values: MaterialInfo["values"]): string =>
  Object.entries(values)
    .map(([name, numbers]) => `${inputWords(name)} ${numbers.map((n) => +n.toFixed(3)).join(" ")}`)
    .join(" · ");
