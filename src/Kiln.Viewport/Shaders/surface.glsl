// A surface of layers seen from one direction, as Kiln.Scattering has it, where the sources of the formulas are named.
// Directions are in the shading frame: z along the normal, x along the tangent, pointing away from the surface; wo lies above it.
// Which lobes and formulas are there is said by definitions before this text; uAlbedo holds the directional albedos.

struct KilnParameters {
  vec3 baseColour;
  float diffuseRoughness;
  float metalness;
  float width;
  float anisotropy;
  float ior;
  float specularWeight;
  vec3 specularColour;
  vec3 edgeColour;
  float reflectanceAsColour;
  float transmission;
  vec3 transmissionColour;
  float transmissionDepth;
  float dispersion;
  float thinWalled;
  float subsurface;
  vec3 subsurfaceColour;
  float coatWeight;
  vec3 coatColour;
  float coatWidth;
  float coatAnisotropy;
  float coatIor;
  float coatDarkening;
  float fuzzWeight;
  vec3 fuzzColour;
  float fuzzRoughness;
  float filmWeight;
  float filmThickness;
  float filmIor;
  vec3 emission;
  float opacity;
};

// What a surface sends one way, apart by where it comes from: values of the distribution times the cosine.
struct KilnLight {
  vec3 diffuse;
  vec3 specular;
  vec3 coat;
  vec3 through;
};

// An orthonormal frame.
struct KilnFrame {
  vec3 x;
  vec3 y;
  vec3 z;
};

const float KILN_PI = 3.14159265358979;

float kilnUnitRange(float v) { return clamp(v, 0.0, 1.0); }
vec3 kilnUnitRange(vec3 v) { return clamp(v, vec3(0.0), vec3(1.0)); }
float kilnMean(vec3 v) { return (v.x + v.y + v.z) / 3.0; }
float kilnGreatest(vec3 v) { return max(v.x, max(v.y, v.z)); }

KilnFrame kilnFrameOf(vec3 z) {
  float sign = z.z >= 0.0 ? 1.0 : -1.0;
  float a = -1.0 / (sign + z.z);
  float b = z.x * z.y * a;
  return KilnFrame(vec3(1.0 + sign * z.x * z.x * a, sign * b, -sign * z.x), vec3(b, sign + z.y * z.y * a, -z.y), z);
}

KilnFrame kilnFrameAlong(vec3 z, vec3 tangent) {
  vec3 flatTangent = tangent - z * dot(tangent, z);
  float length2 = dot(flatTangent, flatTangent);
  if (length2 <= 1e-12) return kilnFrameOf(z);
  vec3 x = flatTangent * inversesqrt(length2);
  return KilnFrame(x, cross(z, x), z);
}

vec3 kilnToLocal(KilnFrame f, vec3 v) { return vec3(dot(v, f.x), dot(v, f.y), dot(v, f.z)); }
vec3 kilnToWorld(KilnFrame f, vec3 v) { return f.x * v.x + f.y * v.y + f.z * v.z; }

// --- directional albedos -------------------------------------------------------------------------------------------

const float KILN_ALBEDO_STEPS = 39.0;
const float KILN_ALBEDO_INDICES = 17.0;
const float KILN_SPLIT = 1.0;
const float KILN_AVERAGE = 2.0;
const float KILN_DIELECTRIC = 3.0;
const float KILN_ENTERING = 21.0;
const float KILN_LEAVING = 39.0;
const float KILN_FIBRES = 57.0;

float kilnTable(float layer, float x, float y) {
  return textureLod(uAlbedo, vec3((clamp(vec2(x, y), 0.0, 1.0) * KILN_ALBEDO_STEPS + 0.5) / (KILN_ALBEDO_STEPS + 1.0), layer), 0.0).r;
}

float kilnTableOf(float layer, float cosine, float width) { return kilnTable(layer, sqrt(max(0.0, cosine)), sqrt(max(0.0, width))); }

float kilnTableOfIndex(float first, float cosine, float width, float ior) {
  float layer = clamp((ior - 1.0) / (ior + 1.0) / 0.52, 0.0, 1.0) * KILN_ALBEDO_INDICES;
  float lower = min(floor(layer), KILN_ALBEDO_INDICES - 1.0);
  return mix(kilnTableOf(first + lower, cosine, width), kilnTableOf(first + lower + 1.0, cosine, width), layer - lower);
}

vec3 kilnSchlickAlbedo(float cosine, float width, vec3 f0, vec3 f90) {
  float all = kilnTableOf(0.0, cosine, width);
  float split = kilnTableOf(KILN_SPLIT, cosine, width);
  return f0 * (all - split) + f90 * split;
}

float kilnGlassAlbedo(float cosine, float width, float ior) {
  return ior >= 1.0 ? kilnTableOfIndex(KILN_ENTERING, cosine, width, ior) : kilnTableOfIndex(KILN_LEAVING, cosine, width, 1.0 / ior);
}

// --- Fresnel --------------------------------------------------------------------------------------------------------

float kilnPower5(float x) {
  x = clamp(x, 0.0, 1.0);
  float x2 = x * x;
  return x2 * x2 * x;
}

float kilnDielectric(float cosine, float ior) {
  float c = abs(cosine);
  float g2 = ior * ior - 1.0 + c * c;
  if (g2 <= 0.0) return 1.0;
  float g = sqrt(g2);
  float a = (g - c) / (g + c);
  float b = (c * (g + c) - 1.0) / (c * (g - c) + 1.0);
  return min(1.0, 0.5 * a * a * (1.0 + b * b));
}

float kilnNormalIncidence(float ior) {
  float s = (ior - 1.0) / (ior + 1.0);
  return s * s;
}

float kilnIndexOf(float normalIncidence) {
  float s = sqrt(clamp(normalIncidence, 0.0, 0.999));
  return (1.0 + s) / (1.0 - s);
}

vec3 kilnSchlick(float cosine, vec3 f0, vec3 f90) { return f0 + (f90 - f0) * kilnPower5(1.0 - cosine); }

const float KILN_F82 = 1.0 / 7.0;

vec3 kilnF82Dip(vec3 f0, vec3 tint) {
  return kilnSchlick(KILN_F82, f0, vec3(1.0)) * (1.0 - tint) / (KILN_F82 * kilnPower5(1.0 - KILN_F82) * (1.0 - KILN_F82));
}

