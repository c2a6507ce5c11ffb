/** A part of a model, and where its triangles lie among all. */
export interface PartRange {
  path: string;
  first: number;
  triangles: number;
}

/**
 * A model's triangles, three vertices each, so that those of a look lie together; and from which to before which triangle each look then
 * lies. Triangles of parts that have no look are with none.
 */
export function orderedByLook(
  indices: Uint32Array,
  parts: readonly PartRange[],
  lookOf: ReadonlyMap<string, number>,
  looks: number,
): { indices: Uint32Array<ArrayBuffer>; ranges: [number, number][] } {
  const ordered = new Uint32Array(indices.length);
  const ranges: [number, number][] = [];
  let at = 0;
  for (let look = 0; look < looks; look++) {
    const from = at;
    for (const part of parts) {
      if (lookOf.get(part.path) !== look) continue;
      ordered.set(indices.subarray(3 * part.first, 3 * (part.first + part.triangles)), 3 * at);
      at += part.triangles;
    }
    ranges.push([from, at]);
  }
  return { indices: ordered.slice(0, 3 * at), ranges };
}
