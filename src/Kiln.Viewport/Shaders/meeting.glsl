// A normal that leans away from the viewer, or whose mirrored ray would go into the surface, is brought back (Meeting).
vec3 kilnReflecting(vec3 normal, vec3 wo, vec3 facet) {
  float cosine = dot(normal, wo);
  if (cosine < 0.02) normal = normalize(normal + wo * (0.02 - cosine));
  vec3 mirrored = 2.0 * dot(normal, wo) * normal - wo;
  float above = dot(mirrored, facet);
  return above >= 0.01 ? normal : normalize(wo + normalize(mirrored + facet * (0.01 - above)));
}
