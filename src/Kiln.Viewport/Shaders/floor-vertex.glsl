in vec3 aPosition;
uniform mat4 uToScreen;
out vec3 vPosition;
void main() {
  vPosition = aPosition;
  gl_Position = uToScreen * vec4(aPosition, 1.0);
}
