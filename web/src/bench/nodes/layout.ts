import dagre from "@dagrejs/dagre";
import type { ShownNetwork, ShownNode } from "../../api/types";

export const rowHeight = 17;
export const headHeight = 40;
export const nodeWidth = 220;

export const heightOf = (node: ShownNode) => headHeight + Math.max(1, node.ports.length) * rowHeight;

export interface Place {
  x: number;
  y: number;
}

/** Left to right, each column as deep as its nodes are from the surface. */
export function places(network: ShownNetwork): Record<string, Place> {
  const graph = new dagre.graphlib.Graph();
  graph.setGraph({ rankdir: "LR", nodesep: 18, ranksep: 60 });
  graph.setDefaultEdgeLabel(() => ({}));
  for (const node of network.nodes) graph.setNode(node.name, { width: nodeWidth, height: heightOf(node) });
  for (const node of network.nodes) for (const port of node.ports) if (port.from) graph.setEdge(port.from, node.name);
  dagre.layout(graph);
  return Object.fromEntries(
    network.nodes.map((n) => {
      const { x, y } = graph.node(n.name) as { x: number; y: number };
      return [n.name, { x: x - nodeWidth / 2, y: y - heightOf(n) / 2 }];
    }),
  );
}