vec3 kilnF82(float cosine, vec3 f0, vec3 tint) {
  float rest = clamp(1.0 - cosine, 0.0, 1.0);
  return max(vec3(0.0), kilnSchlick(cosine, f0, vec3(1.0)) - kilnF82Dip(f0, tint) * (cosine * kilnPower5(rest) * rest));
}

vec3 kilnConductor(float cosine, vec3 reflectance, vec3 edge) {
  vec3 r = clamp(reflectance, vec3(0.0), vec3(0.999));
  vec3 root = sqrt(r);
  vec3 n = mix((1.0 + root) / (1.0 - root), (1.0 - r) / (1.0 + r), clamp(edge, vec3(0.0), vec3(1.0)));
  vec3 k2 = max(vec3(0.0), (r * (n + 1.0) * (n + 1.0) - (n - 1.0) * (n - 1.0)) / (1.0 - r));
  float c2 = clamp(cosine * cosine, 0.0, 1.0);
  float s2 = 1.0 - c2;
  vec3 n2 = n * n;
  vec3 t = n2 - k2 - s2;
  vec3 ab = sqrt(t * t + 4.0 * n2 * k2);
  vec3 a = sqrt(max(vec3(0.0), 0.5 * (ab + t)));
  vec3 sum = ab + c2;
  vec3 twice = 2.0 * sqrt(c2) * a;
  vec3 perpendicular = (sum - twice) / (sum + twice);
  vec3 sum2 = c2 * ab + s2 * s2;
  vec3 twice2 = twice * s2;
  return 0.5 * perpendicular * (1.0 + (sum2 - twice2) / max(vec3(1e-12), sum2 + twice2));
}

vec3 kilnConductorAverage(vec3 reflectance, vec3 edge) {
  return 2.0 * (0.0694318442 * 0.1739274226 * kilnConductor(0.0694318442, reflectance, edge)
    + 0.3300094782 * 0.3260725774 * kilnConductor(0.3300094782, reflectance, edge)
    + 0.6699905218 * 0.3260725774 * kilnConductor(0.6699905218, reflectance, edge)
    + 0.9305681558 * 0.1739274226 * kilnConductor(0.9305681558, reflectance, edge));
}

// --- microfacets ----------------------------------------------------------------------------------------------------

const float KILN_LEAST_WIDTH = 0.0004;

vec2 kilnWidths(float width, float anisotropy) {
  width = clamp(width, KILN_LEAST_WIDTH, 1.0);
  if (anisotropy <= 0.0) return vec2(width);
  float squeeze = 1.0 - min(anisotropy, 1.0);
  float along = min(1.0, width * sqrt(2.0 / (1.0 + squeeze * squeeze)));
  return vec2(along, max(KILN_LEAST_WIDTH, squeeze * along));
}

float kilnFacetsD(vec2 a, vec3 h) {
  if (h.z <= 0.0) return 0.0;
  vec2 s = h.xy / a;
  float z2 = h.z * h.z;
#if KILN_BECKMANN
  return exp(-dot(s, s) / z2) / (KILN_PI * a.x * a.y * z2 * z2);
#else
  float d = dot(s, s) + z2;
  return 1.0 / (KILN_PI * a.x * a.y * d * d);
#endif
}

float kilnStretched(vec2 a, vec3 w) {
  vec2 s = a * w.xy;
  return dot(s, s) / max(w.z * w.z, 1e-14);
}

float kilnGgxLambda(vec2 a, vec3 w) { return 0.5 * (sqrt(1.0 + kilnStretched(a, w)) - 1.0); }

float kilnLambda(vec2 a, vec3 w) {
#if KILN_BECKMANN
  float tan2 = kilnStretched(a, w);
  if (tan2 < 1e-14) return 0.0;
  float s = inversesqrt(tan2);
  return s >= 1.6 ? 0.0 : (1.0 - 1.259 * s + 0.396 * s * s) / (3.535 * s + 2.181 * s * s);
#else
  return kilnGgxLambda(a, w);
#endif
}

// Share of facets seen from both sides, the viewer's part worked out before.
float kilnG2(vec2 a, float lambda, vec3 wi) {
  float own = kilnLambda(a, wi);
  return wi.z >= 0.0 ? 1.0 / (1.0 + lambda + own) : 1.0 / ((1.0 + own) * (1.0 + lambda));
}

vec3 kilnSampleFacet(vec2 a, vec3 wo, vec2 u) {
  float angle = 2.0 * KILN_PI * u.y;
  vec3 v = normalize(vec3(a * wo.xy, wo.z));
  float z = (1.0 - u.x) * (1.0 + v.z) - v.z;
  float r = sqrt(clamp(1.0 - z * z, 0.0, 1.0));
  return normalize(vec3(a * (r * vec2(cos(angle), sin(angle)) + v.xy), max(1e-7, z + v.z)));
}

float kilnFacetDensity(vec2 a, vec3 wo, float ggxLambda, vec3 h) {
  if (h.z <= 0.0) return 0.0;
  vec2 s = h.xy / a;
  float d = dot(s, s) + h.z * h.z;
  return max(0.0, dot(wo, h)) / (KILN_PI * a.x * a.y * d * d * max(1e-7, wo.z) * (1.0 + ggxLambda));
}

// --- the layers -----------------------------------------------------------------------------------------------------

struct KilnLayers {
  vec3 wo;
  vec2 a;
  float meanWidth;
  float lambda;
  float ggxLambda;
  vec3 f0;
  vec3 f90;
  vec3 tint;
  float ior;
  bool isInside;
  bool isSheet;
  vec3 skinAlbedo;
  vec3 metalColour;
  vec3 metalEdge;
  float metalShare;
  float metalAlbedo;
  vec3 many;
  float manyWeight;
  float manyAlbedo;
  float dielectric;
  vec3 diffuseColour;
  float diffuseRoughness;
  float diffuseShare;
  vec3 underSkin;
  vec3 sheetColour;
  float sheetShare;
  vec3 throughTint;
  float throughShare;
  bool straight;
  float gain;
  float glass;
  float coatWeight;
  float coatIor;
  float coatAlbedo;
  vec2 coatA;
  vec3 coatColour;
  vec3 coatUnder;
  KilnFrame coatFrame;
  float fuzzWeight;
  float fuzzUnder;
  float fuzzAlbedo;
  float fuzzRoughness;
  vec2 fuzzShape;
  vec2 fuzzAlong;
  vec3 fuzzColour;
  float filmWeight;
  float filmThickness;
  float filmIor;
  float chanceSpecular;
  float chanceDiffuse;
  float chanceCoat;
  float chanceFuzz;
  float chanceSheet;
  float chanceThrough;
};

