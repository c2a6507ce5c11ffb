// The form while nothing moves: one path of light for each pixel, added to those before. What follows kilnLook, noise, light, the meeting and
// the hierarchy of triangles. Environment and surface are sampled in turn and combined by the power heuristic, as in the proof (PathWave).
in vec2 vScreen;
uniform vec3 uEye;
uniform vec3 uForward;
uniform vec3 uRight;
uniform vec3 uUp;
uniform float uSpread;
uniform bool uIsSheet;
uniform bool uBlurred;
uniform int uSample;
uniform vec2 uSize;
uniform BVH uHierarchy;
uniform highp sampler2D uNormals;
uniform highp sampler2D uTangents;
uniform highp sampler2D uUvs;
// Shares of the light's brightness up to a place: 64 rows of 128 columns, and a last one of the rows themselves.
uniform highp sampler2D uGuide;
uniform highp sampler2D uBefore;
out vec4 written;

const int KILN_COLUMNS = 128;
const int KILN_ROWS = 64;
const int KILN_BOUNCES = 16;
const float KILN_CLEARANCE = 1e-4;

uint kilnStirred(uint x) {
  x ^= x >> 16;
  x *= 0x21f0aaadu;
  x ^= x >> 15;
  x *= 0xd35a2d97u;
  return x ^ (x >> 15);
}

uint kilnBackward(uint x) {
  x = (x >> 16) | (x << 16);
  x = ((x & 0xff00ff00u) >> 8) | ((x & 0x00ff00ffu) << 8);
  x = ((x & 0xf0f0f0f0u) >> 4) | ((x & 0x0f0f0f0fu) << 4);
  x = ((x & 0xccccccccu) >> 2) | ((x & 0x33333333u) << 2);
  return ((x & 0xaaaaaaaau) >> 1) | ((x & 0x55555555u) << 1);
}

// Nested uniform scrambling of bits from the last one up by a Laine-Karras hash (constants of Vegdahl 2021).
uint kilnScrambled(uint x, uint seed) {
  x ^= x * 0x3d20adeau;
  x += seed;
  x *= (seed >> 16) | 1u;
  x ^= x * 0x05526c56u;
  return x ^ x * 0x53a22864u;
}

// The second of Sobol's dimensions, whose direction numbers are each half of the one before, added to itself.
uint kilnSobol(uint index) {
  uint sum = 0u;
  for (uint direction = 0x80000000u; index != 0u; index >>= 1) {
    if ((index & 1u) != 0u) sum ^= direction;
    direction ^= direction >> 1;
  }
  return sum;
}

float kilnNumber(uint x) { return min(float(x >> 8) * (1.0 / 16777216.0), 0.99999994); }

uint gGroup;
uint gSeed;

// Two numbers of an Owen-scrambled Sobol sequence (Burley 2020), in another order for each key.
vec2 kilnPair(uint key) {
  uint index = kilnBackward(kilnScrambled(kilnBackward(uint(uSample)), key));
  return vec2(
    kilnNumber(kilnBackward(kilnScrambled(index, kilnStirred(key + 1u)))),
    kilnNumber(kilnBackward(kilnScrambled(kilnBackward(kilnSobol(index)), kilnStirred(key + 2u)))));
}

vec4 kilnDraw() {
  uint key = kilnStirred(gSeed ^ (gGroup++ * 0x9e3779b9u));
  return vec4(kilnPair(key), kilnPair(kilnStirred(key + 3u)));
}

float kilnHeuristic(float own, float other) { return own * own / max(1e-30, own * own + other * other); }

// --- the light ------------------------------------------------------------------------------------------------------

vec3 kilnFromLight(vec3 d) { return vec3(uLightTurn.y * d.x + uLightTurn.x * d.z, d.y, uLightTurn.y * d.z - uLightTurn.x * d.x); }

float kilnShare(int row, int column) {
  float upTo = texelFetch(uGuide, ivec2(column, row), 0).r;
  return column > 0 ? upTo - texelFetch(uGuide, ivec2(column - 1, row), 0).r : upTo;
}

