import { Background, Controls, Handle, Position, ReactFlow, type Node, type ReactFlowInstance } from "@xyflow/react";
import "@xyflow/react/dist/style.css";
import { useMemo, useRef, useState } from "react";
import { toast } from "sonner";
import { useNetwork } from "../../api/queries";
import type { ShownNode } from "../../api/types";
import { useBench } from "../state/benchState";
import { headHeight, nodeWidth, places, rowHeight } from "./layout";
import { firstView, pathThrough } from "./path";
import { TwoDialects } from "./TwoDialects";
import { Select } from "../../ui/Select";
import { Tip } from "../../ui/Tip";
import { classes } from "../../ui/classes";

type Card = Node<{ node: ShownNode; found: boolean; dim: boolean }, "card">;
type Flow = ReactFlowInstance<Card>;

/** The network that is written, to be read: every node with its name, settings and readings. Nothing is changed here. */
export function NodesView() {
  const { id, revision, dialect, studio } = useBench("id", "revision", "dialect", "studio");
  const [shown, setShown] = useState(dialect ?? studio.dialects[0].id);
  const [other, setOther] = useState("");
  const [words, setWords] = useState("");
  const [asText, setAsText] = useState(false);
  const [at, setAt] = useState<string | null>(null);
  const room = useRef<HTMLDivElement>(null);
  const network = useNetwork(id, revision, shown);
  const second = useNetwork(id, revision, other || null);
  const { nodes, edges } = useMemo(() => {
    if (!network.data) return { nodes: [] as Card[], edges: [] };
    const where = places(network.data);
    const path = at && network.data.nodes.some((n) => n.name === at) ? pathThrough(network.data, at) : null;
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
        position: where[node.name],
        data: {
          node,
          found: fits(node) || node.name === at,
          dim: (wanted !== "" && !fits(node)) || (path !== null && !path.has(node.name)),
        },
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
            style: path?.has(p.from!) && path.has(node.name) ? onPath : undefined,
          })),
      ),
    };
  }, [network.data, words, at]);
  const begin = (flow: Flow) => {
    const box = room.current?.getBoundingClientRect();
    if (box) void flow.setViewport(firstView(flow.getNodesBounds(nodes), box));
  };
  const text = network.data?.text;
  return (
    <section aria-label="Nodes" className="grid h-full grid-rows-[auto_minmax(0,1fr)]">
      <div className="flex flex-wrap items-center gap-3 border-b border-rule px-3 py-1 text-small">
        <DialectChoice label="renderer" value={shown} onChange={setShown} />
        <input
          className="entry w-40"
          aria-label="search nodes"
          placeholder="Find a node, setting or reading"
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
              onClick={() => void navigator.clipboard.writeText(text).then(() => toast("Copied"))}
            >
              Copy text
            </button>
          </>
        )}
        <span className="grow" />
        <DialectChoice label="compare with" value={other} onChange={setOther} none />
      </div>
      {asText && text ? (
        <pre className="overflow-auto p-3 font-mono text-small" tabIndex={0}>
          {text}
        </pre>
      ) : other && second.data && network.data ? (
        <TwoDialects first={shown} second={other} networks={[network.data, second.data]} />
      ) : network.data ? (
        <div ref={room} className="min-h-0" data-testid="nodes">
          <ReactFlow
            key={shown}
            nodes={nodes}
            edges={edges}
            nodeTypes={{ card: NodeCard }}
            onInit={begin}
            onNodeClick={(_, node) => setAt(node.id === at ? null : node.id)}
            onPaneClick={() => setAt(null)}
            nodesConnectable={false}
            elementsSelectable
            minZoom={0.15}
            proOptions={{ hideAttribution: true }}
          >
            <Background color="var(--color-rule)" gap={24} />
            <Controls showInteractive={false} />
          </ReactFlow>
        </div>
      ) : (
        <p className="p-4 text-soft">{network.error ? network.error.message : "Writing the network…"}</p>
      )}
    </section>
  );
}

/** The way through the node that is chosen. */
const onPath = { stroke: "var(--color-glaze)", strokeWidth: 2.5 };

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
  const { studio } = useBench("studio");
  return (
    <label>
      {label}{" "}
      <Select
        label={label}
        value={value}
        options={[
          ...(none ? [{ value: "", words: "none" }] : []),
          ...studio.dialects.map((d) => ({ value: d.id, words: d.title })),
        ]}
        onChange={onChange}
      />
    </label>
  );
}

function NodeCard({ data: { node, found, dim } }: { data: Card["data"] }) {
  return (
    <div
      className={classes(
        "border bg-panel text-small",
        found ? "border-2 border-glaze" : "border-rule",
        dim && "opacity-40",
        node.isSurface && "border-ink",
      )}
      style={{ width: nodeWidth }}
    >
      <div className="overflow-hidden border-b border-rule px-2" style={{ height: headHeight }}>
        <b className="block truncate font-medium">{node.category}</b>
        <Tip words={node.name}>
          <span className="block truncate font-mono text-soft">{node.name}</span>
        </Tip>
      </div>
      {node.ports.map((p) => (
        <div key={p.name} className="relative flex justify-between gap-2 px-2 font-mono" style={{ height: rowHeight }}>
          {p.from && <Handle id={p.name} type="target" position={Position.Left} isConnectable={false} />}
          <span className="truncate">{p.name}</span>
          <Tip words={[p.value, p.space].filter(Boolean).join(" · ")}>
            <span className="truncate text-soft">
              {p.from ? "" : p.value}
              {p.space && ` · ${p.space}`}
            </span>
          </Tip>
        </div>
      ))}
      {!node.isSurface && <Handle type="source" position={Position.Right} isConnectable={false} />}
    </div>
  );
}