#if KILN_FILM
// Thin film: XYZ of equal-energy light brought to the working primaries by uFromXyz.
vec3 kilnFilmSensitivity(float path) {
  float phase = 2.0 * KILN_PI * path;
  vec3 variances = vec3(4.3278e9, 9.3046e9, 6.6121e9);
  vec3 xyz = vec3(5.4856e-13, 4.4201e-13, 5.2481e-13) * sqrt(2.0 * KILN_PI * variances)
    * cos(vec3(1.6810e6, 1.7953e6, 2.2084e6) * phase) * exp(-variances * phase * phase);
  xyz.x += 9.7470e-14 * sqrt(2.0 * KILN_PI * 4.5282e9) * cos(2.2399e6 * phase) * exp(-4.5282e9 * phase * phase);
  return xyz / 1.0685e-7;
}

vec2 kilnAmplitudes(float cosine, float ior) {
  float cosT = sqrt(max(0.0, 1.0 - (1.0 - cosine * cosine) / (ior * ior)));
  return vec2((ior * cosine - cosT) / (ior * cosine + cosT), (cosine - ior * cosT) / (cosine + ior * cosT));
}

vec3 kilnFilmOne(float outer, vec3 below, float path, float nanometres) {
  float r = outer * outer;
  float through = 1.0 - r;
  vec3 all = through * through * below * below / (1.0 - below * below * r);
  vec3 sum = r + all;
  vec3 order = all - through;
  for (int m = 1; m <= 3; m++) {
    order *= -outer * below;
    sum += 2.0 * order * kilnFilmSensitivity(float(m) * 2.0 * path * nanometres * 1e-9);
  }
  return sum;
}

// The film's index, the cosine within it, and its outer amplitudes.
vec4 kilnFilmOuter(float cosine, float nanometres, float ior) {
  cosine = clamp(cosine, 1e-4, 1.0);
  float n = max(1.0001, 1.0 + (ior - 1.0) * smoothstep(0.0, 1.0, nanometres / 30.0));
  vec2 amplitudes = kilnAmplitudes(cosine, n);
  return vec4(n, sqrt(1.0 - (1.0 - cosine * cosine) / (n * n)), amplitudes);
}

vec3 kilnFilmMean(vec3 parallel, vec3 perpendicular) {
  return clamp(uFromXyz * (0.5 * (parallel + perpendicular)), vec3(0.0), vec3(1.0));
}

vec3 kilnFilmOverDielectric(KilnLayers s, float cosine, float below) {
  vec4 outer = kilnFilmOuter(cosine, s.filmThickness, s.filmIor);
  vec2 inner = kilnAmplitudes(outer.y, below / outer.x);
  float path = outer.y * outer.x;
  return kilnFilmMean(
    kilnFilmOne(outer.z, vec3(inner.x), path, s.filmThickness),
    kilnFilmOne(outer.w, vec3(inner.y), path, s.filmThickness)
  );
}

vec3 kilnFilmOverMetal(KilnLayers s, float cosine, vec3 f0, vec3 tint) {
  vec4 outer = kilnFilmOuter(cosine, s.filmThickness, s.filmIor);
  vec3 amplitude = sqrt(clamp(kilnF82(outer.y, f0, tint), vec3(0.0), vec3(0.9999)));
  float path = outer.y * outer.x;
  return kilnFilmMean(
    kilnFilmOne(outer.z, amplitude, path, s.filmThickness),
    kilnFilmOne(outer.w, -amplitude, path, s.filmThickness)
  );
}
#endif

vec3 kilnSkinPlain(KilnLayers s, float cosine, vec3 tinted) {
#if KILN_EXACT
  return tinted * kilnDielectric(cosine, s.ior);
#else
  return kilnSchlick(cosine, s.f0, s.f90);
#endif
}

vec3 kilnSkinOuter(KilnLayers s, float cosine, vec3 tinted) {
  vec3 plain = kilnSkinPlain(s, cosine, tinted);
#if KILN_FILM
  if (s.filmWeight > 0.0) {
#if KILN_EXACT
    float index = s.ior;
#else
    float index = min(3.1, kilnIndexOf(kilnMean(s.f0)));
#endif
    return mix(plain, tinted * kilnFilmOverDielectric(s, cosine, index), s.filmWeight);
  }
#endif
  return plain;
}

vec3 kilnSheetOf(vec3 r) { return 2.0 * r / (1.0 + r); }

// Share that is reflected at a facet.
vec3 kilnSkin(KilnLayers s, float cosine) {
  if (s.isInside) return vec3(kilnDielectric(cosine, s.ior));
  vec3 outer = kilnSkinOuter(s, cosine, s.tint);
  return s.isSheet ? kilnSheetOf(outer) : outer;
}

// Share that does not get through a facet: a tint of the reflection lets no more through.
vec3 kilnSkinLoss(KilnLayers s, float cosine) {
  return s.isInside ? vec3(kilnDielectric(cosine, s.ior)) : kilnSkinOuter(s, cosine, vec3(1.0));
}

vec3 kilnSkinAlbedo(KilnLayers s) {
#if KILN_EXACT
  vec3 face = s.tint * kilnTableOfIndex(KILN_DIELECTRIC, s.wo.z, s.meanWidth, s.ior);
#else
  vec3 face = kilnSchlickAlbedo(s.wo.z, s.meanWidth, s.f0, s.f90);
#endif
#if KILN_FILM
  if (s.filmWeight > 0.0) {
    int places = s.meanWidth < 0.05 ? 16 : 96;
    vec3 sum = vec3(0.0);
    for (int i = 0; i < places; i++) {
      vec3 h = kilnSampleFacet(s.a, s.wo, fract(vec2(0.5) + float(i) * vec2(0.75487766, 0.56984029)));
      float oh = dot(s.wo, h);
      vec3 wi = 2.0 * oh * h - s.wo;
      if (oh <= 0.0 || wi.z <= 0.0) continue;
      sum += (kilnSkinOuter(s, oh, s.tint) - kilnSkinPlain(s, oh, s.tint))
        * (kilnFacetsD(s.a, h) * kilnG2(s.a, s.lambda, wi) * oh / max(1e-12, kilnFacetDensity(s.a, s.wo, s.ggxLambda, h) * s.wo.z));
    }
    face = clamp(face + sum / float(places), vec3(0.0), vec3(1.0));
  }
#endif
  return s.isSheet ? kilnSheetOf(face) : face;
}

