/**
 * What people read for the identifiers of views, lights, shapes and the like. Identifiers stay in addresses, documents and the command
 * line; what a studio named itself (its lights, the views of its own config) is shown as it was named.
 */
const names: Record<string, string> = {
  // Views.
  "aces1-sdr": "ACES 1 SDR",
  "aces1-sdr-compressed": "ACES 1 SDR, gamut compressed",
  plain: "Plain sRGB",
  stops: "Exposure in stops",
  // Lights.
  overcast: "Overcast sky",
  softbox: "Softbox",
  lowsun: "Low sun",
  night: "Night street",
  furnace: "White furnace",
  // Shapes.
  vessel: "Vessel",
  tile: "Tile",
  sphere: "Sphere",
  cloth: "Cloth",
  chart: "Colour chart",
  // Parts of the light, and what a proof knows besides.
  diffuse: "Diffuse",
  reflection: "Reflection",
  coat: "Coat",
  transmission: "Transmission",
  emission: "Emission",
  albedo: "Base colour alone",
  normal: "Normals",
  depth: "Depth",
  // Colour spaces and channels.
  acescg: "ACEScg",
  lin_rec709: "Linear Rec.709",
  srgb_texture: "sRGB",
  raw: "Data (raw)",
  rgb: "RGB",
  luminance: "Luminance",
  r: "Red",
  g: "Green",
  b: "Blue",
  a: "Alpha",
  // Noise.
  gradient: "Gradient noise",
  fractal: "Fractal noise",
  cell: "Cells",
  // What pictures stand in.
  light: "Light",
  mid: "Middle grey",
  dark: "Dark",
  // What a look is at.
  draft: "Draft",
  "in review": "Submitted for review",
  published: "Published",
  archived: "Archived",
  // Trims.
  gain: "Multiply by",
  offset: "Add",
  power: "Raise to the power of",
  // People.
  viewer: "Viewer",
  artist: "Artist",
  lead: "Lead",
  admin: "Administrator",
};

export const nameOf = (id: string): string => names[id] ?? id.replaceAll("_", " ");

/** Identifiers with their names, to choose from. */
export const named = (ids: readonly string[]) => ids.map((id) => ({ value: id, words: nameOf(id) }));

/** The kinds of findings, as filters offer them. The sentence of each finding says more. */
const findings: Record<string, string> = {
  "ao.double": "Occlusion counted twice",
  "base.range": "Base colour too dark or too bright",
  "displace.height": "Displacement height doubtful",
  "displace.level": "Displacement level does not fit the map",
  "displace.midpoint": "Displacement midpoint doubtful",
  "displace.none": "Displacement without subdivision",
  "dup.look": "The same look twice",
  "dup.map": "The same picture in two slots",
  "map.bits": "Too few bits",
  "map.constant": "Map of one value",
  "map.missing": "Map missing",
  "map.mixed": "Maps of different sizes",
  "map.seam": "Visible seam",
  "map.unused": "Map not used",
  "metal.grey": "Metalness neither 0 nor 1",
  "name.rule": "Name against the rules",
  "normal.cut": "Normals cut off",
  "normal.direction": "Normal direction doubtful",
  "normal.jpeg": "Normals damaged by JPEG",
  "place.differs": "Placements differ",
  "reading.alpha": "Alpha read in place of grey",
  "reading.double": "Colour space applied twice",
  "relief.double": "Normal and height counted twice",
  "rough.zero": "Large areas perfectly smooth or rough",
  "shine.inverted": "Glossiness not inverted",
  "switch.missing": "A switch is off",
};

export const findingName = (code: string): string => findings[code] ?? code.replaceAll(".", ": ");
