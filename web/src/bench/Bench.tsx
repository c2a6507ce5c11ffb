import { useState } from "react";
import { useParams } from "react-router";
import { useBoard, useStudio, useLook } from "../api/queries";
import type { Look } from "../api/types";
import { BenchContext, type BenchState } from "./BenchContext";
import { BenchHead } from "./BenchHead";
import { ConfigMemory } from "./ConfigMemory";
import { Conflict } from "./Conflict";
import { FindingsLine } from "./FindingsLine";
import { HistoryDrawer } from "./HistoryDrawer";
import { KeepPanel } from "./KeepPanel";
import { useCommands } from "../frame/commands";
import { addressWords, allChains, parseAddress, type Selection } from "./lanes/address";
import { FileDrop } from "./lanes/FileDrop";
import { LaneList } from "./lanes/LaneList";
import { LayerStrip, type Layer } from "./lanes/LayerStrip";
import { ReferenceLines } from "./lanes/ReferenceLines";
import { SlotsStrip } from "./lanes/SlotsStrip";
import { NodesView } from "./nodes/NodesView";
import { ProofPanel } from "./ProofPanel";
import { Relink } from "./Relink";
import { Settings } from "./settings/Settings";
import { TrimsPanel } from "./trims/TrimsPanel";
import { useBenchKeys } from "./useBenchKeys";
import { useClipboard } from "./useClipboard";
import { useEdits } from "./useEdits";
import { useLowRows } from "./useLowRows";
import { VariantStrip } from "./VariantStrip";

/** The UDIM tiles of all of a look's maps, in order. */
const tilesOf = (look: Look) =>
  [...new Set(Object.values(look.slots ?? {}).flatMap((s) => s.file.tiles?.map((t) => t.number) ?? []))].sort();

/** The look bench: lanes at the left, the proof and the settings of what is selected at the right. */
export function Bench() {
  const { id = "" } = useParams();
  const look = useLook(id);
  const studio = useStudio();
  const [dialect, setDialect] = useState<string | null>(null);
  const [other, setOther] = useState<string | null>(null);
  const [selection, setSelection] = useState<Selection | null>(null);
  const [solo, setSolo] = useState<Selection | null>(null);
  const [layer, setLayer] = useState<Layer>("ground");
  // From the first thing that is picked to be set, its settings are what stands beside the proof.
  const [sets, setSets] = useState(false);
  const [lowRows, setLowRows] = useLowRows();
  const [nodes, setNodes] = useState(false);
  const [blinking, setBlinking] = useState(false);
  const [variant, setVariant] = useState<string | null>(null);
  const board = useBoard(id, look.data?.revision, dialect);
  const { edit, bring, layOn, undo, redo, restore, conflict, settle } = useEdits(id);
  const select = (next: Selection | null) => {
    setSelection(next);
    setSets(true);
    // What is selected is shown: in its cover, or on the ground.
    const cover = next && (parseAddress(next.lane)?.layer ?? null);
    if (cover !== null && layer !== "all") setLayer(cover);
    else if (next && cover === null && typeof layer === "number") setLayer("ground");
  };
  const bench: BenchState | null =
    look.data && studio.data
      ? {
          id,
          revision: look.data.revision,
          look: look.data.document,
          studio: studio.data,
          board: board.data,
          dialect,
          selection,
          select,
          solo,
          setSolo,
          lowRows,
          edit,
          bring,
          layOn,
        }
      : null;
  useBenchKeys(bench, { undo: () => void undo(), redo: () => void redo(), blink: setBlinking });
  useClipboard(bench);
  useCommands(
    bench
      ? [
          { words: "Undo", run: () => void undo() },
          { words: "Redo", run: () => void redo() },
          { words: "Placement and relief", run: () => setSelection(null) },
          { words: nodes ? "Lanes instead of nodes" : "Nodes of the written network", run: () => setNodes(!nodes) },
          ...[{ id: null, title: "Look" }, ...bench.studio.dialects].map((d) => ({
            words: `Show as ${d.title}`,
            run: () => setDialect(d.id),
          })),
          ...allChains(bench.look)
            .filter((c) => !c.address.includes("/"))
            .map((c) => ({
              words: `Lane: ${addressWords(c.address)}`,
              run: () => select({ lane: c.address, step: -1 }),
            })),
        ]
      : [],
  );
  if (!bench || !look.data)
    return <p className="p-6 text-soft">{look.error ? look.error.message : "Opening the look…"}</p>;
  const document = bench.look;
  // Somebody may have removed or renamed it.
  const shownVariant = document.variants?.some((v) => v.name === variant) ? variant : null;
  const shownLayer = typeof layer === "number" && !document.covers?.[layer] ? "ground" : layer;
  return (
    <BenchContext.Provider value={bench}>
      <div className="grid h-full grid-cols-[minmax(0,1fr)_400px] min-[1800px]:grid-cols-[minmax(0,1fr)_620px]">
        <div className="grid min-h-0 grid-rows-[auto_auto_minmax(0,1fr)_auto] border-r border-rule">
          <BenchHead
            name={look.data.name}
            onDialect={setDialect}
            other={other}
            onOther={setOther}
            nodes={nodes}
            onNodes={setNodes}
            onLowRows={() => setLowRows(!lowRows)}
          />
          <div>
            <SlotsStrip />
            <VariantStrip variant={shownVariant} onVariant={setVariant} />
            <ConfigMemory look={document} studio={bench.studio} onEdit={edit} />
            <Relink id={id} revision={bench.revision} look={document} onEdit={edit} />
            <Conflict conflict={conflict} onSettle={settle} />
            <div className="flex flex-wrap items-center gap-1 border-b border-rule px-3 py-1 text-small [&_.act]:px-1.5">
              <button
                className={`underline decoration-2 ${selection === null ? "text-ink decoration-glaze" : "text-soft decoration-rule"}`}
                onClick={() => select(null)}
              >
                placement, relief{" "}
                <span className="font-mono">
                  {document.placement?.repeatsU} × {document.placement?.repeatsV}, {document.placement?.rotationDegrees}
                  °
                </span>
              </button>
              {!nodes && <LayerStrip layer={shownLayer} onLayer={setLayer} />}
              <span className="grow" />
              <button className="act text-small" onClick={() => void undo()}>
                Undo
              </button>
              <button className="act text-small" onClick={() => void redo()}>
                Redo
              </button>
              <TrimsPanel key={dialect} />
              <HistoryDrawer onRestore={(number) => void restore(number)} />
              <KeepPanel
                key={look.data.id}
                look={look.data}
                studio={bench.studio}
                dialect={dialect}
                report={board.data?.report ?? null}
                onEdit={(e) => void edit(e)}
              />
            </div>
          </div>
          {nodes ? (
            <NodesView />
          ) : (
            <FileDrop className="relative overflow-auto px-2" words="Drop to sort them into this look">
              {board.data?.trouble && (
                <p role="alert" className="m-2 border border-ink p-2">
                  {board.data.trouble}
                </p>
              )}
              <LaneList layer={shownLayer} />
              <ReferenceLines />
            </FileDrop>
          )}
          <FindingsLine />
        </div>
        <div className="relative min-h-0 overflow-auto">
          <ProofPanel
            id={id}
            revision={bench.revision}
            studio={bench.studio}
            tiles={tilesOf(bench.look)}
            dialect={dialect}
            variant={shownVariant}
            other={other}
            blinking={blinking}
            solo={solo}
            makesRoom={sets}
          />
          <section aria-label="Settings" className="mt-2 border-t border-rule p-3">
            <Settings />
          </section>
        </div>
      </div>
    </BenchContext.Provider>
  );
}
