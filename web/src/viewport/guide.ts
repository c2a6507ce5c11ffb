import { DataUtils } from "three";

/** Into how many parts the light is divided by brightness. */
export const guideRows = 64;
export const guideColumns = 128;

/** A part with no light is asked for now and then, as many times less often than the mean. */
const least = 1e-3;

/**
 * Shares of a light's brightness up to each part, row by row from the top, and a last row of the rows themselves: what directions are drawn
 * by. The light is twice as wide as high, four halves (as bits) to a texel.
 */
export function guideOf(sharp: Uint16Array, width: number): Float32Array<ArrayBuffer> {
  const height = width / 2;
  const weights = new Float64Array(guideRows * guideColumns);
  for (let y = 0; y < height; y++) {
    const sine = Math.sin((Math.PI * (y + 0.5)) / height);
    const row = Math.floor((y * guideRows) / height) * guideColumns;
    for (let x = 0; x < width; x++) {
      const at = 4 * (y * width + x);
      const [r, g, b] = [0, 1, 2].map((c) => DataUtils.fromHalfFloat(sharp[at + c]));
      weights[row + Math.floor((x * guideColumns) / width)] +=
        (0.27222872 * r + 0.67408177 * g + 0.05368952 * b) * sine;
    }
  }
  const mean = weights.reduce((a, b) => a + b, 0) / weights.length || 1;
  const guide = new Float32Array((guideRows + 1) * guideColumns);
  let all = 0;
  for (let row = 0; row < guideRows; row++) {
    let sum = 0;
    for (let i = 0; i < guideColumns; i++) {
      sum += weights[row * guideColumns + i] + least * mean;
      guide[row * guideColumns + i] = sum;
    }
    for (let i = 0; i < guideColumns; i++) guide[row * guideColumns + i] /= sum;
    all += sum;
    guide[guideRows * guideColumns + row] = all;
  }
  for (let row = 0; row < guideRows; row++) guide[guideRows * guideColumns + row] /= all;
  return guide;
}
