import type { Alternate, MapRole, MapSet, PlacedMap } from "../api/types";

/** Columns of the sorting table, in the order of work. A column may hold several roles; dropping takes the first that fits. */
export interface Column {
  id: string;
  word: string;
  roles: MapRole[];
}

export const columns: Column[] = [
  { id: "base", word: "Base colour", roles: ["baseColor"] },
  { id: "metal", word: "Metalness", roles: ["metalness"] },
  { id: "rough", word: "Roughness", roles: ["roughness", "glossiness"] },
  { id: "relief", word: "Normal and height", roles: ["normal", "height", "bump"] },
  { id: "occlusion", word: "Occlusion", roles: ["ambientOcclusion", "cavity"] },
  { id: "opacity", word: "Opacity", roles: ["opacity", "transmission"] },
  { id: "emission", word: "Emission", roles: ["emission"] },
  {
    id: "more",
    word: "More…",
    roles: [
      "specularColor",
      "specularLevel",
      "subsurface",
      "fuzz",
      "coat",
      "coatRoughness",
      "anisotropy",
      "curvature",
      "thickness",
      "idMask",
    ],
  },
];

export const mapsIn = (set: MapSet, column: Column): PlacedMap[] =>
  set.maps.filter((m) => column.roles.includes(m.role));

const otherWay: Partial<Record<MapRole, MapRole>> = {
  glossiness: "roughness",
  roughness: "glossiness",
  specularColor: "metalness",
  specularLevel: "metalness",
};

/** The chosen map beside which an alternate is shown. Every alternate has one, so none is out of sight. */
function shownAt(set: MapSet, { map, insteadOf }: Alternate): PlacedMap | undefined {
  const first = (...tests: ((m: PlacedMap) => boolean)[]) => tests.map((t) => set.maps.find(t)).find((m) => m);
  return first(
    (m) => m.role === map.role && m.udim === map.udim,
    (m) => m.role === map.role,
    (m) => m.path === insteadOf && m.role === otherWay[map.role],
    (m) => m.path === insteadOf,
    (m) => m.role === otherWay[map.role],
    () => true,
  );
}

export const alternatesOf = (set: MapSet, map: PlacedMap): Alternate[] =>
  set.alternates.filter((a) => shownAt(set, a) === map);

export const asks = (map: PlacedMap): boolean => map.confidence < 0.9;

export const ready = (set: MapSet): boolean => set.maps.every((m) => !asks(m));

/** Roles a surface is expected to have; what is not there is said. */
export function missing(set: MapSet): string[] {
  const has = (...roles: MapRole[]) => set.maps.some((m) => roles.includes(m.role));
  const tiles = [...new Set(set.maps.map((m) => m.udim).filter((t): t is number => t != null))].sort();
  const holes = [...new Set(set.maps.filter((m) => m.udim != null).map((m) => m.role))].flatMap((role) =>
    tiles
      .filter((t) => !set.maps.some((m) => m.role === role && m.udim === t))
      .map((t) => `tile ${t} of ${role.replace(/[A-Z]/g, (c) => ` ${c.toLowerCase()}`)}`),
  );
  return [
    ...holes,
    !has("baseColor") && "base colour",
    !has("roughness", "glossiness") && "roughness",
    !has("normal", "height", "bump") && "relief",
  ].filter((m): m is string => m !== false);
}

/** How a cell looks while something is carried that could be put into it. */
export const takesDrops = "cursor-copy hover:bg-glaze-pale focus:outline-2 focus:-outline-offset-2 focus:outline-glaze";
