// Lookups in maps. A layer holds one picture, its top row first; v points up. As MapTexture has it.

vec2 kilnPlace(vec4 linear, vec4 rest, vec2 uv) {
  return vec2(linear.x * uv.x + linear.y * uv.y + rest.x, linear.z * uv.x + linear.w * uv.y + rest.y);
}

// How much larger a step on the surface is in the picture, on the mean of its directions.
float kilnScale(vec4 linear) { return sqrt(abs(linear.x * linear.w - linear.y * linear.z)); }

float kilnLevel(vec2 size, float footprint) { return max(0.0, log2(max(footprint * max(size.x, size.y), 1e-6))); }

vec3 kilnMap(highp sampler2DArray maps, float layer, vec2 at, float footprint) {
  return textureLod(maps, vec3(fract(at.x), 1.0 - fract(at.y), layer), kilnLevel(vec2(textureSize(maps, 0).xy), footprint)).rgb;
}

// One UDIM tile, which does not go on over its edges: every copy by itself, since a texel of a smaller one is larger.
vec3 kilnTileLevel(highp sampler2DArray maps, float layer, vec2 at, int level) {
  vec2 edge = 0.5 / vec2(textureSize(maps, level).xy);
  vec2 within = clamp(fract(at), edge, 1.0 - edge);
  return textureLod(maps, vec3(within.x, 1.0 - within.y, layer), float(level)).rgb;
}

vec3 kilnTile(highp sampler2DArray maps, float layer, vec2 at, float footprint) {
  vec2 size = vec2(textureSize(maps, 0).xy);
  float level = min(kilnLevel(size, footprint), floor(log2(max(size.x, size.y))));
  float lower = floor(level);
  vec3 finer = kilnTileLevel(maps, layer, at, int(lower));
  return level == lower ? finer : mix(finer, kilnTileLevel(maps, layer, at, int(lower) + 1), level - lower);
}

int kilnTileNumber(vec2 at) {
  vec2 corner = floor(at);
  return corner.x >= 0.0 && corner.x < 10.0 && corner.y >= 0.0 && corner.y < 900.0 ? 1001 + int(corner.x) + 10 * int(corner.y) : 0;
}
