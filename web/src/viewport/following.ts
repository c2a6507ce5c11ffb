import type { FollowedNumber } from "./assets";

/**
 * What a number of the look makes of the shader's: by how much each place changes when it gets another value, on straight lines
 * between those that are known.
 */
export function changes(followed: FollowedNumber, to: number): [number, number][] {
  const [a, b] = [rowAt(followed, followed.value), rowAt(followed, to)];
  return followed.at.map((at, i) => [at, b[i] - a[i]]);
}

/** What stands in each place at a value; beyond the ends as the last piece goes on. */
function rowAt({ at, values, numbers }: FollowedNumber, value: number): number[] {
  let i = values.findIndex((v) => v > value) - 1;
  if (i < 0) i = value < values[0] ? 0 : values.length - 2;
  const share = (value - values[i]) / (values[i + 1] - values[i]);
  const one = (row: number, k: number) => numbers[row * at.length + k];
  return at.map((_, k) => one(i, k) + share * (one(i + 1, k) - one(i, k)));
}
