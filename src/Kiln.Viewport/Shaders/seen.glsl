// A place of the form as a pixel sees it.
struct KilnPoint {
  vec3 position;
  vec3 normal;
  vec4 tangent;
  vec2 uv;
  // Of the triangle: its unit normal, and how much of the UV square lies on a metre.
  vec3 facet;
  float uvPerMetre;
  bool isFront;
  // Light that arrives (form-light.glsl), also on a sheet's other side.
  vec4 red;
  vec3 green;
  vec3 blue;
  vec3 behind;
  // Nine harmonics of what is visible.
  vec4 visible0;
  vec4 visible1;
  float visible2;
};
uniform vec3 uEye;
uniform bool uIsSheet;

// A place of the form, fetched for the triangle that a pixel sees; pixels that see none are left as they are. So that small triangles, which
// share their pixels, are not each shaded in all of them.
uniform highp sampler2D uSeen;
uniform highp sampler2D uFormRed;
uniform highp sampler2D uFormGreen;
uniform highp sampler2D uFormBlue;
uniform vec3 uForward;
uniform vec3 uRight;
uniform vec3 uUp;
uniform mat4 uToScreen;
uniform bool uIsMoved;
// Numbers of the triangles that this look lies on, from the first to before the second; all of them where that is zero.
uniform ivec2 uRange;

const int KILN_ROW = 512;

// Adds a share of the light that arrives at one of the form's own vertices.
void kilnAddLight(inout KilnPoint o, int own, float share, vec3 normal) {
  ivec2 at = ivec2(own % KILN_ROW, own / KILN_ROW);
  int rows = uIsSheet ? textureSize(uFormRed, 0).y / 2 : 0;
  ivec2 front = ivec2(at.x, o.isFront ? at.y : at.y + rows);
  o.red += share * texelFetch(uFormRed, front, 0);
  o.green += share * texelFetch(uFormGreen, front, 0).rgb;
  o.blue += share * texelFetch(uFormBlue, front, 0).rgb;
  if (uIsSheet) {
    ivec2 behind = ivec2(at.x, o.isFront ? at.y + rows : at.y);
    vec3 n = o.isFront ? -normal : normal;
    o.behind += share * vec3(dot(texelFetch(uFormRed, behind, 0).xyz, n), dot(texelFetch(uFormGreen, behind, 0).xyz, n), dot(texelFetch(uFormBlue, behind, 0).xyz, n));
  }
}

// The triangle that the pixel sees; -1 where it sees none on which this look lies.
int kilnSeen() {
  vec3 bytes = floor(texelFetch(uSeen, ivec2(gl_FragCoord.xy), 0).rgb * 255.0 + 0.5);
  int triangle = int(bytes.x) + (int(bytes.y) << 8) + (int(bytes.z) << 16) - 1;
  return uRange.y > 0 && (triangle < uRange.x || triangle >= uRange.y) ? -1 : triangle;
}

KilnPoint kilnPoint(int triangle) {
  vec3 corners = kilnTriangle(triangle);
  vec4 places[3];
  for (int k = 0; k < 3; k++) places[k] = kilnVertex(int(corners[k]), 0);
  // Where the ray through the pixel's middle meets the triangle's plane (Möller and Trumbore 1997).
  vec2 screen = gl_FragCoord.xy / vec2(textureSize(uSeen, 0)) * 2.0 - 1.0;
  vec3 d = uForward + uRight * screen.x + uUp * screen.y;
  vec3 e1 = places[1].xyz - places[0].xyz;
  vec3 e2 = places[2].xyz - places[0].xyz;
  vec3 across = cross(e1, e2);
  vec3 q = cross(d, e2);
  float determinant = dot(e1, q);
  vec3 from = uEye - places[0].xyz;
  vec3 r = cross(from, e1);
  float inverse_ = abs(determinant) > 1e-20 ? 1.0 / determinant : 0.0;
  float b1 = clamp(dot(from, q) * inverse_, 0.0, 1.0);
  float b2 = clamp(dot(d, r) * inverse_, 0.0, 1.0 - b1);
  vec3 weights = vec3(1.0 - b1 - b2, b1, b2);

  KilnPoint o = KilnPoint(vec3(0.0), vec3(0.0), vec4(0.0), vec2(0.0), vec3(0.0), 0.0, dot(across, d) < 0.0, vec4(0.0), vec3(0.0), vec3(0.0), vec3(0.0),
    vec4(0.0), vec4(0.0), 0.0);
  vec2 uvs[3];
  for (int k = 0; k < 3; k++) {
    int vertex = int(corners[k]);
    float w = weights[k];
    vec4 normal = kilnVertex(vertex, 1);
    vec4 rest = kilnVertex(vertex, 6);
    uvs[k] = vec2(places[k].w, normal.w);
    o.position += w * places[k].xyz;
    o.normal += w * normal.xyz;
    o.tangent += w * kilnVertex(vertex, 2);
    o.uv += w * uvs[k];
    o.visible0 += w * kilnVertex(vertex, 4);
    o.visible1 += w * kilnVertex(vertex, 5);
    o.visible2 += w * rest.x;
    if (uIsMoved) {
      vec3 between = kilnVertex(vertex, 3).xyz;
      vec3 shares = vec3(rest.y, rest.z, 1.0 - rest.y - rest.z);
      for (int i = 0; i < 3; i++)
        if (shares[i] > 1e-4) kilnAddLight(o, int(between[i]), w * shares[i], normal.xyz);
    } else kilnAddLight(o, vertex, w, normal.xyz);
  }
  float area = length(across);
  o.facet = area > 0.0 ? across / area : o.normal;
  vec2 u1 = uvs[1] - uvs[0];
  vec2 u2 = uvs[2] - uvs[0];
  o.uvPerMetre = sqrt(abs(u1.x * u2.y - u1.y * u2.x) / max(1e-20, area));
  vec4 place = uToScreen * vec4(o.position, 1.0);
  gl_FragDepth = place.z / place.w * 0.5 + 0.5;
  return o;
}
