import type { ShownNetwork } from "../../api/types";

export interface Line {
  what: string;
  first: string | null;
  second: string | null;
}

/** Surface inputs of two dialects side by side, and how many nodes of each category they need. */
export function differences(first: ShownNetwork, second: ShownNetwork): Line[] {
  const count = (n: ShownNetwork) => {
    const found: Record<string, number> = {};
    for (const node of n.nodes) found[node.category] = (found[node.category] ?? 0) + 1;
    return found;
  };
  const surface = (n: ShownNetwork) =>
    Object.fromEntries(
      (n.nodes.find((x) => x.isSurface)?.ports ?? []).map((p) => [p.name, p.from ? `from ${p.from}` : p.value]),
    );
  const [a, b, ca, cb] = [surface(first), surface(second), count(first), count(second)];
  const lines: Line[] = [];
  for (const name of new Set([...Object.keys(a), ...Object.keys(b)]))
    lines.push({ what: name, first: a[name] ?? null, second: b[name] ?? null });
  for (const category of new Set([...Object.keys(ca), ...Object.keys(cb)]))
    lines.push({
      what: `nodes: ${category}`,
      first: ca[category] ? String(ca[category]) : null,
      second: cb[category] ? String(cb[category]) : null,
    });
  return lines.filter((l) => l.first !== l.second);
}