vec3 kilnMetal(KilnLayers s, float cosine) {
#if KILN_METAL_F82
  vec3 plain = kilnF82(cosine, s.metalColour, s.metalEdge);
#elif KILN_METAL_CONDUCTOR
  vec3 plain = kilnConductor(cosine, s.metalColour, s.metalEdge);
#else
  vec3 plain = kilnSchlick(cosine, s.metalColour, vec3(1.0));
#endif
#if KILN_FILM
  if (s.filmWeight > 0.0) {
#if KILN_METAL_F82
    vec3 edge = s.metalEdge;
#else
    vec3 edge = vec3(1.0);
#endif
    return mix(plain, kilnFilmOverMetal(s, cosine, s.metalColour, edge), s.filmWeight);
  }
#endif
  return plain;
}

vec3 kilnMetalAverage(KilnLayers s) {
#if KILN_METAL_F82
  return s.metalColour + (1.0 - s.metalColour) / 21.0 - kilnF82Dip(s.metalColour, s.metalEdge) / 126.0;
#elif KILN_METAL_CONDUCTOR
  return kilnConductorAverage(s.metalColour, s.metalEdge);
#else
  return s.metalColour + (1.0 - s.metalColour) / 21.0;
#endif
}

// --- diffuse --------------------------------------------------------------------------------------------------------

float kilnEonAlbedo(float mu, float roughness) {
  mu = clamp(mu, 1e-4, 1.0);
  float a = 1.0 / (1.0 + (0.5 - 2.0 / (3.0 * KILN_PI)) * roughness);
  float sine = sqrt(max(0.0, 1.0 - mu * mu));
  float g = sine * (acos(mu) - sine * mu) + 2.0 / 3.0 * (sine / mu * (1.0 - sine * sine * sine) - sine);
  return a + roughness * a / KILN_PI * g;
}

// Without the cosine.
vec3 kilnDiffuseLobe(KilnLayers s, vec3 wi) {
  vec3 colour = s.diffuseColour;
  float roughness = s.diffuseRoughness;
#if KILN_LAMBERT
  return colour / KILN_PI;
#elif KILN_OREN_NAYAR
  float variance = roughness * roughness;
  float first = 1.0 - 0.5 * variance / (variance + 0.33);
  float second = 0.45 * variance / (variance + 0.09);
  float across = dot(s.wo, wi) - s.wo.z * wi.z;
  float t = across > 0.0 ? across / max(s.wo.z, wi.z) : 0.0;
  return colour * ((first + second * t) / KILN_PI) / max(1.0, first + 0.5 * second);
#else
  if (roughness <= 0.0) return colour / KILN_PI;
  float across = dot(s.wo, wi) - s.wo.z * wi.z;
  float t = across > 0.0 ? across / max(s.wo.z, wi.z) : across;
  float a = 1.0 / (1.0 + (0.5 - 2.0 / (3.0 * KILN_PI)) * roughness);
  vec3 single = colour * (a * (1.0 + roughness * t) / KILN_PI);
  float average = a * (1.0 + (2.0 / 3.0 - 28.0 / (15.0 * KILN_PI)) * roughness);
  vec3 many = colour * colour * average / (1.0 - colour * (1.0 - average));
  return single + many * (max(1e-7, 1.0 - kilnEonAlbedo(s.wo.z, roughness)) * max(1e-7, 1.0 - kilnEonAlbedo(wi.z, roughness))
    / (KILN_PI * max(1e-7, 1.0 - average)));
#endif
}

// --- fibres ---------------------------------------------------------------------------------------------------------

#if KILN_FUZZ
float kilnCharlie(float cosOut, float cosIn, float cosHalf, float roughness) {
  float inverse = 1.0 / max(1e-3, roughness * roughness);
  float sin2 = max(0.0, 1.0 - cosHalf * cosHalf);
  return (2.0 + inverse) * (sin2 <= 0.0 ? 0.0 : pow(sin2, 0.5 * inverse)) / (2.0 * KILN_PI)
    / (4.0 * max(1e-4, cosOut + cosIn - cosOut * cosIn));
}

float kilnFibres(float cosine, float roughness) { return kilnTable(KILN_FIBRES, sqrt(max(0.0, cosine)), roughness); }

void kilnPrepareFuzz(inout KilnLayers s, KilnParameters p) {
  s.fuzzUnder = 1.0;
  s.fuzzWeight = kilnUnitRange(p.fuzzWeight);
  if (s.fuzzWeight <= 0.0) return;
  float x = clamp(s.wo.z, 0.0, 1.0);
  float y = clamp(p.fuzzRoughness, 0.01, 1.0);
  s.fuzzRoughness = y;
  float across = length(s.wo.xy);
  s.fuzzAlong = across > 1e-6 ? s.wo.xy / across : vec2(1.0, 0.0);
#if KILN_FUZZ_CHARLIE
  s.fuzzAlbedo = min(1.0, kilnFibres(x, y));
#else
  s.fuzzShape = vec2(
    (2.58126 * x + 0.813703 * y) * y / (1.0 + 0.310327 * x * x + 2.60994 * x * y),
    sqrt(1.0 - x) * (y - 1.0) * y * y * y / (0.0000254053 + 1.71228 * x - 1.71506 * x * y + 1.34174 * y * y)
  );
  float w = y * (0.0206607 + 1.58491 * y) / (0.0379424 + y * (1.32227 + y));
  float m = y * (-0.193854 + y * (-1.14885 + y * (1.7932 - 0.95943 * y * y))) / (0.046391 + y);
  float o = y * (0.000654023 + (-0.0207818 + 0.119681 * y) * y) / (1.26264 + y * (-1.92021 + y));
  float d = (x - m) / w;
  s.fuzzAlbedo = clamp(exp(-0.5 * d * d) / (w * sqrt(2.0 * KILN_PI)) + o, 0.0, 1.0);
#endif
  s.fuzzColour = kilnUnitRange(p.fuzzColour);
  s.fuzzUnder = 1.0 - s.fuzzWeight * kilnGreatest(s.fuzzColour) * s.fuzzAlbedo;
}

