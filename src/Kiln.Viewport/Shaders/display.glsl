// Light to what is displayed: exposure, then the view in force as a table over stops (ViewTable).
in vec2 vScreen;
uniform highp sampler2D uLight;
uniform highp sampler3D uView;
uniform float uExposure;
uniform vec2 uStops;
uniform int uPlaces;
out vec4 written;

void main() {
  // The mean of the places that a pixel was drawn at, so many each way.
  vec3 light = vec3(0.0);
  ivec2 first = ivec2(gl_FragCoord.xy) * uPlaces;
  for (int y = 0; y < uPlaces; y++)
    for (int x = 0; x < uPlaces; x++) light += texelFetch(uLight, first + ivec2(x, y), 0).rgb;
  light *= uExposure / float(uPlaces * uPlaces);
  vec3 at = clamp((log2(max(light, vec3(1e-9))) - uStops.x) / (uStops.y - uStops.x), 0.0, 1.0);
  float side = float(textureSize(uView, 0).x);
  written = vec4(textureLod(uView, (at * (side - 1.0) + 0.5) / side, 0.0).rgb, 1.0);
}
