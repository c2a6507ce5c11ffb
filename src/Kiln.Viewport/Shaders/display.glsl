// Light to what is displayed: exposure, then the view in force as a table over stops (ViewTable).
in vec2 vScreen;
uniform highp sampler2D uLight;
uniform highp sampler3D uView;
uniform float uExposure;
uniform vec2 uStops;
out vec4 written;

void main() {
  vec3 light = textureLod(uLight, vScreen, 0.0).rgb * uExposure;
  vec3 at = clamp((log2(max(light, vec3(1e-9))) - uStops.x) / (uStops.y - uStops.x), 0.0, 1.0);
  float side = float(textureSize(uView, 0).x);
  written = vec4(textureLod(uView, (at * (side - 1.0) + 0.5) / side, 0.0).rgb, 1.0);
}
