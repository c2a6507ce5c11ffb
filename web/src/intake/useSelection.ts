import { useState } from "react";

/** Chosen rows by name; Shift extends from the last one that was turned. */
export function useSelection(order: string[]) {
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [last, setLast] = useState<string | null>(null);
  const toggle = (name: string, extend: boolean) => {
    const next = new Set(chosen);
    const on = !chosen.has(name);
    const from = extend && last !== null ? order.indexOf(last) : -1;
    const to = order.indexOf(name);
    const range = from >= 0 && to >= 0 ? order.slice(Math.min(from, to), Math.max(from, to) + 1) : [name];
    for (const n of range) {
      if (on) next.add(n);
      else next.delete(n);
    }
    setChosen(next);
    setLast(name);
  };
  /** That one alone; nothing where it was that one alone. */
  const choose = (name: string) => {
    setChosen(chosen.size === 1 && chosen.has(name) ? new Set() : new Set([name]));
    setLast(name);
  };
  return { chosen, toggle, choose, setAll: (all: boolean) => setChosen(new Set(all ? order : [])) };
}
