import type { ShownNetwork } from "../../api/types";

/** All nodes from which a node takes something, and all that take something from it, itself included: the way from map to surface. */
export function pathThrough(network: ShownNetwork, name: string): Set<string> {
  const into = new Map(network.nodes.map((n) => [n.name, n.ports.flatMap((p) => (p.from ? [p.from] : []))]));
  const walk = (start: string, next: (at: string) => string[]) => {
    const seen = new Set([start]);
    for (const at of seen) next(at).forEach((n) => seen.add(n));
    return seen;
  };
  const up = walk(name, (at) => into.get(at) ?? []);
  const down = walk(name, (at) => network.nodes.filter((n) => into.get(n.name)?.includes(at)).map((n) => n.name));
  return new Set([...up, ...down]);
}

export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Below this nodes cannot be read. */
const readable = 0.8;

/**
 * Where the diagram stands at first: as high as there is room, but never too small to be read; the surface, at its right end, is seen.
 */
export function firstView(bounds: Box, room: { width: number; height: number }) {
  const margin = 16;
  const zoom = Math.min(1, Math.max(readable, (room.height - 2 * margin) / bounds.height));
  const fits = bounds.width * zoom + 2 * margin <= room.width;
  const left = fits ? (room.width - bounds.width * zoom) / 2 : room.width - margin - bounds.width * zoom;
  const top = Math.max(margin, (room.height - bounds.height * zoom) / 2);
  return { x: left - bounds.x * zoom, y: top - bounds.y * zoom, zoom };
}
