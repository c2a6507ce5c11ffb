/** A direction of the light in the world, once the light has been turned. */
export function turnedDirection(
  [x, y, z]: ArrayLike<number> & Iterable<number>,
  radians: number,
): [number, number, number] {
  const [s, c] = [Math.sin(radians), Math.cos(radians)];
  return [c * x + s * z, y, -s * x + c * z];
}
