import { Background, Controls, Handle, Position, ReactFlow, type Node } from "@xyflow/react";
import "@xyflow/react/dist/style.css";
import { useMemo, useState } from "react";
import { toast } from "sonner";
import { useNetwork } from "../../api/queries";
import type { ShownNode } from "../../api/types";
import { useBench } from "../BenchContext";
import { headHeight, nodeWidth, places, rowHeight } from "./layout";
import { TwoDialects } from "./TwoDialects";

type Card = Node<{ node: ShownNode; found: boolean; dim: boolean }, "card">;

/** The network that is written, to be read: every node with its name, settings and readings. Nothing is changed here. */
export function NodesView() {
  const { id, revision, dialect, studio } = useBench();
  const [shown, setShown] = useState(dialect ?? studio.dialects[0].id);
  const [other, setOther] = useState("");
  const [words, setWords] = useState("");
  const [asText, setAsText] = useState(false);
  const network = useNetwork(id, revision, shown);
  const second = useNetwork(id, revision, other || null);
  const { nodes, edges } = useMemo(() => {
    if (!network.data) return { nodes: [] as Card[], edges: [] };
    const at = places(network.data);
    const wanted = words.toLowerCase();
    const fits = (n: ShownNode) =>
      wanted !== "" &&
      `${n.name} ${n.category} ${n.ports.map((p) => `${p.name} ${p.value ?? ""} ${p.space ?? ""}`).join(" ")}`
        .toLowerCase()
        .includes(wanted);
    return {
      nodes: network.data.nodes.map<Card>((node) => ({
        id: node.name,
        type: "card",
        position: at[node.name],
        data: { node, found: fits(node), dim: wanted !== "" && !fits(node) },
        draggable: false,
      })),
      edges: network.data.nodes.flatMap((node) =>
        node.ports
          .filter((p) => p.from)
          .map((p) => ({
            id: `${p.from}-${node.name}-${p.name}`,
            source: p.from!,
            target: node.name,
            targetHandle: p.name,
          })),
      ),
    };
  }, [network.data, words]);
  const text = network.data?.text;
  return (
    <section aria-label="Nodes" className="grid h-full grid-rows-[auto_minmax(0,1fr)]">
      <div className="flex flex-wrap items-center gap-3 border-b border-rule px-3 py-1 text-small">
        <DialectChoice label="network of" value={shown} onChange={setShown} />
        <input
          className="entry w-40"
          aria-label="search nodes"
          placeholder="node, setting or reading"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
        {text && (
          <>
            <button className="act text-small" aria-pressed={asText} onClick={() => setAsText(!asText)}>
              As text
            </button>
            <button
              className="act text-small"
              onClick={() =>
                void navigator.clipboard.writeText(text).then(() => toast("The document is on the clipboard"))
              }
            >
              Copy the text
            </button>
          </>
        )}
        <span className="grow" />
        <DialectChoice label="beside" value={other} onChange={setOther} none />
      </div>
      {asText && text ? (
        <pre className="overflow-auto p-3 font-mono text-small" tabIndex={0}>
          {text}
        </pre>
      ) : other && second.data && network.data ? (
        <TwoDialects first={shown} second={other} networks={[network.data, second.data]} />
      ) : network.data ? (
        <ReactFlow
          key={shown}
          nodes={nodes}
          edges={edges}
          nodeTypes={{ card: NodeCard }}
          fitView
          fitViewOptions={{ padding: 0.04 }}
          nodesConnectable={false}
          elementsSelectable
          minZoom={0.15}
          proOptions={{ hideAttribution: true }}
        >
          <Background color="var(--color-rule)" gap={24} />
          <Controls showInteractive={false} />
        </ReactFlow>
      ) : (
        <p className="p-4 text-soft">{network.error ? network.error.message : "Writing the network…"}</p>
      )}
    </section>
  );
}

function DialectChoice({
  label,
  value,
  onChange,
  none,
}: {
  label: string;
  value: string;
  onChange: (v: string) => void;
  none?: boolean;
}) {
  const { studio } = useBench();
  return (
    <label>
      {label}{" "}
      <select className="entry" value={value} onChange={(e) => onChange(e.target.value)}>
        {none && <option value="">none</option>}
        {studio.dialects.map((d) => (
          <option key={d.id} value={d.id}>
            {d.title}
          </option>
        ))}
      </select>
    </label>
  );
}

function NodeCard({ data: { node, found, dim } }: { data: Card["data"] }) {
  return (
    <div
      className={`border bg-panel text-small ${found ? "border-2 border-glaze" : "border-rule"} ${dim ? "opacity-40" : ""} ${node.isSurface ? "border-ink" : ""}`}
      style={{ width: nodeWidth }}
    >
      <div className="overflow-hidden border-b border-rule px-2" style={{ height: headHeight }}>
        <b className="block truncate font-medium">{node.category}</b>
        <span className="block truncate font-mono text-soft" title={node.name}>
          {node.name}
        </span>
      </div>
      {node.ports.map((p) => (
        <div key={p.name} className="relative flex justify-between gap-2 px-2 font-mono" style={{ height: rowHeight }}>
          {p.from && <Handle id={p.name} type="target" position={Position.Left} isConnectable={false} />}
          <span className="truncate">{p.name}</span>
          <span className="truncate text-soft" title={[p.value, p.space].filter(Boolean).join(" · ")}>
            {p.from ? "" : p.value}
            {p.space && ` · ${p.space}`}
          </span>
        </div>
      ))}
      {!node.isSurface && <Handle type="source" position={Position.Right} isConnectable={false} />}
    </div>
  );
}
