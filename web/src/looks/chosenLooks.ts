import { useSyncExternalStore } from "react";

/** The looks a person has chosen, for what is done to several at once; kept while the tab is open. */
const key = "kiln.chosen-looks";
let chosen: string[] = JSON.parse(sessionStorage.getItem(key) ?? "[]") as string[];
const told = new Set<() => void>();

function set(next: string[]) {
  chosen = next;
  sessionStorage.setItem(key, JSON.stringify(next));
  told.forEach((tell) => tell());
}

export function useChosenLooks() {
  const now = useSyncExternalStore(
    (tell) => {
      told.add(tell);
      return () => told.delete(tell);
    },
    () => chosen,
  );
  return {
    chosen: now,
    toggle: (id: string) => set(now.includes(id) ? now.filter((c) => c !== id) : [...now, id]),
    clear: () => set([]),
  };
}
