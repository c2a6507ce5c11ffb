// Light that arrives at each vertex of a form from what it sees of the sky and of the floor, as a vector for each colour: its product with a
// normal near the vertex's own is the irradiance over π. The first one's fourth number is how much is seen, by cosine. A sheet's other side
// follows in the upper half.
uniform highp sampler2D uCells;
uniform highp sampler2D uCellLight;
uniform highp usampler2D uFormSeen;
uniform highp sampler2D uOwnPositions;
uniform highp sampler2D uOwnNormals;
uniform int uCellCount;
uniform int uCellsAbove;
layout(location = 0) out vec4 red;
layout(location = 1) out vec4 green;
layout(location = 2) out vec4 blue;

void main() {
  ivec2 at = ivec2(gl_FragCoord.xy);
  int rows = textureSize(uOwnPositions, 0).y;
  float side = 1.0;
  if (at.y >= rows) {
    at.y -= rows;
    side = -1.0;
  }
  vec3 normal = texelFetch(uOwnNormals, at, 0).xyz * side;
  vec3 origin = texelFetch(uOwnPositions, at, 0).xyz;
  mat3 sums = mat3(0.0);
  float open = 0.0, all = 0.0;
  for (int k = 0; k < uCellCount; k++) {
    vec4 cell = texelFetch(uCells, ivec2(k, 0), 0);
    float share = dot(cell.xyz, normal) * cell.w;
    if (share <= 0.0) continue;
    all += share;
    uint word = texelFetch(uFormSeen, ivec2(4 * at.x + (k >> 7), at.y), 0)[(k >> 5) & 3];
    if ((word >> uint(k & 31) & 1u) == 0u) continue;
    open += share;
    vec3 light = k >= uCellsAbove && uFloorSize.y > 0.0 ? kilnFloorWhole(origin, cell.xyz) : texelFetch(uCellLight, ivec2(k, 0), 0).rgb;
    sums += outerProduct(cell.xyz * cell.w, light);
  }
  sums /= max(1e-6, all);
  red = vec4(sums[0], open / max(1e-6, all));
  green = vec4(sums[1], 0.0);
  blue = vec4(sums[2], 0.0);
}
