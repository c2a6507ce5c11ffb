// The form while something moves: light once a pixel. What follows kilnLook and the light; KILN_SUNS says whether that has suns, which ask for
// much of the surface that nothing else does.
uniform float uSpread;
uniform int uTiles[1];
uniform vec4 uPart;
out vec4 written;

// Share of what lies about a direction that the form itself does not hide.
float kilnVisible(KilnPoint o, vec3 d) {
  float sum = 0.28209479 * o.visible0.x + 0.48860251 * (d.x * o.visible0.y + d.y * o.visible0.z + d.z * o.visible0.w)
    + 0.54627422 * (d.z * d.z - d.x * d.x) * o.visible1.x + 1.09254843 * d.x * d.y * o.visible1.y
    + 0.31539157 * (3.0 * d.y * d.y - 1.0) * o.visible1.z + 1.09254843 * d.y * d.z * o.visible1.w + 1.09254843 * d.x * d.z * o.visible2;
  return clamp(sum, 0.0, 1.0);
}

// Share of a lobe about a direction that leaves the form; what would go into it is lost.
float kilnLeaving(vec3 d, vec3 facet, float width) { return smoothstep(-1.0, 1.0, dot(d, facet) / max(0.02, 2.0 * width)); }

vec3 kilnBent(vec3 n, vec3 tangent, vec3 normal, vec3 bitangent) { return normalize(tangent * n.x + bitangent * n.y + normal * n.z); }

// The direction in which most of a wide lobe's light arrives (Lagarde and de Rousiers 2014, listing 21).
vec3 kilnDominant(vec3 normal, vec3 mirrored, float width) {
  float smoothness = 1.0 - width;
  return normalize(mix(normal, mirrored, smoothness * (sqrt(smoothness) + width)));
}

