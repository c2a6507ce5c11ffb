export interface CurvePoint {
  x: number;
  y: number;
}

/**
 * Tangents of the curve through points, x rising: Fritsch and Carlson, "Monotone Piecewise Cubic Interpolation", SIAM J. Numer. Anal. 17,
 * 1980, as the server has it.
 */
export function tangents(p: readonly CurvePoint[]): number[] {
  const slope = p.slice(1).map((q, i) => (q.y - p[i].y) / (q.x - p[i].x));
  const m = p.map((_, i) =>
    i === 0
      ? slope[0]
      : i === p.length - 1
        ? slope[i - 1]
        : slope[i - 1] * slope[i] <= 0
          ? 0
          : (slope[i - 1] + slope[i]) / 2,
  );
  slope.forEach((s, i) => {
    if (s === 0) m[i] = m[i + 1] = 0;
    else {
      const length = Math.hypot(m[i] / s, m[i + 1] / s);
      if (length > 3) {
        m[i] *= 3 / length;
        m[i + 1] *= 3 / length;
      }
    }
  });
  return m;
}
