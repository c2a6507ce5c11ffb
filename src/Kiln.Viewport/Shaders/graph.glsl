// What the operations of a shade graph need beyond one line. The same formulas as Kiln.Looks, where their sources are named.

float kilnQuotient(float a, float b) { return b == 0.0 ? 0.0 : a / b; }
vec3 kilnQuotient(vec3 a, vec3 b) { return vec3(kilnQuotient(a.x, b.x), kilnQuotient(a.y, b.y), kilnQuotient(a.z, b.z)); }

float kilnPower(float a, float b) { return a <= 0.0 ? 0.0 : pow(a, b); }
vec3 kilnPower(vec3 a, vec3 b) { return vec3(kilnPower(a.x, b.x), kilnPower(a.y, b.y), kilnPower(a.z, b.z)); }

vec3 kilnUnit(vec3 n) {
  float length2 = dot(n, n);
  return length2 > 1e-24 ? n * inversesqrt(length2) : vec3(0.0, 0.0, 1.0);
}

vec3 kilnDecodeNormal(vec3 stored, float strength, float up) {
  vec3 n = stored * 2.0 - 1.0;
  return kilnUnit(vec3(n.x * strength, n.y * up * strength, n.z));
}

vec3 kilnRotate(vec4 m, vec3 n) { return kilnUnit(vec3(m.x * n.x + m.y * n.y, m.z * n.x + m.w * n.y, n.z)); }

vec3 kilnHeading(float turns) {
  float angle = 6.283185307 * fract(turns);
  return vec3(cos(angle), sin(angle), 0.0);
}

float kilnRevolutions(vec3 direction) {
  float turns = direction.x == 0.0 && direction.y == 0.0 ? 0.0 : atan(direction.y, direction.x) / 6.283185307;
  return turns < 0.0 ? turns + 1.0 : turns;
}

vec3 kilnToRgb(float hue, float saturation, float value) {
  if (saturation < 0.0001) return vec3(value);
  hue = 6.0 * fract(hue);
  int sector = min(5, int(hue));
  float f = hue - float(sector);
  float p = value * (1.0 - saturation);
  float q = value * (1.0 - saturation * f);
  float t = value * (1.0 - saturation * (1.0 - f));
  if (sector == 0) return vec3(value, t, p);
  if (sector == 1) return vec3(q, value, p);
  if (sector == 2) return vec3(p, value, t);
  if (sector == 3) return vec3(p, q, value);
  if (sector == 4) return vec3(t, p, value);
  return vec3(value, p, q);
}

vec3 kilnHsvAdjust(vec3 rgb, vec3 amount) {
  float most = max(rgb.x, max(rgb.y, rgb.z));
  float least = min(rgb.x, min(rgb.y, rgb.z));
  float spread = most - least;
  float hue = 0.0;
  float saturation = most > 0.0 ? spread / most : 0.0;
  if (saturation > 0.0) {
    hue = rgb.x >= most ? (rgb.y - rgb.z) / spread : rgb.y >= most ? 2.0 + (rgb.z - rgb.x) / spread : 4.0 + (rgb.x - rgb.y) / spread;
    hue /= 6.0;
    if (hue < 0.0) hue += 1.0;
  }
  return kilnToRgb(hue + amount.x, saturation * amount.y, most * amount.z);
}

vec3 kilnReorient(vec3 base, vec3 detail) {
  vec3 t = base + vec3(0.0, 0.0, 1.0);
  vec3 u = vec3(-detail.xy, detail.z);
  return normalize(t * (dot(t, u) / t.z) - u);
}

float kilnShare(float weight, float z) { return z == 0.0 ? 0.0 : weight / z; }

vec3 kilnAddReliefs(vec3 first, float firstWeight, vec3 second, float secondWeight) {
  return normalize(vec3(first.xy * kilnShare(firstWeight, first.z) + second.xy * kilnShare(secondWeight, second.z), 1.0));
}

// One piece of a monotone curve between the points a and b (x, y, tangent).
float kilnCurvePiece(vec3 a, vec3 b, float x) {
  float h = b.x - a.x;
  float t = (x - a.x) / h;
  float t2 = t * t;
  float t3 = t2 * t;
  return (2.0 * t3 - 3.0 * t2 + 1.0) * a.y + (t3 - 2.0 * t2 + t) * h * a.z + (3.0 * t2 - 2.0 * t3) * b.y + (t3 - t2) * h * b.z;
}

float kilnSrgbDecode(float v) { return v <= 0.04045 ? v / 12.92 : pow((v + 0.055) / 1.055, 2.4); }
float kilnSrgbEncode(float v) { return v <= 0.0031308 ? v * 12.92 : 1.055 * pow(v, 1.0 / 2.4) - 0.055; }
float kilnAcesCctDecode(float v) {
  return v <= 0.155251141552511 ? (v - 0.0729055341958355) / 10.5402377416545 : min(exp2(v * 17.52 - 9.72), 65504.0);
}
float kilnAcesCctEncode(float v) {
  return v <= 0.0078125 ? 10.5402377416545 * v + 0.0729055341958355 : (log2(v) + 9.72) / 17.52;
}
float kilnAcesCcDecode(float v) {
  float light = exp2(v * 17.52 - 9.72);
  return v <= (9.72 - 15.0) / 17.52 ? (light - 1.0 / 65536.0) * 2.0 : min(light, 65504.0);
}
float kilnAcesCcEncode(float v) {
  if (v <= 0.0) return (-16.0 + 9.72) / 17.52;
  return v < 2.0 / 65536.0 ? (log2(1.0 / 65536.0 + v * 0.5) + 9.72) / 17.52 : (log2(v) + 9.72) / 17.52;
}
vec3 kilnSrgbDecode(vec3 v) { return vec3(kilnSrgbDecode(v.x), kilnSrgbDecode(v.y), kilnSrgbDecode(v.z)); }
vec3 kilnSrgbEncode(vec3 v) { return vec3(kilnSrgbEncode(v.x), kilnSrgbEncode(v.y), kilnSrgbEncode(v.z)); }
vec3 kilnAcesCctDecode(vec3 v) { return vec3(kilnAcesCctDecode(v.x), kilnAcesCctDecode(v.y), kilnAcesCctDecode(v.z)); }
vec3 kilnAcesCctEncode(vec3 v) { return vec3(kilnAcesCctEncode(v.x), kilnAcesCctEncode(v.y), kilnAcesCctEncode(v.z)); }
vec3 kilnAcesCcDecode(vec3 v) { return vec3(kilnAcesCcDecode(v.x), kilnAcesCcDecode(v.y), kilnAcesCcDecode(v.z)); }
vec3 kilnAcesCcEncode(vec3 v) { return vec3(kilnAcesCcEncode(v.x), kilnAcesCcEncode(v.y), kilnAcesCcEncode(v.z)); }
