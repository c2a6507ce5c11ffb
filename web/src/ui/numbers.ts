/** A number as people type it, with a comma or a point; null where it is none. */
export function readNumber(text: string): number | null {
  const number = Number(text.trim().replace(",", "."));
  return text.trim() !== "" && Number.isFinite(number) ? number : null;
}

/** To four digits after the point, without zeros that say nothing. */
export const shortNumber = (value: number) => String(Math.round(value * 10000) / 10000);

/**
 * Where a value stands on a logarithmic track, and back: zero at its left end, then decades up to the greatest. `least` is the smallest
 * value that is told from zero.
 */
export const logTrack = (least: number, greatest: number) => {
  const decades = Math.log10(greatest / least);
  return {
    toTrack: (value: number) =>
      value <= 0 ? 0 : Math.min(1, Math.max(0, 0.02 + 0.98 * (Math.log10(value / least) / decades))),
    fromTrack: (at: number) => (at < 0.02 ? 0 : least * 10 ** (((at - 0.02) / 0.98) * decades)),
  };
};

/** To so many significant digits: what a logarithmic track gives is not finer than that. */
export const toDigits = (value: number, digits: number) => (value === 0 ? 0 : Number(value.toPrecision(digits)));

/** "1 look", "3 looks". */
export const counted = (count: number, one: string) => `${count} ${one}${count === 1 ? "" : "s"}`;

/** Stops from middle grey. */
export const stopsWords = (stops: number | null | undefined) =>
  stops == null ? "black" : `${stops >= 0 ? "+" : "−"}${Math.abs(stops).toFixed(1)} EV`;
