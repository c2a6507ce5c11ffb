/**
 * Nine harmonics of a light (y the axis, as FormOcclusion.Basis orders them) once the light has been turned about the vertical: two
 * numbers at a time are mixed.
 */
export function turnedHarmonics(own: ArrayLike<number>, radians: number): number[] {
  const [s, c] = [Math.sin(radians), Math.cos(radians)];
  const [s2, c2] = [Math.sin(2 * radians), Math.cos(2 * radians)];
  const result = Array.from(own);
  for (let k = 0; k < 3; k++) {
    const l = (band: number) => own[band * 3 + k];
    const set = (band: number, value: number) => (result[band * 3 + k] = value);
    set(1, l(1) * c + l(3) * s);
    set(3, -l(1) * s + l(3) * c);
    set(5, l(5) * c + l(7) * s);
    set(7, -l(5) * s + l(7) * c);
    set(4, l(4) * c2 - l(8) * s2);
    set(8, l(4) * s2 + l(8) * c2);
  }
  return result;
}

/** A direction of the light in the world, once the light has been turned. */
export function turnedDirection(
  [x, y, z]: ArrayLike<number> & Iterable<number>,
  radians: number,
): [number, number, number] {
  const [s, c] = [Math.sin(radians), Math.cos(radians)];
  return [c * x + s * z, y, -s * x + c * z];
}
