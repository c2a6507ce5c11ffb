import type { UvFigures } from "../api/types";

const percent = (share: number) => `${share < 0.0995 ? (share * 100).toFixed(1) : Math.round(share * 100)} %`;

/** What is wrong with UVs first; what is as it should be is not said. */
export function uvWords(f: UvFigures): string {
  const words: string[] = [];
  if (f.overlap >= 0.001) words.push(`${percent(f.overlap)} overlap`);
  if (f.flipped >= 0.001) words.push(`${percent(f.flipped)} of triangles mirrored`);
  if (f.outside >= 0.001) words.push(`${percent(f.outside)} of triangles outside the tile`);
  if (f.laid === 0) words.push("nothing to measure");
  else if (f.stretchP95 == null) words.push("more than 5 % of the area without any extent on the map");
  else words.push(`95 % of the area stretched at most ${f.stretchP95.toFixed(f.stretchP95 < 9.95 ? 1 : 0)} times`);
  if (f.texelsPerMetre != null) words.push(`${Math.round(f.texelsPerMetre)} pixels a metre`);
  if (f.withoutUvs.length > 0) words.push(`without UVs: ${f.withoutUvs.map((p) => p.split("/").at(-1)).join(", ")}`);
  if (f.over != null)
    words.push(`over ${f.over}${f.otherLooks > 0 ? `, the other looks (${f.otherLooks}) are not shown` : ""}`);
  return words.join(" · ");
}
