// Repeats broken up by chance, as TileScatter has it.

struct KilnCorner {
  vec2 middle;
  vec2 shift;
  float cosine;
  float sine;
  float weight;
};

KilnCorner kilnCornerAt(ivec2 at, float weight, int cells, float turn, uint seed) {
  int rows = at.y >= 0 ? at.y / cells : -((cells - 1 - at.y) / cells);
  int row = at.y - rows * cells;
  int column = kilnWrapped(at.x + rows * (cells / 2), cells);
  uint h = kilnHash((uint(column) * 0x8da6b343u) ^ (uint(row) * 0xd8163841u) ^ (seed * 0xcb1ab31fu));
  uint second = kilnHash(h + 0x9e3779b9u);
  float angle = (kilnEven(kilnHash(second + 0x9e3779b9u)) * 2.0 - 1.0) * turn;
  return KilnCorner(
    vec2(float(at.x) + float(at.y) * 0.5, float(at.y)) / float(cells),
    vec2(kilnEven(h), kilnEven(second)),
    cos(angle),
    sin(angle),
    pow(max(1e-20, weight), 7.0)
  );
}

void kilnCorners(vec2 uv, int cells, float turn, uint seed, out KilnCorner corners[3]) {
  vec2 p = uv * float(cells);
  vec2 skewed = vec2(p.x - p.y * 0.5, p.y);
  ivec2 at = ivec2(floor(skewed));
  vec2 f = skewed - floor(skewed);
  if (f.x + f.y < 1.0) {
    corners[0] = kilnCornerAt(at, 1.0 - f.x - f.y, cells, turn, seed);
    corners[1] = kilnCornerAt(at + ivec2(1, 0), f.x, cells, turn, seed);
    corners[2] = kilnCornerAt(at + ivec2(0, 1), f.y, cells, turn, seed);
  } else {
    corners[0] = kilnCornerAt(at + ivec2(1, 1), f.x + f.y - 1.0, cells, turn, seed);
    corners[1] = kilnCornerAt(at + ivec2(0, 1), 1.0 - f.x, cells, turn, seed);
    corners[2] = kilnCornerAt(at + ivec2(1, 0), 1.0 - f.y, cells, turn, seed);
  }
  float sum = corners[0].weight + corners[1].weight + corners[2].weight;
  for (int k = 0; k < 3; k++) corners[k].weight /= sum;
}

vec2 kilnCornerPlace(KilnCorner corner, vec2 uv) {
  vec2 d = uv - corner.middle;
  return corner.middle + vec2(corner.cosine * d.x + corner.sine * d.y, corner.cosine * d.y - corner.sine * d.x);
}

vec3 kilnCornerSlopes(KilnCorner corner, vec3 stored, float sense) {
  vec3 n = 2.0 * stored - 1.0;
  vec2 slope = n.xy / max(n.z, 1e-3);
  float sine = corner.sine * sense;
  return vec3(corner.cosine * slope.x - sine * slope.y, sine * slope.x + corner.cosine * slope.y, 1.0);
}
