import { useEffect, useState } from "react";

const key = "kiln.lowRows";

/** Whether lanes are shown low, so that many are seen at once. Remembered on this machine. */
export function useLowRows() {
  const [low, setLow] = useState(() => localStorage.getItem(key) === "yes");
  useEffect(() => localStorage.setItem(key, low ? "yes" : "no"), [low]);
  return [low, setLow] as const;
}
