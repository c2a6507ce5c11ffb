flat in int vTriangle;
in vec2 vUv;
out vec4 written;

vec4 kilnNumber(int triangle) {
  int number = triangle + 1;
  return vec4(float(number & 255), float(number >> 8 & 255), float(number >> 16 & 255), 255.0) / 255.0;
}
