import { lazy, Suspense, useCallback, useLayoutEffect, useState } from "react";
import { useParams } from "react-router";
import { useBoard, useLook, useStudio } from "../api/queries";
import type { Look, LookInfo, Studio } from "../api/types";
import { useCommands } from "../frame/commands";
import { Panels } from "../ui/Panels";
import { BenchHead } from "./BenchHead";
import { benchCommands } from "./benchCommands";
import { Board } from "./Board";
import { ProofSide } from "./proof/ProofSide";
import { BenchContext, makeBenchStore, type BenchData, type BenchState } from "./state/benchState";
import { rememberedCompactRows } from "./state/compactRows";
import { Conflict } from "./state/Conflict";
import { useBenchKeys } from "./state/useBenchKeys";
import { useClipboard } from "./state/useClipboard";
import { useEdits } from "./state/useEdits";

/** The look bench: lanes at the left, the proof and what is set at the right. */
export function Bench() {
  const { id = "" } = useParams();
  const look = useLook(id);
  const studio = useStudio();
  if (!look.data || !studio.data)
    return <p className="p-6 text-soft">{(look.error ?? studio.error)?.message ?? "Opening the look…"}</p>;
  return <OpenBench key={id} info={look.data} studio={studio.data} />;
}

const NodesView = lazy(() => import("./nodes/NodesView").then((m) => ({ default: m.NodesView })));

/** How wide the right side is at first: at 2560 the picture is to be at least 900 pixels wide. */
const proofShare = () => (window.innerWidth >= 1800 ? 39 : 34);

function OpenBench({ info, studio }: { info: LookInfo; studio: Studio }) {
  const { id } = info;
  const { drawn, acts, conflict, settle } = useEdits(id, info);
  const [store] = useState(() => makeBenchStore(firstState(info, studio)));
  const [dialect, setDialect] = useState<string | null>(null);
  const [other, setOther] = useState<string | null>(null);
  const [nodes, setNodes] = useState(false);
  const [blinking, setBlinking] = useState(false);
  const [variant, setVariant] = useState<string | null>(null);
  const now = drawn ?? { info, look: info.document };
  const board = useBoard(id, now.info.revision, dialect);
  useLayoutEffect(() => {
    store.setState({
      look: now.look,
      known: now.info.document,
      revision: now.info.revision,
      studio,
      dialect,
      board: board.data,
      layer: layerIn(now.look, store.getState().layer),
      ...(acts && { edit: acts.edit, bring: acts.bring, layOn: acts.layOn }),
    });
  }, [store, now.look, now.info, studio, dialect, board.data, acts]);
  const undo = useCallback(() => void acts?.undo(), [acts]);
  const redo = useCallback(() => void acts?.redo(), [acts]);
  const restore = useCallback((number: number) => void acts?.restore(number), [acts]);
  useBenchKeys(store, { undo, redo, blink: setBlinking });
  useClipboard(store);
  useCommands(benchCommands(store, { undo, redo, nodes, setNodes, setDialect }));
  // Somebody may have removed or renamed it.
  const shownVariant = now.look.variants?.some((v) => v.name === variant) ? variant : null;
  return (
    <BenchContext.Provider value={store}>
      <div className="grid h-full grid-rows-[auto_minmax(0,1fr)]">
        <div>
          <BenchHead
            onDialect={setDialect}
            other={other}
            onOther={setOther}
            nodes={nodes}
            onNodes={setNodes}
            onUndo={undo}
            onRedo={redo}
            onRestore={restore}
          />
          <Conflict conflict={conflict} onSettle={settle} />
        </div>
        <Panels
          id="bench"
          direction="horizontal"
          label="lanes and proof"
          share={proofShare()}
          least={[480, 320]}
          first={
            nodes ? (
              <Suspense fallback={<p className="p-4 text-soft">Opening the nodes…</p>}>
                <NodesView />
              </Suspense>
            ) : (
              <Board variant={shownVariant} onVariant={setVariant} />
            )
          }
          second={<ProofSide variant={shownVariant} other={other} blinking={blinking} />}
        />
      </div>
    </BenchContext.Provider>
  );
}

/** A layer that is gone leads back to the base layer. */
const layerIn = (look: Look, layer: BenchState["layer"]) =>
  typeof layer === "number" && !look.covers?.[layer] ? "base" : layer;

const early = () => Promise.resolve();

const firstState = (info: LookInfo, studio: Studio): BenchData => ({
  id: info.id,
  revision: info.revision,
  look: info.document,
  known: info.document,
  studio,
  board: undefined,
  dialect: null,
  selection: null,
  solo: null,
  layer: "base",
  side: "settings",
  compactRows: rememberedCompactRows(),
  edit: early,
  bring: early,
  layOn: early,
});
