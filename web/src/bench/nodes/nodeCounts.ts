import type { ShownNetwork } from "../../api/types";

/** How many nodes of each category a network has, the most first. */
export function nodeCounts(network: ShownNetwork): [string, number][] {
  const found: Record<string, number> = {};
  for (const node of network.nodes) found[node.category] = (found[node.category] ?? 0) + 1;
  return Object.entries(found).sort((a, b) => b[1] - a[1]);
}
