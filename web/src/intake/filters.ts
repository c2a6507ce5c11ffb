import type { MapSet } from "../api/types";
import { missing, ready } from "./columns";

export type Filter = "all" | "ready" | "look" | "missing" | "refused";

export const filterWords: Record<Filter, string> = {
  all: "all",
  ready: "ready",
  look: "need a look",
  missing: "maps missing",
  refused: "refused",
};

/** Sets by their state and by words of their names or tags. "refused" concerns files, not sets. */
export function filtered(sets: MapSet[], filter: Filter, words: string): MapSet[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  return sets.filter((s) => {
    const text = `${s.name.replaceAll("_", " ")} ${s.tags?.join(" ") ?? ""}`.toLowerCase();
    if (!wanted.every((w) => text.includes(w))) return false;
    switch (filter) {
      case "ready":
        return ready(s);
      case "look":
        return !ready(s);
      case "missing":
        return missing(s).length > 0;
      case "refused":
        return false;
      default:
        return true;
    }
  });
}
