// Light that arrives at the floor about the form, over π: of the sky on the left, with the suns on the right. The fourth number is how much
// of the sky is seen, by cosine.
uniform highp sampler2D uCells;
uniform highp sampler2D uCellLight;
uniform highp usampler2D uFloorSeen;
uniform int uCellsAbove;
out vec4 written;

void main() {
  int side = textureSize(uFloorSeen, 0).y;
  ivec2 at = ivec2(gl_FragCoord.xy);
  bool withSuns = at.x >= side;
  if (withSuns) at.x -= side;
  vec4 sum = vec4(0.0);
  float all = 0.0;
  for (int k = 0; k < uCellsAbove; k++) {
    vec4 cell = texelFetch(uCells, ivec2(k, 0), 0);
    float share = cell.y * cell.w;
    all += share;
    uint word = texelFetch(uFloorSeen, ivec2(2 * at.x + (k >> 7), at.y), 0)[(k >> 5) & 3];
    if ((word >> uint(k & 31) & 1u) != 0u) sum += vec4(texelFetch(uCellLight, ivec2(k, 0), 0).rgb, 1.0) * share;
  }
  // Cells have a middle each; what they are together is put right.
  sum /= all;
  if (withSuns) {
    vec2 xz = ((vec2(at) + 0.5) / float(side) - 0.5) * uFloorSize.x;
    for (int i = 0; i < uSuns; i++)
      sum.rgb += uSunLight[i] * max(0.0, uSunDirection[i].y) / 3.14159265 * (i == 0 ? kilnSunlit(vec3(xz.x, 0.0, xz.y), 0.002) : 1.0);
  }
  written = sum;
}
