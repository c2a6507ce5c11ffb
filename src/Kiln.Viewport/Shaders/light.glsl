// Light as a pixel asks for it once: prefiltered pictures, the floor's light and a few suns (Kiln.Proof's PrefilteredLight). Directions
// are in the world; the light turns about the vertical.

uniform highp sampler2D uSharp;
uniform highp sampler2DArray uFiltered;
uniform highp sampler2D uFloorLight;
uniform highp sampler2D uShadow;
uniform vec2 uLightTurn;
uniform vec3 uFloorRadiance;
uniform vec4 uSunDirection[5];
uniform vec3 uSunLight[5];
uniform int uSuns;
uniform mat4 uShadowMatrix;
uniform vec4 uFloorSize;

const float KILN_FILTERED_LAYERS = 8.0;

vec3 kilnToLight(vec3 d) { return vec3(uLightTurn.y * d.x - uLightTurn.x * d.z, d.y, uLightTurn.x * d.x + uLightTurn.y * d.z); }

vec2 kilnLatLong(vec3 d) { return vec2(atan(d.x, -d.z) * 0.15915494 + 0.5, acos(clamp(d.y, -1.0, 1.0)) * 0.31830989); }

const int KILN_SHADOW_PLACES = 16;

// Places spread evenly over the unit disc (Vogel 1979).
vec2 kilnShadowPlace(int i) {
  float angle = float(i) * 2.399963;
  return sqrt((float(i) + 0.5) / float(KILN_SHADOW_PLACES)) * vec2(cos(angle), sin(angle));
}

const float KILN_FLOOR_ALBEDO = 0.23;

// Light of the sky that arrives at a place of the floor, over π, and how much of the sky it sees; with the suns in the right half. Away from
// the form nothing stands in the way.
vec4 kilnFloorLight(vec2 xz, float half_) {
  vec2 at = xz / uFloorSize.x + 0.5;
  vec2 inside = smoothstep(vec2(0.5), vec2(0.42), abs(at - 0.5));
  // Half a texel from the middle of the texture, so that its halves do not mix.
  float edge = 0.5 / float(textureSize(uFloorLight, 0).y);
  vec4 near = textureLod(uFloorLight, vec2((clamp(at.x, edge, 1.0 - edge) + half_) * 0.5, at.y), 0.0);
  vec3 open = uFloorRadiance / KILN_FLOOR_ALBEDO;
  if (half_ > 0.0)
    for (int i = 0; i < uSuns; i++) open += uSunLight[i] * max(0.0, uSunDirection[i].y) * 0.31830989;
  return mix(vec4(open, 1.0), near, inside.x * inside.y);
}

// Share of the first sun that arrives. The further what stands in its way is, the wider the edge of its shadow, by the sun's radius (Fernando
// 2005): the shadow map is twice the form's radius wide and six times deep.
float kilnSunlit(vec3 position, float slack) {
  vec4 at = uShadowMatrix * vec4(position, 1.0);
  vec3 p = at.xyz * 0.5 + 0.5;
  if (any(lessThan(p, vec3(0.0))) || any(greaterThan(p, vec3(1.0)))) return 1.0;
  float edge = 3.0 * tan(uSunDirection[0].w);
  float texel = 1.5 / float(textureSize(uShadow, 0).x);
  float hidden = 0.0, depth = 0.0;
  for (int i = 0; i < KILN_SHADOW_PLACES; i++) {
    float before = p.z - slack - textureLod(uShadow, p.xy + kilnShadowPlace(i) * max(texel, 0.3 * edge), 0.0).r;
    if (before > 0.0) {
      hidden += 1.0;
      depth += before;
    }
  }
  if (hidden == 0.0) return 1.0;
  float wide = max(texel, edge * depth / hidden);
  float lit = 0.0;
  for (int i = 0; i < KILN_SHADOW_PLACES; i++) lit += step(p.z - slack, textureLod(uShadow, p.xy + kilnShadowPlace(i) * wide, 0.0).r);
  return lit / float(KILN_SHADOW_PLACES);
}

vec2 kilnOnFloor(vec3 from, vec3 d) { return (from + d * (max(0.0, from.y) / max(1e-3, -d.y))).xz; }

// What the floor sends towards a ray that meets it, its shadow of the suns no sharper than its texture.
vec3 kilnFloorWhole(vec3 from, vec3 d) { return KILN_FLOOR_ALBEDO * kilnFloorLight(kilnOnFloor(from, d), 1.0).rgb; }

// The same with the first sun's shadow as it is.
vec3 kilnFloorSeen(vec3 from, vec3 d) {
  vec2 at = kilnOnFloor(from, d);
  vec3 light = KILN_FLOOR_ALBEDO * kilnFloorLight(at, 0.0).rgb;
  for (int i = 0; i < uSuns; i++)
    light += uSunLight[i] * max(0.0, uSunDirection[i].y) * (KILN_FLOOR_ALBEDO * 0.31830989) * (i == 0 ? kilnSunlit(vec3(at.x, 0.0, at.y), 0.002) : 1.0);
  return light;
}

// Light that a lobe of the width gathers from a direction; what lies below the horizon is the floor.
vec3 kilnGathered(vec3 from, vec3 d, float width) {
  vec2 at = kilnLatLong(kilnToLight(d));
  float layer = sqrt(clamp(width, 0.0, 1.0)) * (KILN_FILTERED_LAYERS - 1.0);
  float lower = min(floor(layer), KILN_FILTERED_LAYERS - 2.0);
  float between = layer - lower;
  bool isDown = d.y < 0.0 && uFloorSize.y > 0.0;
  vec3 first = lower > 0.0 ? textureLod(uFiltered, vec3(at, lower), 0.0).rgb
    : isDown ? kilnFloorSeen(from, d)
    : textureLod(uSharp, at, 0.0).rgb;
  if (between <= 0.0) return first;
  vec3 second = textureLod(uFiltered, vec3(at, lower + 1.0), 0.0).rgb;
  if (!isDown) return mix(first, second, between);
  // The pictures have an even floor; here it lies in the form's shadow as far as the lobe looks down.
  vec3 even = uFloorRadiance;
  for (int i = 0; i < uSuns; i++) even += uSunLight[i] * max(0.0, uSunDirection[i].y) * (KILN_FLOOR_ALBEDO * 0.31830989);
  vec3 shade = mix(vec3(1.0), kilnFloorWhole(from, d) / max(vec3(1e-6), even), smoothstep(0.0, max(0.05, 2.0 * width), -d.y));
  return mix(lower > 0.0 ? first * shade : first, second * shade, between);
}
