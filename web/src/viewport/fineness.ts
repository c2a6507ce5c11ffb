/** Times so many places in each direction a pixel is drawn at, and whether more were too slow. */
export interface Fineness {
  places: number;
  isMost: boolean;
}

export const coarsest: Fineness = { places: 1, isMost: false };

const most = 3;

/** Milliseconds of a frame: below the one, there is time for more places a pixel; above the other, there was not. */
const quick = 6;
const slow = 16;

/** How fine the next frame is drawn, so that fine patterns do not break up where there is time for that. */
export function finenessAfter(now: Fineness, milliseconds: number): Fineness {
  if (now.places > 1 && milliseconds > slow) return { places: now.places - 1, isMost: true };
  return !now.isMost && milliseconds < quick && now.places < most ? { places: now.places + 1, isMost: false } : now;
}
