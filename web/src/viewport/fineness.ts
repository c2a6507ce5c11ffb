/** Times so many places in each direction a pixel is drawn at; once is for good where twice was too slow. */
export type Fineness = 1 | 2 | "once";

/** Milliseconds of a frame: below the one, there is time for four places a pixel; above the other, there was not. */
const quick = 6;
const slow = 16;

/** How fine the next frame is drawn, so that fine patterns do not break up where there is time for that. */
export function finenessAfter(now: Fineness, milliseconds: number): Fineness {
  if (now === 1 && milliseconds < quick) return 2;
  return now === 2 && milliseconds > slow ? "once" : now;
}

export const placesOf = (fineness: Fineness) => (fineness === 2 ? 2 : 1);