float kilnFuzzDensity(KilnLayers s, vec3 wi) {
  if (wi.z <= 0.0) return 0.0;
#if KILN_FUZZ_CHARLIE
  return 1.0 / (2.0 * KILN_PI);
#else
  vec2 across = vec2(-s.fuzzAlong.y, s.fuzzAlong.x);
  float x = s.fuzzShape.x * dot(wi.xy, s.fuzzAlong) + s.fuzzShape.y * wi.z;
  float y = s.fuzzShape.x * dot(wi.xy, across);
  float ratio = s.fuzzShape.x / (x * x + y * y + wi.z * wi.z);
  return wi.z / KILN_PI * ratio * ratio;
#endif
}

float kilnFuzzLobe(KilnLayers s, vec3 wi) {
#if KILN_FUZZ_CHARLIE
  float cosine = clamp(s.wo.z, 0.0, 1.0);
  vec3 wo = vec3(s.fuzzAlong * sqrt(max(0.0, 1.0 - cosine * cosine)), cosine);
  return kilnCharlie(cosine, wi.z, normalize(wo + wi).z, s.fuzzRoughness) * wi.z / max(1.0, kilnFibres(cosine, s.fuzzRoughness));
#else
  return s.fuzzAlbedo * kilnFuzzDensity(s, wi);
#endif
}

vec3 kilnSampleFuzz(KilnLayers s, vec2 u) {
  float angle = 2.0 * KILN_PI * u.y;
#if KILN_FUZZ_CHARLIE
  return vec3(sqrt(max(0.0, 1.0 - u.x * u.x)) * vec2(cos(angle), sin(angle)), u.x);
#else
  vec3 w = vec3(sqrt(u.x) * vec2(cos(angle), sin(angle)), sqrt(max(0.0, 1.0 - u.x)));
  vec3 v = normalize(vec3((w.x - w.z * s.fuzzShape.y) / s.fuzzShape.x, w.y / s.fuzzShape.x, w.z));
  return vec3(s.fuzzAlong * v.x + vec2(-s.fuzzAlong.y, s.fuzzAlong.x) * v.y, v.z);
#endif
}
#endif

// --- coat -----------------------------------------------------------------------------------------------------------

#if KILN_COAT
float kilnCoatLength(float cosine, float ior) {
  return 1.0 / sqrt(max(1e-3, 1.0 - (1.0 - clamp(cosine * cosine, 0.0, 1.0)) / (ior * ior)));
}

// Absorption on the ways through the coat.
vec3 kilnCoatPath(KilnLayers s, float cosOut, float cosIn, float ways) {
#if KILN_COAT_ABSORBS
  float way = ways < 1.0 ? 0.5 * kilnCoatLength(cosOut, s.coatIor)
    : 0.5 * (kilnCoatLength(cosOut, s.coatIor) + kilnCoatLength(cosIn, s.coatIor));
  vec3 c = s.coatColour;
  vec3 left = vec3(c.x <= 0.0 ? 0.0 : pow(c.x, way), c.y <= 0.0 ? 0.0 : pow(c.y, way), c.z <= 0.0 ? 0.0 : pow(c.z, way));
  return mix(vec3(1.0), left, s.coatWeight);
#else
  return mix(vec3(1.0), s.coatColour, s.coatWeight);
#endif
}

void kilnPrepareCoat(inout KilnLayers s, KilnParameters p, KilnFrame frame, vec3 below) {
  s.coatUnder = vec3(1.0);
  s.coatColour = vec3(1.0);
  s.coatWeight = kilnUnitRange(p.coatWeight);
  s.coatFrame = frame;
  if (s.coatWeight <= 0.0) return;
  s.coatIor = clamp(p.coatIor, 1.0, 3.0);
  s.coatA = kilnWidths(p.coatWidth, p.coatAnisotropy);
  float width = sqrt(s.coatA.x * s.coatA.y);
  float cosine = max(1e-3, dot(s.wo, frame.z));
#if KILN_EXACT
  s.coatAlbedo = kilnTableOfIndex(KILN_DIELECTRIC, cosine, width, s.coatIor);
#else
  s.coatAlbedo = kilnSchlickAlbedo(cosine, width, vec3(kilnNormalIncidence(s.coatIor)), vec3(1.0)).x;
#endif
  s.coatColour = kilnUnitRange(p.coatColour);
  s.coatUnder = vec3(1.0 - s.coatWeight * s.coatAlbedo);
  float darkening = s.coatWeight * kilnUnitRange(p.coatDarkening);
  if (darkening > 0.0) {
    float kept = 1.0 - (1.0 - kilnNormalIncidence(s.coatIor)) / (s.coatIor * s.coatIor);
    s.coatUnder *= mix(vec3(1.0), (1.0 - kept) / (1.0 - below * kept), darkening);
  }
}

float kilnCoatReflectance(KilnLayers s, float cosine) {
#if KILN_EXACT
  return kilnDielectric(cosine, s.coatIor);
#else
  return kilnSchlick(cosine, vec3(kilnNormalIncidence(s.coatIor)), vec3(1.0)).x;
#endif
}

float kilnCoatLobe(KilnLayers s, vec3 wi, out float density) {
  density = 0.0;
  vec3 h = normalize(s.wo + wi);
  float oh = dot(s.wo, h);
  if (dot(h, s.coatFrame.z) <= 0.0 || oh <= 0.0) return 0.0;
  vec3 o = kilnToLocal(s.coatFrame, s.wo);
  vec3 i = kilnToLocal(s.coatFrame, wi);
  vec3 m = kilnToLocal(s.coatFrame, h);
  if (o.z <= 0.0 || i.z <= 0.0) return 0.0;
  density = s.chanceCoat * kilnFacetDensity(s.coatA, o, kilnGgxLambda(s.coatA, o), m) / max(1e-7, 4.0 * oh);
  return s.coatWeight * s.fuzzUnder * kilnCoatReflectance(s, oh) * kilnFacetsD(s.coatA, m)
    * kilnG2(s.coatA, kilnLambda(s.coatA, o), i) / (4.0 * o.z);
}

vec3 kilnCoatOneWay(KilnLayers s) { return kilnCoatPath(s, dot(s.wo, s.coatFrame.z), 1.0, 0.5); }
#endif

