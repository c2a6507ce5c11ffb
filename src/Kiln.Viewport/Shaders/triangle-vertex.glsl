// Which triangle is seen: its number and one, in three bytes.
uniform mat4 uToScreen;
flat out int vTriangle;
out vec2 vUv;

void main() {
  vTriangle = gl_VertexID / 3;
  int vertex = int(kilnTriangle(vTriangle)[gl_VertexID % 3]);
  vec4 place = kilnVertex(vertex, 0);
  vUv = vec2(place.w, kilnVertex(vertex, 1).w);
  gl_Position = uToScreen * vec4(place.xyz, 1.0);
}
