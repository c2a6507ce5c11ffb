import { useEffect, useState } from "react";

export const surrounds = ["light", "mid", "dark"] as const;
export type Surround = (typeof surrounds)[number];
const key = "kiln.surround";
const known = (text: string | null): Surround => surrounds.find((s) => s === text) ?? "mid";

/** What pictures stand in, everywhere: light, middle grey or dark. Remembered on this machine. */
export function useSurround() {
  const [surround, setSurround] = useState<Surround>(() => known(localStorage.getItem(key)));
  useEffect(() => {
    document.documentElement.dataset.surround = surround;
    localStorage.setItem(key, surround);
  }, [surround]);
  return [surround, setSurround] as const;
}
