// Noise that repeats with the picture it stands for, as TileableNoise has it.
#ifndef KILN_NOISE
#define KILN_NOISE 1

uint kilnHash(uint h) {
  h ^= h >> 16;
  h *= 0x85ebca6bu;
  h ^= h >> 13;
  h *= 0xc2b2ae35u;
  return h ^ (h >> 16);
}

float kilnEven(uint h) { return float(h >> 8) * (1.0 / 16777216.0); }

float kilnLattice(ivec2 at, uint seed) {
  return kilnEven(kilnHash((uint(at.x) * 0x8da6b343u) ^ (uint(at.y) * 0xd8163841u) ^ (seed * 0xcb1ab31fu)));
}

int kilnWrapped(int i, int period) {
  int rest = i - (i / period) * period;
  return rest < 0 ? rest + period : rest;
}

float kilnGradientCorner(ivec2 cell, ivec2 d, vec2 f, int period, uint seed) {
  float angle = 6.283185307 * kilnLattice(ivec2(kilnWrapped(cell.x + d.x, period), kilnWrapped(cell.y + d.y, period)), seed);
  return cos(angle) * (f.x - float(d.x)) + sin(angle) * (f.y - float(d.y));
}

float kilnGradient(vec2 p, int period, uint seed) {
  vec2 base = floor(p);
  ivec2 cell = ivec2(base);
  vec2 f = p - base;
  vec2 s = f * f * f * (f * (f * 6.0 - 15.0) + 10.0);
  float low = mix(kilnGradientCorner(cell, ivec2(0, 0), f, period, seed), kilnGradientCorner(cell, ivec2(1, 0), f, period, seed), s.x);
  float high = mix(kilnGradientCorner(cell, ivec2(0, 1), f, period, seed), kilnGradientCorner(cell, ivec2(1, 1), f, period, seed), s.x);
  return mix(low, high, s.y);
}

float kilnCells(vec2 p, int period, uint seed) {
  ivec2 cell = ivec2(floor(p));
  float nearest = 1e30;
  for (int dy = -1; dy <= 1; dy++)
    for (int dx = -1; dx <= 1; dx++) {
      ivec2 at = ivec2(kilnWrapped(cell.x + dx, period), kilnWrapped(cell.y + dy, period));
      vec2 point = vec2(cell + ivec2(dx, dy)) + vec2(kilnLattice(at, seed), kilnLattice(at, seed ^ 0x9e3779b9u));
      vec2 d = p - point;
      nearest = min(nearest, dot(d, d));
    }
  return min(1.0, sqrt(nearest));
}

float kilnNoise(vec2 at, float footprint, int cells, int octaves, float gain, int seed) {
  float sum = 0.0;
  float weight = 1.0;
  float total = 0.0;
  for (int octave = 0; octave < octaves; octave++) {
    float fade = clamp(2.0 - 2.0 * footprint * float(cells), 0.0, 1.0);
    if (fade > 0.0) sum += weight * fade * kilnGradient(at * float(cells), cells, uint(seed + octave * 7919));
    total += weight;
    cells *= 2;
    weight *= gain;
  }
  return clamp(0.5 + 0.70710678 * sum / total, 0.0, 1.0);
}
#endif