vec3 kilnShade(int triangle) {
  KilnPoint o = kilnPoint(triangle);
  vec3 away = uEye - o.position;
  float distance = length(away);
  vec3 wo = away / distance;
  vec3 facet = dot(o.facet, wo) < 0.0 ? -o.facet : o.facet;
  float side = o.isFront ? 1.0 : -1.0;
  vec3 normal = normalize(o.normal);
  float footprint = uSpread * distance * inversesqrt(max(0.05, abs(dot(normal, wo)))) * o.uvPerMetre;

  KilnParameters p;
  KilnDirections d;
  kilnLook(kilnTiled(o.uv), footprint, p, d);
  if (uIsSheet) p.thinWalled = 1.0;
  vec3 bitangent = cross(normal, o.tangent.xyz) * (o.tangent.w < 0.0 ? -1.0 : 1.0);
  vec3 shading = normal * side;
  vec3 coatShading = shading;
#if KILN_HAS_NORMAL
  shading = coatShading = kilnBent(d.normal, o.tangent.xyz, normal, bitangent) * side;
#endif
#if KILN_HAS_COAT_NORMAL
  coatShading = kilnBent(d.coatNormal, o.tangent.xyz, normal, bitangent) * side;
#endif
  shading = kilnReflecting(shading, wo, facet);
  KilnFrame frame;
  if (p.anisotropy > 0.0) frame = kilnFrameAlong(shading, o.tangent.xyz * d.tangent.x + bitangent * d.tangent.y);
  else frame = kilnFrameOf(shading);
  KilnFrame coat = KilnFrame(vec3(1.0, 0.0, 0.0), vec3(0.0, 1.0, 0.0), vec3(0.0, 0.0, 1.0));
  vec3 coatNormal = shading;
#if KILN_COAT
  coatNormal = kilnReflecting(coatShading, wo, facet);
  KilnFrame outer = kilnFrameAlong(coatNormal, o.tangent.xyz * d.coatTangent.x + bitangent * d.coatTangent.y);
  coat = KilnFrame(kilnToLocal(frame, outer.x), kilnToLocal(frame, outer.y), kilnToLocal(frame, outer.z));
#endif
  KilnLayers s = kilnSurface(p, kilnToLocal(frame, wo), coat);

  // Light from the sky and the floor, as it arrives at the vertex, on the shading normal.
  vec3 arriving = max(vec3(0.0), vec3(dot(o.red.xyz, shading), dot(o.green, shading), dot(o.blue, shading)));
  // What the form hides of what lies about it is itself, about as bright as it is here.
  vec3 colour = kilnSurfaceColour(s);
  float open01 = clamp(o.red.w, 0.0, 1.0);
  arriving /= 1.0 - colour * (1.0 - open01);

  vec3 below = vec3(s.fuzzUnder);
#if KILN_COAT
  if (s.coatWeight > 0.0) below *= s.coatUnder * kilnCoatPath(s, max(1e-3, dot(s.wo, s.coatFrame.z)), 0.6, 1.0);
#endif
  vec3 diffuse = s.diffuseColour;
#if !KILN_LAMBERT && !KILN_OREN_NAYAR
  if (s.diffuseRoughness > 0.0) {
    float single = kilnEonAlbedo(s.wo.z, s.diffuseRoughness);
    float mean = (1.0 + (2.0 / 3.0 - 28.0 / (15.0 * KILN_PI)) * s.diffuseRoughness) / (1.0 + (0.5 - 2.0 / (3.0 * KILN_PI)) * s.diffuseRoughness);
    diffuse = s.diffuseColour * single + s.diffuseColour * s.diffuseColour * mean / (1.0 - s.diffuseColour * (1.0 - mean)) * (1.0 - single);
  }
#endif
  KilnLight light = KilnLight(vec3(0.0), vec3(0.0), vec3(0.0), vec3(0.0));
  light.diffuse = diffuse * s.diffuseShare * s.underSkin * below * arriving;

  vec3 mirrored = reflect(-wo, shading);
  vec3 towards = kilnDominant(shading, mirrored, s.meanWidth);
  float seen = kilnVisible(o, towards);
  vec3 gathered = kilnGathered(o.position, towards, s.meanWidth);
  gathered = mix(colour * arriving, gathered, seen) * kilnLeaving(towards, facet, s.meanWidth);
  vec3 specular = s.dielectric * s.glass * s.skinAlbedo;
#if KILN_METAL
  if (s.metalShare > 0.0) {
    vec3 schlick = kilnSchlickAlbedo(s.wo.z, s.meanWidth, s.metalColour, vec3(1.0));
    specular += s.metalShare * schlick * kilnMetal(s, s.wo.z) / max(vec3(1e-3), kilnSchlick(s.wo.z, s.metalColour, vec3(1.0)));
#if KILN_COMPENSATED
    light.specular += s.many * KILN_PI * (1.0 - kilnTableOf(KILN_AVERAGE, 0.0, s.meanWidth)) * s.manyWeight * below * arriving;
#endif
  }
#endif
  light.specular += specular * below * gathered;
#if KILN_COAT
  if (s.coatWeight > 0.0) {
    float width = sqrt(s.coatA.x * s.coatA.y);
    vec3 upon = kilnDominant(coatNormal, reflect(-wo, coatNormal), width);
    light.coat += s.fuzzUnder * s.coatWeight * s.coatAlbedo * mix(colour * arriving, kilnGathered(o.position, upon, width), kilnVisible(o, upon)) * kilnLeaving(upon, facet, width);
  }
#endif
#if KILN_FUZZ
  if (s.fuzzWeight > 0.0) light.coat += s.fuzzColour * s.fuzzWeight * s.fuzzAlbedo * arriving;
#endif
#if KILN_SHEET
  if (s.sheetShare > 0.0) light.through += s.sheetColour * s.sheetShare * s.underSkin * below * max(vec3(0.0), o.behind);
#endif
#if KILN_THROUGH
  if (s.throughShare > 0.0) {
    vec3 into = s.straight ? -wo : refract(-wo, shading, 1.0 / s.ior);
    // A body bends light twice: about once more by as much on its way out.
    vec3 out_ = s.straight ? into : normalize(mix(into, -wo, -0.6));
    vec3 tint = s.throughTint;
    if (!(p.thinWalled >= 0.5) && p.transmissionDepth > 0.0) tint = pow(clamp(p.transmissionColour, vec3(1e-4), vec3(1.0)), vec3(uPart.w / p.transmissionDepth));
    light.through += tint * (1.0 - s.skinAlbedo) * s.throughShare * below * kilnGathered(o.position, out_, s.meanWidth);
  }
#endif
#if KILN_SUNS
  for (int i = 0; i < uSuns; i++) {
    vec3 wi = kilnToLocal(frame, uSunDirection[i].xyz);
    if (dot(uSunDirection[i].xyz, facet) <= 0.0) continue;
    float lit = i == 0 ? kilnSunlit(o.position + facet * 0.004, 0.003) : kilnVisible(o, uSunDirection[i].xyz);
    if (lit <= 0.0) continue;
    // A sun has a size, which a lobe sees as width.
    KilnLayers wide = s;
    wide.a = sqrt(s.a * s.a + 0.25 * uSunDirection[i].w * uSunDirection[i].w);
    wide.lambda = kilnLambda(wide.a, s.wo);
#if KILN_COAT
    wide.coatA = sqrt(s.coatA * s.coatA + 0.25 * uSunDirection[i].w * uSunDirection[i].w);
#endif
    float density;
    KilnLight own = kilnEvaluate(wide, wi, density);
    light.diffuse += own.diffuse * uSunLight[i] * lit;
    light.specular += own.specular * uSunLight[i] * lit;
    light.coat += own.coat * uSunLight[i] * lit;
    light.through += own.through * uSunLight[i] * lit;
  }
#endif
  vec3 sum = light.diffuse * uPart.x + light.specular * uPart.y + light.coat * uPart.z + light.through * uPart.x;
#if KILN_GLOWS
  sum += p.emission * kilnEmissionShare(s) * uPart.x;
#endif
  return sum;
}

void main() {
  int triangle = kilnSeen();
  int times = triangle < 0 ? 0 : 1;
  vec3 light = vec3(0.0);
  // Once or not at all. A processor that works at several pixels by one instruction goes through a branch that none of them takes, but not
  // through a loop: with several looks each would be worked out at every pixel of the picture.
  for (int i = 0; i < times; i++) light = kilnShade(triangle);
  if (times == 0) discard;
  written = vec4(light, 1.0);
}
