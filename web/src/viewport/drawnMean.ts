import type { DrawnLight } from "./textures";

/** The mean of a square around a place of drawn light, from the left and from the top 0..1; the square's side in shares of the picture. */
export function drawnMean(
  { side, numbers }: DrawnLight,
  u: number,
  v: number,
  share: number,
): [number, number, number] {
  const half = Math.max(0, (share * side - 1) / 2);
  const within = (at: number) => Math.min(side - 1, Math.max(0, at));
  const [x0, x1] = [within(Math.round(u * side - 0.5 - half)), within(Math.round(u * side - 0.5 + half))];
  const [y0, y1] = [within(Math.round((1 - v) * side - 0.5 - half)), within(Math.round((1 - v) * side - 0.5 + half))];
  const sum: [number, number, number] = [0, 0, 0];
  const count = (x1 - x0 + 1) * (y1 - y0 + 1);
  for (let y = y0; y <= y1; y++)
    for (let x = x0; x <= x1; x++) for (let c = 0; c < 3; c++) sum[c] += numbers[4 * (y * side + x) + c] / count;
  return sum;
}
