// Light as a pixel asks for it once: prefiltered pictures, irradiance, harmonics and a few suns (Kiln.Proof's PrefilteredLight and
// FormOcclusion). Directions are in the world; the light turns about the vertical.

uniform highp sampler2D uSharp;
uniform highp sampler2DArray uFiltered;
uniform highp sampler2D uIrradiance;
uniform highp sampler2D uFloor;
uniform highp sampler2D uShadow;
uniform vec2 uLightTurn;
uniform vec3 uHarmonics[9];
uniform vec3 uFloorRadiance;
uniform vec4 uSunDirection[5];
uniform vec3 uSunLight[5];
uniform int uSuns;
uniform mat4 uShadowMatrix;
uniform vec4 uFloorSize;

const float KILN_FILTERED_LAYERS = 8.0;

vec3 kilnToLight(vec3 d) { return vec3(uLightTurn.y * d.x - uLightTurn.x * d.z, d.y, uLightTurn.x * d.x + uLightTurn.y * d.z); }

vec2 kilnLatLong(vec3 d) { return vec2(atan(d.x, -d.z) * 0.15915494 + 0.5, acos(clamp(d.y, -1.0, 1.0)) * 0.31830989); }

// Share of the sky that a place of the floor sees.
float kilnFloorShare(vec2 xz) {
  vec2 at = xz / uFloorSize.x + 0.5;
  vec2 inside = step(vec2(0.0), at) * step(at, vec2(1.0));
  return mix(1.0, textureLod(uFloor, at, 0.0).r, inside.x * inside.y);
}

// Share of the first sun that arrives.
float kilnSunlit(vec3 position, float slack) {
  vec4 at = uShadowMatrix * vec4(position, 1.0);
  vec3 p = at.xyz * 0.5 + 0.5;
  if (any(lessThan(p, vec3(0.0))) || any(greaterThan(p, vec3(1.0)))) return 1.0;
  vec2 texel = 1.0 / vec2(textureSize(uShadow, 0));
  float lit = 0.0;
  for (int y = -1; y <= 1; y++)
    for (int x = -1; x <= 1; x++)
      lit += step(p.z - slack, textureLod(uShadow, p.xy + vec2(float(x), float(y)) * texel, 0.0).r);
  return lit / 9.0;
}

// What the floor sends towards a ray that meets it, seen from a place above it.
vec3 kilnFloorSeen(vec3 from, vec3 d) {
  vec3 at = from + d * (max(0.0, from.y) / max(1e-3, -d.y));
  vec3 light = uFloorRadiance * kilnFloorShare(at.xz);
  for (int i = 0; i < uSuns; i++)
    light += uSunLight[i] * max(0.0, uSunDirection[i].y) * 0.0732 * (i == 0 ? kilnSunlit(vec3(at.x, 0.0, at.z), 0.002) : 1.0);
  return light;
}

// Light that a lobe of the width gathers from a direction; what lies below the horizon is the floor.
vec3 kilnGathered(vec3 from, vec3 d, float width) {
  vec2 at = kilnLatLong(kilnToLight(d));
  float layer = sqrt(clamp(width, 0.0, 1.0)) * (KILN_FILTERED_LAYERS - 1.0);
  float lower = min(floor(layer), KILN_FILTERED_LAYERS - 2.0);
  float between = layer - lower;
  vec3 first = lower > 0.0 ? textureLod(uFiltered, vec3(at, lower), 0.0).rgb
    : d.y < 0.0 && uFloorSize.y > 0.0 ? kilnFloorSeen(from, d)
    : textureLod(uSharp, at, 0.0).rgb;
  return between > 0.0 ? mix(first, textureLod(uFiltered, vec3(at, lower + 1.0), 0.0).rgb, between) : first;
}

vec3 kilnHarmonic(vec3 d, float a0, float a1, float a2) {
  return max(vec3(0.0), a0 * 0.28209479 * uHarmonics[0]
    + a1 * 0.48860251 * (d.x * uHarmonics[1] + d.y * uHarmonics[2] + d.z * uHarmonics[3])
    + a2 * (0.54627422 * (d.z * d.z - d.x * d.x) * uHarmonics[4] + 1.09254843 * d.x * d.y * uHarmonics[5]
      + 0.31539157 * (3.0 * d.y * d.y - 1.0) * uHarmonics[6] + 1.09254843 * d.y * d.z * uHarmonics[7] + 1.09254843 * d.x * d.z * uHarmonics[8]));
}

// Irradiance over π of the sky by normal, from the harmonics alone (Ramamoorthi and Hanrahan 2001: π, 2π/3, π/4 over π).
vec3 kilnSkyIrradiance(vec3 n) { return kilnHarmonic(n, 1.0, 0.66666667, 0.25); }