float kilnGuideDensity(vec2 at, float sine) {
  int row = clamp(int(at.y * float(KILN_ROWS)), 0, KILN_ROWS - 1);
  int column = clamp(int(fract(at.x) * float(KILN_COLUMNS)), 0, KILN_COLUMNS - 1);
  return kilnShare(KILN_ROWS, row) * kilnShare(row, column) * float(KILN_ROWS * KILN_COLUMNS) / (19.7392088 * max(1e-4, sine));
}

// The place of a share in one row, and where within it.
float kilnFound(int row, int count, float share) {
  int low = 0;
  int high = count - 1;
  for (int i = 0; i < 7; i++) {
    if (low >= high) break;
    int middle = (low + high) / 2;
    if (texelFetch(uGuide, ivec2(middle, row), 0).r > share) high = middle;
    else low = middle + 1;
  }
  float before = low > 0 ? texelFetch(uGuide, ivec2(low - 1, row), 0).r : 0.0;
  float own = texelFetch(uGuide, ivec2(low, row), 0).r - before;
  return float(low) + clamp((share - before) / max(1e-9, own), 0.0, 0.9999);
}

float kilnSunAngle(int i) { return 2.0 * KILN_PI * (1.0 - cos(uSunDirection[i].w)); }

float kilnSunChance() { return uSuns > 0 ? 0.5 : 0.0; }

// What comes from a direction, and the density by which kilnLightFrom gives it.
vec3 kilnLightMet(vec3 d, out float density) {
  vec3 turned = kilnToLight(d);
  vec2 at = kilnLatLong(turned);
  vec3 light = textureLod(uSharp, at, 0.0).rgb;
  density = (1.0 - kilnSunChance()) * kilnGuideDensity(at, sqrt(max(0.0, 1.0 - d.y * d.y)));
  for (int i = 0; i < uSuns; i++) {
    if (dot(d, uSunDirection[i].xyz) < cos(uSunDirection[i].w)) continue;
    light += uSunLight[i] / kilnSunAngle(i);
    density += kilnSunChance() / float(uSuns) / kilnSunAngle(i);
  }
  return light;
}

vec3 kilnLightFrom(vec2 u, float choice) {
  float chance = kilnSunChance();
  if (choice < chance) {
    int i = min(int(choice / chance * float(uSuns)), uSuns - 1);
    float z = 1.0 - u.x * (1.0 - cos(uSunDirection[i].w));
    float angle = 2.0 * KILN_PI * u.y;
    return normalize(kilnToWorld(kilnFrameOf(uSunDirection[i].xyz), vec3(sqrt(max(0.0, 1.0 - z * z)) * vec2(cos(angle), sin(angle)), z)));
  }
  float y = kilnFound(KILN_ROWS, KILN_ROWS, u.y);
  float x = kilnFound(int(y), KILN_COLUMNS, u.x);
  float phi = (x / float(KILN_COLUMNS) - 0.5) * 2.0 * KILN_PI;
  float theta = y / float(KILN_ROWS) * KILN_PI;
  return kilnFromLight(vec3(sin(theta) * sin(phi), cos(theta), -sin(theta) * cos(phi)));
}

// --- what rays meet -------------------------------------------------------------------------------------------------

struct KilnMet {
  float distance;
  bool isFloor;
  uvec3 corners;
  vec3 weights;
  vec3 facet;
};

bool kilnMeets(vec3 o, vec3 d, out KilnMet met) {
  uvec4 corners = uvec4(0u);
  vec3 facet = vec3(0.0);
  vec3 weights = vec3(0.0);
  float side = 1.0;
  float distance = 1e20;
  bool hit = bvhIntersectFirstHit(uHierarchy, o, d, corners, facet, weights, side, distance);
  float floor_ = uFloorSize.y > 0.0 && d.y < 0.0 && o.y > 0.0 ? -o.y / d.y : 1e20;
  vec2 at = o.xz + d.xz * floor_;
  bool onFloor = floor_ < (hit ? distance : 1e20) && dot(at, at) < 36.0;
  met = KilnMet(onFloor ? floor_ : distance, onFloor, corners.xyz, weights, facet * side);
  return onFloor || hit;
}

vec4 kilnAt(highp sampler2D values, KilnMet met) {
  int width = textureSize(values, 0).x;
  vec4 sum = vec4(0.0);
  for (int i = 0; i < 3; i++) {
    int corner = int(met.corners[i]);
    sum += met.weights[i] * texelFetch(values, ivec2(corner % width, corner / width), 0);
  }
  return sum;
}

