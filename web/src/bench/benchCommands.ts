import type { Command } from "../frame/commands";
import { addressWords, allChains } from "./document/address";
import type { BenchStore } from "./state/benchState";

interface Acts {
  undo: () => void;
  redo: () => void;
  nodes: boolean;
  setNodes: (on: boolean) => void;
  setDialect: (dialect: string | null) => void;
}

/** What the bench offers to the command list. */
export function benchCommands(store: BenchStore, { undo, redo, nodes, setNodes, setDialect }: Acts): Command[] {
  const { look, studio, select, setSide, compactRows, setCompactRows } = store.getState();
  return [
    { words: "Undo", run: undo },
    { words: "Redo", run: redo },
    { words: "Placement and size", run: () => select(null) },
    { words: "Findings", run: () => setSide("findings") },
    { words: "Shape, light and view", run: () => setSide("view") },
    { words: compactRows ? "Tall rows" : "Compact rows", run: () => setCompactRows(!compactRows) },
    { words: nodes ? "Lanes instead of nodes" : "Nodes of the network", run: () => setNodes(!nodes) },
    ...[{ id: null, title: "Neutral" }, ...studio.dialects].map((d) => ({
      words: `Renderer: ${d.title}`,
      run: () => setDialect(d.id),
    })),
    ...allChains(look)
      .filter((c) => !c.address.includes("/"))
      .map((c) => ({ words: `Lane: ${addressWords(c.address)}`, run: () => select({ lane: c.address, step: -1 }) })),
  ];
}
