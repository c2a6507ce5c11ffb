// Where the look is open, what lies behind is seen; where it is partly so, in as many of four pixels side by side. Follows kilnLook.
void main() {
  vec2 ux = dFdx(vUv);
  vec2 uy = dFdy(vUv);
  KilnParameters p;
  KilnDirections d;
  kilnLook(kilnTiled(vUv), sqrt(abs(ux.x * uy.y - ux.y * uy.x)), p, d);
  ivec2 place = ivec2(gl_FragCoord.xy) & 1;
  if (p.opacity < (float(2 * (place.x ^ place.y) + place.y) + 0.5) / 4.0) discard;
  written = kilnNumber(vTriangle);
}
