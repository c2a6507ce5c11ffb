out vec2 vScreen;
void main() {
  vScreen = vec2(gl_VertexID & 1, gl_VertexID >> 1) * 2.0;
  gl_Position = vec4(vScreen * 2.0 - 1.0, 1.0, 1.0);
}
