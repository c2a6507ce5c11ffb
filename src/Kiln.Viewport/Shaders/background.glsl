// The light behind the form, its suns put back.
in vec2 vScreen;
uniform vec3 uForward;
uniform vec3 uRight;
uniform vec3 uUp;
uniform bool uBlurred;
out vec4 written;

void main() {
  vec2 at = vScreen * 2.0 - 1.0;
  vec3 d = normalize(uForward + uRight * at.x + uUp * at.y);
  vec2 place = kilnLatLong(kilnToLight(d));
  vec3 light = uBlurred && d.y >= 0.0 ? textureLod(uFiltered, vec3(place, 3.0), 0.0).rgb : textureLod(uSharp, place, 0.0).rgb;
  for (int i = 0; i < uSuns; i++) {
    float radius = uSunDirection[i].w;
    float angle = acos(clamp(dot(d, uSunDirection[i].xyz), -1.0, 1.0));
    light += uSunLight[i] / (3.14159265 * radius * radius) * smoothstep(radius * 1.12, radius * 0.88, angle);
  }
  written = vec4(light, 1.0);
}