// --- putting them together ------------------------------------------------------------------------------------------

bool kilnGoesStraight(KilnParameters p, float ior) { return p.thinWalled >= 0.5 || abs(ior - 1.0) < 0.02; }

float kilnGain(KilnLayers s, KilnParameters p) {
#if KILN_COMPENSATED && KILN_THROUGH
  if (kilnUnitRange(p.transmission) > 0.0 && !s.straight) return 1.0 / max(0.2, kilnGlassAlbedo(s.wo.z, s.meanWidth, s.ior));
#endif
  return 1.0;
}

void kilnPrepareSkin(inout KilnLayers s, KilnParameters p, bool inside, bool sheet) {
  s.isInside = inside;
  s.isSheet = sheet;
  s.tint = kilnUnitRange(p.specularColour);
  float weight = kilnUnitRange(p.specularWeight);
  float index = clamp(p.ior, 1.0, 3.1);
  float normal = kilnNormalIncidence(index);
#if KILN_EXACT
  s.ior = kilnIndexOf(normal * weight);
#else
  bool asColour = p.reflectanceAsColour >= 0.5;
  s.f0 = (asColour ? s.tint : min(normal * s.tint, vec3(1.0))) * weight;
  s.f90 = (asColour ? kilnUnitRange(p.edgeColour) : vec3(1.0)) * weight;
  s.ior = index;
#endif
  if (inside) s.ior = 1.0 / s.ior;
#if KILN_FILM
  s.filmWeight = p.filmThickness > 0.0 ? kilnUnitRange(p.filmWeight) : 0.0;
  s.filmThickness = max(0.0, p.filmThickness);
  s.filmIor = clamp(p.filmIor, 1.0, 3.0);
#endif
}

KilnLayers kilnPrepareFacets(KilnParameters p, vec3 wo) {
  KilnLayers s;
  s.wo = wo;
  s.a = kilnWidths(p.width, p.anisotropy);
  s.meanWidth = sqrt(s.a.x * s.a.y);
  s.ggxLambda = kilnGgxLambda(s.a, wo);
  s.lambda = kilnLambda(s.a, wo);
  s.metalShare = 0.0;
  s.metalAlbedo = 0.0;
  s.many = vec3(0.0);
  s.manyWeight = 0.0;
  s.manyAlbedo = 0.0;
  s.diffuseShare = 0.0;
  s.sheetShare = 0.0;
  s.coatWeight = 0.0;
  s.fuzzWeight = 0.0;
  s.fuzzUnder = 1.0;
  s.filmWeight = 0.0;
  s.chanceSpecular = 0.0;
  s.chanceDiffuse = 0.0;
  s.chanceCoat = 0.0;
  s.chanceFuzz = 0.0;
  s.chanceSheet = 0.0;
  s.chanceThrough = 0.0;
  return s;
}

// How often a lobe proposes; below 0 for one that is not there.
float kilnChance(float part, float most) { return part >= 0.0 ? max(part, 0.04 * most + 1e-6) : 0.0; }

// What the coat and the fibres leave of light from below, and back, on the mean.
float kilnMeanUnder(KilnLayers s) {
#if KILN_COAT
  float coat = kilnMean(s.coatUnder) * (s.coatWeight > 0.0 ? kilnMean(mix(vec3(1.0), s.coatColour, s.coatWeight)) : 1.0);
#else
  float coat = 1.0;
#endif
  return s.fuzzUnder * coat;
}

void kilnPrepareChances(inout KilnLayers s) {
  float below = kilnMeanUnder(s);
#if KILN_METAL
  float metalPart = s.metalShare > 0.0 ? s.metalShare * s.metalAlbedo * kilnMean(kilnMetal(s, s.wo.z)) : 0.0;
  bool mirrors = s.metalShare > 0.0 || s.dielectric < 1.0 || kilnGreatest(s.skinAlbedo) > 0.0;
  float scattered = below * (s.diffuseShare * kilnMean(s.diffuseColour * s.underSkin) + s.metalShare * s.manyAlbedo);
#else
  float metalPart = 0.0;
  bool mirrors = kilnGreatest(s.skinAlbedo) > 0.0;
  float scattered = below * s.diffuseShare * kilnMean(s.diffuseColour * s.underSkin);
#endif
  float specular = mirrors ? below * (metalPart + s.dielectric * kilnMean(s.skinAlbedo)) : -1.0;
  float diffuse = scattered > 0.0 ? scattered : -1.0;
  float coat = -1.0;
  float fuzz = -1.0;
  float sheet = -1.0;
  float through = -1.0;
#if KILN_COAT
  if (s.coatWeight > 0.0) coat = s.fuzzUnder * s.coatWeight * s.coatAlbedo;
#endif
#if KILN_FUZZ
  if (s.fuzzWeight > 0.0) fuzz = s.fuzzWeight * kilnMean(s.fuzzColour) * s.fuzzAlbedo;
#endif
#if KILN_SHEET
  if (s.sheetShare > 0.0) sheet = below * s.sheetShare * kilnMean(s.sheetColour * s.underSkin);
#endif
#if KILN_THROUGH
  if (s.throughShare > 0.0) through = below * s.throughShare * kilnMean(s.throughTint * s.underSkin);
#endif
  float most = max(0.0, specular) + max(0.0, diffuse) + max(0.0, through) + max(0.0, sheet) + max(0.0, coat) + max(0.0, fuzz);
  s.chanceSpecular = kilnChance(specular, most);
  s.chanceDiffuse = kilnChance(diffuse, most);
  s.chanceThrough = kilnChance(through, most);
  s.chanceSheet = kilnChance(sheet, most);
  s.chanceCoat = kilnChance(coat, most);
  s.chanceFuzz = kilnChance(fuzz, most);
  float total = s.chanceSpecular + s.chanceDiffuse + s.chanceThrough + s.chanceSheet + s.chanceCoat + s.chanceFuzz;
  if (total <= 0.0) {
    s.chanceDiffuse = 1.0;
    return;
  }
  s.chanceSpecular /= total;
  s.chanceDiffuse /= total;
  s.chanceThrough /= total;
  s.chanceSheet /= total;
  s.chanceCoat /= total;
  s.chanceFuzz /= total;
}

