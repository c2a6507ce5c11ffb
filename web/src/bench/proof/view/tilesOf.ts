import type { Look } from "../../../api/types";

/** The UDIM tiles of all of a look's maps, in order. */
export const tilesOf = (look: Look) =>
  [...new Set(Object.values(look.slots ?? {}).flatMap((s) => s.file.tiles?.map((t) => t.number) ?? []))].sort();