// Units of UV to a metre of a triangle.
float kilnUvPerMetre(KilnMet met) {
  vec3 p[3];
  vec2 uv[3];
  int width = textureSize(uUvs, 0).x;
  for (int i = 0; i < 3; i++) {
    int corner = int(met.corners[i]);
    p[i] = texelFetch1D(uHierarchy.position, met.corners[i]).xyz;
    uv[i] = texelFetch(uUvs, ivec2(corner % width, corner / width), 0).xy;
  }
  float area = length(cross(p[1] - p[0], p[2] - p[0]));
  vec2 a = uv[1] - uv[0];
  vec2 b = uv[2] - uv[0];
  return sqrt(abs(a.x * b.y - a.y * b.x) / max(1e-12, area));
}

// How much of what a ray meets is there.
float kilnThere(KilnMet met) {
#if KILN_IS_OPAQUE
  return 1.0;
#else
  KilnParameters p;
  KilnDirections d;
  kilnLook(kilnTiled(kilnAt(uUvs, met).xy), 1e-3, p, d);
  return clamp(p.opacity, 0.0, 1.0);
#endif
}

bool kilnBlocked(vec3 o, vec3 d, float through) {
  KilnMet met;
  for (int i = 0; i < 8; i++) {
    if (!kilnMeets(o, d, met)) return false;
    if (met.isFloor) return true;
    float there = kilnThere(met);
    if (through < there) return true;
    through = (through - there) / max(1e-6, 1.0 - there);
    o += d * (met.distance + KILN_CLEARANCE);
  }
  return true;
}

// --- the floor: matt grey with a grain under a weak skin (StudioFloor) ----------------------------------------------

struct KilnGround {
  vec3 wo;
  vec2 a;
  float ior;
  float grey;
  float mirrors;
};

KilnGround kilnGround(vec3 at, vec3 wo, float footprint, float soft) {
  float grain = kilnNoise(vec2(at.x, -at.z), footprint, 7, 6, 0.62, 11) - 0.5;
  float skin = 0.5 * kilnNormalIncidence(1.4);
  KilnGround g = KilnGround(wo, vec2(max(0.6 - 0.25 * grain, soft)), kilnIndexOf(skin), 0.22 * max(0.2, 1.0 + 0.55 * grain), 0.0);
  g.mirrors = kilnTableOfIndex(3.0, wo.z, g.a.x, g.ior);
  return g;
}

vec3 kilnGroundLight(KilnGround g, vec3 wi, out float density) {
  density = 0.0;
  if (wi.z <= 0.0 || g.wo.z <= 0.0) return vec3(0.0);
  vec3 h = normalize(g.wo + wi);
  float oh = dot(g.wo, h);
  float lambda = kilnLambda(g.a, g.wo);
  float ggx = kilnGgxLambda(g.a, g.wo);
  float chance = clamp(g.mirrors / (g.mirrors + g.grey), 0.04, 0.96);
  density = chance * kilnFacetDensity(g.a, g.wo, ggx, h) / max(1e-7, 4.0 * oh) + (1.0 - chance) * wi.z / KILN_PI;
  float shine = kilnFacetsD(g.a, h) * kilnG2(g.a, lambda, wi) / (4.0 * g.wo.z) * kilnDielectric(oh, g.ior);
  return vec3(shine + g.grey * (1.0 - g.mirrors) * wi.z / KILN_PI);
}

vec3 kilnGroundSample(KilnGround g, float choice, vec2 u) {
  float chance = clamp(g.mirrors / (g.mirrors + g.grey), 0.04, 0.96);
  if (choice >= chance) return kilnCosine(u);
  vec3 h = kilnSampleFacet(g.a, g.wo, u);
  vec3 wi = 2.0 * dot(g.wo, h) * h - g.wo;
  return wi.z > 0.0 ? wi : vec3(0.0);
}

// --- a path ---------------------------------------------------------------------------------------------------------