// Light within the body meets nothing but its skin.
KilnLayers kilnSurfaceInside(KilnParameters p, vec3 wo) {
  KilnLayers s = kilnPrepareFacets(p, wo);
  kilnPrepareSkin(s, p, true, false);
  s.coatUnder = vec3(1.0);
  s.dielectric = 1.0;
  s.straight = kilnGoesStraight(p, s.ior);
  s.gain = kilnGain(s, p);
  s.glass = s.gain;
  s.throughTint = p.transmissionDepth > 0.0 ? vec3(1.0) : kilnUnitRange(p.transmissionColour);
  s.throughShare = 1.0;
  float reflected = kilnDielectric(wo.z, s.ior);
  float mirrors = clamp(reflected, 0.1, reflected >= 1.0 && s.meanWidth < 0.05 ? 1.0 : 0.9);
  s.chanceSpecular = mirrors;
  s.chanceThrough = 1.0 - mirrors;
  return s;
}

// The surface as it is seen from wo, with the coat's frame within the shading frame.
KilnLayers kilnSurface(KilnParameters p, vec3 wo, KilnFrame coatFrame) {
  KilnLayers s = kilnPrepareFacets(p, wo);
  bool thin = p.thinWalled >= 0.5;
  float metalness = kilnUnitRange(p.metalness);
  float specularWeight = kilnUnitRange(p.specularWeight);
  float transmits = kilnUnitRange(p.transmission);
  vec3 base = kilnUnitRange(p.baseColour);
  s.dielectric = 1.0 - metalness;
  float through = s.dielectric * transmits;
  kilnPrepareSkin(s, p, false, thin && through > 0.0);
  s.skinAlbedo = s.dielectric > 0.0 ? kilnSkinAlbedo(s) : vec3(0.0);
#if KILN_FILM
  s.underSkin = s.filmWeight > 0.0 ? 1.0 - s.skinAlbedo : vec3(1.0 - kilnGreatest(s.skinAlbedo));
#else
  s.underSkin = vec3(1.0 - kilnGreatest(s.skinAlbedo));
#endif
#if KILN_METAL
  s.metalColour = base;
  s.metalEdge = kilnUnitRange(p.specularColour);
  s.metalShare = metalness * specularWeight;
  s.metalAlbedo = metalness > 0.0 ? kilnTableOf(0.0, wo.z, s.meanWidth) : 0.0;
#if KILN_COMPENSATED
  if (metalness > 0.0) {
    float average = kilnTableOf(KILN_AVERAGE, 0.0, s.meanWidth);
    vec3 reflectance = kilnMetalAverage(s);
    vec3 returned = reflectance * reflectance * average / (1.0 - reflectance * (1.0 - average));
    s.many = returned / (KILN_PI * max(1e-4, 1.0 - average));
    s.manyAlbedo = kilnMean(returned) * (1.0 - s.metalAlbedo);
    s.manyWeight = s.metalShare * (1.0 - s.metalAlbedo);
  }
#endif
#endif
  s.straight = kilnGoesStraight(p, s.ior);
  s.gain = kilnGain(s, p);
  s.glass = through > 0.0 ? 1.0 + (s.gain - 1.0) * through / s.dielectric : 1.0;
  s.throughTint = thin || p.transmissionDepth <= 0.0 ? kilnUnitRange(p.transmissionColour) : vec3(1.0);
  s.throughShare = through;
  float subsurface = kilnUnitRange(p.subsurface);
  vec3 under = kilnUnitRange(p.subsurfaceColour);
  s.diffuseShare = s.dielectric * (1.0 - transmits);
  s.sheetColour = under;
  s.sheetShare = thin ? s.diffuseShare * subsurface * 0.5 : 0.0;
  s.diffuseColour = thin ? base * (1.0 - subsurface) + under * (subsurface * 0.5) : mix(base, under, subsurface);
  s.diffuseRoughness = kilnUnitRange(p.diffuseRoughness);
#if KILN_FUZZ
  kilnPrepareFuzz(s, p);
#endif
#if KILN_COAT
  kilnPrepareCoat(s, p, coatFrame, metalness * base * specularWeight + s.dielectric * mix(base, under, subsurface));
#endif
  kilnPrepareChances(s);
  return s;
}

// Reflectance by itself, for a picture of the surface's colour.
vec3 kilnSurfaceColour(KilnLayers s) {
#if KILN_METAL
  return clamp(s.metalShare * kilnMetal(s, 1.0) + s.dielectric * s.diffuseColour, vec3(0.0), vec3(1.0));
#else
  return clamp(s.dielectric * s.diffuseColour, vec3(0.0), vec3(1.0));
#endif
}

// What is left of light that the surface emits below coat and fibres, towards the viewer.
vec3 kilnEmissionShare(KilnLayers s) {
#if KILN_COAT
  if (s.coatWeight > 0.0) return s.fuzzUnder * (1.0 - s.coatWeight * s.coatAlbedo) * kilnCoatOneWay(s);
#endif
  return vec3(s.fuzzUnder);
}

float kilnMirroredDensity(KilnLayers s, vec3 h, float oh, float chance) {
  return chance * kilnFacetDensity(s.a, s.wo, s.ggxLambda, h) / max(1e-7, 4.0 * oh);
}

KilnLight kilnReflected(KilnLayers s, vec3 wi, inout float density) {
  KilnLight light = KilnLight(vec3(0.0), vec3(0.0), vec3(0.0), vec3(0.0));
  vec3 below = vec3(s.fuzzUnder);
#if KILN_FUZZ
  if (s.fuzzWeight > 0.0) {
    light.coat += s.fuzzColour * (s.fuzzWeight * kilnFuzzLobe(s, wi));
    density += s.chanceFuzz * kilnFuzzDensity(s, wi);
  }
#endif
#if KILN_COAT
  if (s.coatWeight > 0.0) {
    float own;
    light.coat += kilnCoatLobe(s, wi, own);
    density += own;
    below *= s.coatUnder * kilnCoatPath(s, max(1e-3, dot(s.wo, s.coatFrame.z)), max(1e-3, dot(wi, s.coatFrame.z)), 1.0);
  }
#endif
  vec3 h = normalize(s.wo + wi);
  float oh = max(0.0, dot(s.wo, h));
  if (s.chanceSpecular > 0.0 && oh > 0.0) {
    float lobe = kilnFacetsD(s.a, h) * kilnG2(s.a, s.lambda, wi) / (4.0 * s.wo.z);
#if KILN_METAL
    if (s.metalShare > 0.0) light.specular += kilnMetal(s, oh) * (s.metalShare * lobe) * below;
#endif
    if (s.dielectric > 0.0) light.specular += kilnSkin(s, oh) * (s.dielectric * lobe * s.glass) * below;
    density += kilnMirroredDensity(s, h, oh, s.chanceSpecular);
  }
  if (s.chanceDiffuse > 0.0) {
    if (s.diffuseShare > 0.0) light.diffuse += kilnDiffuseLobe(s, wi) * (s.diffuseShare * wi.z) * s.underSkin * below;
#if KILN_METAL && KILN_COMPENSATED
    if (s.manyWeight > 0.0) light.specular += s.many * (s.manyWeight * (1.0 - kilnTableOf(0.0, wi.z, s.meanWidth)) * wi.z) * below;
#endif
    density += s.chanceDiffuse * wi.z / KILN_PI;
  }
  return light;
}

