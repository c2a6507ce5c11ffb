import { useRef, useState } from "react";
import { useWatchedSize } from "../../../ui/useRoom";

/** Sides at which proofs are rendered, in pixels: a larger one where the picture is shown much larger. */
const sides = [
  { from: 0, side: 420 },
  { from: 560, side: 640 },
  { from: 800, side: 900 },
];

export const sideFor = (shown: number) => sides.findLast((s) => shown >= s.from)?.side ?? sides[0].side;

/** The side of the proof that fits where it is shown; `well` goes on what holds it. */
export function usePictureSize() {
  const well = useRef<HTMLElement>(null);
  const [size, setSize] = useState(sides[0].side);
  useWatchedSize(well, (width, height) => setSize(sideFor(Math.min(width, height))));
  return { size, well };
}