vec3 kilnPath(vec3 o, vec3 d) {
  vec3 radiance = vec3(0.0);
  vec3 throughput = vec3(1.0);
  vec3 absorbed = vec3(0.0);
  float pdf = 0.0;
  float cone = uSpread * 0.5;
  float way = 0.0;
  float soft = 0.0;
  int bounces = 0;
  for (int pass = 0; pass < 2 * KILN_BOUNCES; pass++) {
    KilnMet met;
    if (!kilnMeets(o, d, met)) {
      float lightDensity;
      vec3 light = kilnLightMet(d, lightDensity);
      if (pdf > 0.0) radiance += throughput * light * kilnHeuristic(pdf, lightDensity);
      else if (uBlurred && d.y >= 0.0) radiance += throughput * textureLod(uFiltered, vec3(kilnLatLong(kilnToLight(d)), 3.0), 0.0).rgb;
      else radiance += throughput * light;
      return radiance;
    }
    way += met.distance;
    throughput *= exp(-absorbed * met.distance);
    vec3 at = o + d * met.distance;
    vec3 wo = -d;
    vec4 draw = kilnDraw();
    vec4 more = kilnDraw();
    if (met.isFloor) {
      float far = clamp((length(at.xz) - 1.9) / (5.6 - 1.9), 0.0, 1.0);
      if (pdf == 0.0 && kilnDraw().x >= 1.0 - far * far * (3.0 - 2.0 * far)) {
        o = at - vec3(0.0, KILN_CLEARANCE, 0.0);
        continue;
      }
      bounces++;
      KilnFrame frame = KilnFrame(vec3(1.0, 0.0, 0.0), vec3(0.0, 0.0, -1.0), vec3(0.0, 1.0, 0.0));
      KilnGround g = kilnGround(at, kilnToLocal(frame, wo), cone * way * inversesqrt(max(0.05, wo.y)), soft);
      vec3 above = at + vec3(0.0, KILN_CLEARANCE, 0.0);
      vec3 wi = kilnLightFrom(draw.xy, draw.z);
      float lightDensity;
      float density;
      vec3 light = kilnLightMet(wi, lightDensity);
      vec3 sent = kilnGroundLight(g, kilnToLocal(frame, wi), density) * light;
      if (lightDensity > 0.0 && kilnGreatest(sent) > 0.0 && !kilnBlocked(above, wi, draw.w))
        radiance += throughput * sent * (kilnHeuristic(lightDensity, density) / lightDensity);
      vec3 next = kilnGroundSample(g, more.z, more.xy);
      sent = kilnGroundLight(g, next, pdf);
      if (!(pdf > 1e-12)) return radiance;
      throughput *= sent / pdf;
      d = kilnToWorld(frame, next);
      o = above;
      cone += 0.35 * g.a.x;
    } else {
      vec2 uv = kilnAt(uUvs, met).xy;
      vec4 along = kilnAt(uTangents, met);
      vec3 plain = normalize(kilnAt(uNormals, met).xyz);
      vec3 facet = met.facet;
      // The facet of the hierarchy looks towards the ray; the form's outside is where its normals point.
      float side = dot(facet, wo) < 0.0 ? -1.0 : 1.0;
      facet *= side;
      bool isOutside = dot(plain, facet) >= 0.0;
      float footprint = cone * way * inversesqrt(max(0.05, abs(dot(plain, wo)))) * kilnUvPerMetre(met);
      KilnParameters p;
      KilnDirections e;
      kilnLook(kilnTiled(uv), footprint, p, e);
      if (uIsSheet) p.thinWalled = 1.0;
#if !KILN_IS_OPAQUE
      if (kilnDraw().x >= p.opacity) {
        o = at - facet * KILN_CLEARANCE;
        continue;
      }
#endif
      bounces++;
      bool inside = !isOutside && p.transmission > 0.0 && p.thinWalled < 0.5;
      p.width = max(p.width, soft);
      p.coatWidth = max(p.coatWidth, soft);
      vec3 bitangent = cross(plain, along.xyz) * (along.w < 0.0 ? -1.0 : 1.0);
      float turn = isOutside ? 1.0 : -1.0;
      vec3 shading = plain * turn;
      vec3 coatShading = shading;
#if KILN_HAS_NORMAL
      shading = coatShading = normalize(along.xyz * e.normal.x + bitangent * e.normal.y + plain * e.normal.z) * turn;
#endif
#if KILN_HAS_COAT_NORMAL
      coatShading = normalize(along.xyz * e.coatNormal.x + bitangent * e.coatNormal.y + plain * e.coatNormal.z) * turn;
#endif
      shading = kilnReflecting(shading, wo, facet);
      KilnFrame frame;
      if (p.anisotropy > 0.0) frame = kilnFrameAlong(shading, along.xyz * e.tangent.x + bitangent * e.tangent.y);
      else frame = kilnFrameOf(shading);
      KilnFrame coat = KilnFrame(vec3(1.0, 0.0, 0.0), vec3(0.0, 1.0, 0.0), vec3(0.0, 0.0, 1.0));
#if KILN_COAT
      KilnFrame outer = kilnFrameAlong(kilnReflecting(coatShading, wo, facet), along.xyz * e.coatTangent.x + bitangent * e.coatTangent.y);
      coat = KilnFrame(kilnToLocal(frame, outer.x), kilnToLocal(frame, outer.y), kilnToLocal(frame, outer.z));
#endif
      KilnLayers s;
#if KILN_THROUGH
      if (inside) s = kilnSurfaceInside(p, kilnToLocal(frame, wo));
      else
#endif
        s = kilnSurface(p, kilnToLocal(frame, wo), coat);
#if KILN_GLOWS
      radiance += throughput * p.emission * kilnEmissionShare(s);
#endif
      vec3 wi = kilnLightFrom(draw.xy, draw.z);
      vec3 local = kilnToLocal(frame, wi);
      bool toOutside = dot(wi, facet) > 0.0;
      float lightDensity;
      float density = 0.0;
      vec3 light = kilnLightMet(wi, lightDensity);
      if (lightDensity > 0.0 && toOutside == (local.z > 0.0) && (toOutside || kilnIsTransmissive(s))) {
        KilnLight own = kilnEvaluate(s, local, density);
        vec3 sent = (own.diffuse + own.specular + own.coat + own.through) * light;
        if (kilnGreatest(sent) > 0.0 && !kilnBlocked(at + facet * (toOutside ? KILN_CLEARANCE : -KILN_CLEARANCE), wi, draw.w))
          radiance += throughput * sent * (kilnHeuristic(lightDensity, density) / lightDensity);
      }
      vec3 next = kilnSample(s, more.z, more.xy);
      KilnLight own = kilnEvaluate(s, next, pdf);
      d = kilnToWorld(frame, next);
      toOutside = dot(d, facet) > 0.0;
      if (!(pdf > 1e-12) || toOutside != (next.z > 0.0)) return radiance;
      throughput *= (own.diffuse + own.specular + own.coat + own.through) / pdf;
      o = at + facet * (toOutside ? KILN_CLEARANCE : -KILN_CLEARANCE);
      if (!toOutside && p.thinWalled < 0.5)
        absorbed = inside || !(p.transmissionDepth > 0.0) ? vec3(0.0)
          : -log(clamp(p.transmissionColour, vec3(1e-4), vec3(1.0))) / p.transmissionDepth;
      cone += 0.35 * p.width;
    }
    soft = max(soft, 0.25 * min(1.0, inversesqrt(KILN_PI * pdf)));
    if (bounces >= KILN_BOUNCES || any(isnan(throughput))) return radiance;
    if (bounces >= 3) {
      float survive = min(0.95, kilnGreatest(throughput));
      if (more.w >= survive) return radiance;
      throughput /= survive;
    }
  }
  return radiance;
}

void main() {
  ivec2 pixel = ivec2(gl_FragCoord.xy);
  gGroup = 0u;
  gSeed = kilnStirred(uint(pixel.y) * 4096u + uint(pixel.x));
  vec2 at = (vec2(pixel) + kilnDraw().xy) / uSize * 2.0 - 1.0;
  vec3 light = kilnPath(uEye, normalize(uForward + uRight * at.x + uUp * at.y));
  if (any(isnan(light)) || any(isinf(light))) light = vec3(0.0);
  vec4 before = uSample > 0 ? texelFetch(uBefore, pixel, 0) : vec4(0.0);
  written = before + vec4(light, 1.0);
}