#if KILN_THROUGH
vec3 kilnThroughLobe(KilnLayers s, vec3 wi, inout float density) {
  if (s.straight) {
    vec3 mirrored = vec3(wi.xy, -wi.z);
    vec3 h = normalize(s.wo + mirrored);
    float oh = dot(s.wo, h);
    density += kilnMirroredDensity(s, h, oh, s.chanceThrough);
    return s.throughTint * (1.0 - kilnSkin(s, oh))
      * (s.throughShare * kilnFacetsD(s.a, h) * kilnG2(s.a, s.lambda, mirrored) / (4.0 * s.wo.z));
  }
  vec3 h = s.wo + wi * s.ior;
  float length2 = dot(h, h);
  if (length2 < 1e-12) return vec3(0.0);
  h *= inversesqrt(length2);
  if (h.z < 0.0) h = -h;
  float o = dot(s.wo, h);
  float i = dot(wi, h);
  if (o <= 0.0 || i >= 0.0) return vec3(0.0);
  float d = o + s.ior * i;
  float part = s.ior * s.ior * abs(i) / max(1e-12, d * d);
  density += s.chanceThrough * kilnFacetDensity(s.a, s.wo, s.ggxLambda, h) * part;
  return s.throughTint * (1.0 - kilnSkinLoss(s, o))
    * (s.throughShare * s.gain * kilnFacetsD(s.a, h) * kilnG2(s.a, s.lambda, wi) * o / s.wo.z * part);
}
#endif

bool kilnIsTransmissive(KilnLayers s) { return s.chanceThrough > 0.0 || s.chanceSheet > 0.0; }

KilnLight kilnTransmitted(KilnLayers s, vec3 wi, inout float density) {
  KilnLight light = KilnLight(vec3(0.0), vec3(0.0), vec3(0.0), vec3(0.0));
  vec3 below = vec3(s.fuzzUnder);
#if KILN_COAT
  below *= s.coatUnder;
  if (s.coatWeight > 0.0) below *= kilnCoatOneWay(s);
#endif
#if KILN_SHEET
  if (s.sheetShare > 0.0) {
    light.through += s.sheetColour * (s.sheetShare * -wi.z / KILN_PI) * s.underSkin * below;
    density += s.chanceSheet * -wi.z / KILN_PI;
  }
#endif
#if KILN_THROUGH
  if (s.throughShare > 0.0) light.through += kilnThroughLobe(s, wi, density) * below;
#endif
  return light;
}

// The distribution times the cosine of wi, and the density of kilnSample over solid angle.
KilnLight kilnEvaluate(KilnLayers s, vec3 wi, out float density) {
  density = 0.0;
  if (s.wo.z > 0.0 && wi.z > 0.0) return kilnReflected(s, wi, density);
  if (s.wo.z > 0.0 && wi.z < 0.0 && kilnIsTransmissive(s)) return kilnTransmitted(s, wi, density);
  return KilnLight(vec3(0.0), vec3(0.0), vec3(0.0), vec3(0.0));
}

vec3 kilnCosine(vec2 u) {
  float angle = 2.0 * KILN_PI * u.y;
  return vec3(sqrt(u.x) * vec2(cos(angle), sin(angle)), sqrt(max(0.0, 1.0 - u.x)));
}

vec3 kilnMirroredBy(KilnLayers s, vec3 h) {
  vec3 wi = 2.0 * dot(s.wo, h) * h - s.wo;
  return wi.z > 0.0 ? wi : vec3(0.0);
}

// Proposes a direction; zero where a facet sends light to the wrong side: it is lost.
vec3 kilnSample(KilnLayers s, float choice, vec2 u) {
  if ((choice -= s.chanceSpecular) < 0.0) return kilnMirroredBy(s, kilnSampleFacet(s.a, s.wo, u));
  if ((choice -= s.chanceDiffuse) < 0.0) return kilnCosine(u);
#if KILN_COAT
  if ((choice -= s.chanceCoat) < 0.0) {
    vec3 h = kilnToWorld(s.coatFrame, kilnSampleFacet(s.coatA, kilnToLocal(s.coatFrame, s.wo), u));
    vec3 wi = 2.0 * dot(s.wo, h) * h - s.wo;
    return dot(wi, s.coatFrame.z) > 0.0 && wi.z > 0.0 ? wi : vec3(0.0);
  }
#endif
#if KILN_FUZZ
  if ((choice -= s.chanceFuzz) < 0.0) return kilnSampleFuzz(s, u);
#endif
#if KILN_SHEET
  if (s.chanceSheet > 0.0 && ((choice -= s.chanceSheet) < 0.0 || s.chanceThrough <= 0.0)) return -kilnCosine(u);
#endif
#if KILN_THROUGH
  if (s.chanceThrough > 0.0) {
    vec3 h = kilnSampleFacet(s.a, s.wo, u);
    if (s.straight) {
      vec3 wi = kilnMirroredBy(s, h);
      return wi.z > 0.0 ? vec3(wi.xy, -wi.z) : vec3(0.0);
    }
    float oh = dot(s.wo, h);
    float cos2 = 1.0 - (1.0 - oh * oh) / (s.ior * s.ior);
    if (oh <= 0.0 || cos2 <= 0.0) return vec3(0.0);
    vec3 wi = normalize(h * (oh / s.ior - sqrt(cos2)) - s.wo / s.ior);
    return wi.z < 0.0 ? wi : vec3(0.0);
  }
#endif
  return kilnCosine(u);
}
