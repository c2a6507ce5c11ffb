// What a form stands on, as StudioFloor has it: a matt grey with a fine grain, fading towards the distance.
in vec3 vPosition;
uniform vec3 uEye;
uniform float uSpread;
out vec4 written;

void main() {
  vec3 away = uEye - vPosition;
  float distance = length(away);
  vec3 wo = away / distance;
  float footprint = uSpread * distance * inversesqrt(max(0.05, abs(wo.y)));
  float grain = kilnNoise(vec2(vPosition.x, -vPosition.z), footprint, 7, 6, 0.62, 11) - 0.5;
  float grey = 0.22 * max(0.2, 1.0 + 0.55 * grain);
  float width = 0.6 - 0.25 * grain;
  vec4 sky = kilnFloorLight(vPosition.xz, 0.0);
  vec3 irradiance = sky.rgb * 3.14159265;
  for (int i = 0; i < uSuns; i++)
    irradiance += uSunLight[i] * max(0.0, uSunDirection[i].y) * (i == 0 ? kilnSunlit(vPosition, 0.002) : 1.0);
  float shine = 0.014 + 0.12 * pow(1.0 - abs(wo.y), 5.0);
  vec3 light = irradiance * (grey * 0.97 / 3.14159265) + shine * sky.a * kilnGathered(vPosition, vec3(-wo.x, wo.y, -wo.z), width);
  float far = clamp((length(vPosition.xz) - 1.9) / (5.6 - 1.9), 0.0, 1.0);
  written = vec4(light, 1.0 - far * far * (3.0 - 2.0 * far));
}
