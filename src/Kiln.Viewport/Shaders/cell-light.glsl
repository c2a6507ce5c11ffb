// Light of each cell of directions (SkyCells): the mean of 64 places of the light, its suns left out. One pixel a cell.
uniform highp sampler2D uCells;
out vec4 written;

void main() {
  vec4 edges = texelFetch(uCells, ivec2(int(gl_FragCoord.x), 1), 0);
  vec3 sum = vec3(0.0);
  for (int j = 0; j < 8; j++)
    for (int i = 0; i < 8; i++) {
      float height = mix(edges.x, edges.y, (float(j) + 0.5) / 8.0);
      float azimuth = mix(edges.z, edges.w, (float(i) + 0.5) / 8.0);
      float r = sqrt(max(0.0, 1.0 - height * height));
      sum += textureLod(uSharp, kilnLatLong(kilnToLight(vec3(r * sin(azimuth), height, r * cos(azimuth)))), 0.0).rgb;
    }
  written = vec4(sum / 64.0, 1.0);
}
