import { useState } from "react";
import { Link } from "react-router";
import { useFoundLooks, useModel, useStudio } from "../api/queries";
import type { ModelInfo, ModelPart } from "../api/types";
import { useSelection } from "../intake/useSelection";
import { Checkbox } from "../ui/Checkbox";
import { Segments } from "../ui/Segments";
import { Tip } from "../ui/Tip";
import { grouped } from "./binding";
import { LookShelf } from "./LookShelf";
import { ModelExport } from "./ModelExport";
import { ModelFindings } from "./ModelFindings";
import { ModelMaterials } from "./ModelMaterials";
import { ModelPicture } from "./ModelPicture";
import { ModelUvs } from "./ModelUvs";
import { PartList } from "./PartList";
import { PartSettingsPanel } from "./PartSettingsPanel";
import { useBinding } from "./useBinding";

/** One model: its parts and what lies on them, and the proof of all of it. */
export function ModelPage({ id, mayChange }: { id: string; mayChange: boolean }) {
  const model = useModel(id);
  if (!model.data) return <p className="p-6 text-soft">{model.error ? model.error.message : "Opening the model…"}</p>;
  return <Opened key={id} info={model.data} mayChange={mayChange} />;
}

/** Changes whenever something that is seen of the parts does. */
const stampOf = (parts: ModelPart[]) => {
  const said = JSON.stringify(parts.map((p) => [p.lookId, p.own, p.projection]));
  let hash = 0;
  for (let i = 0; i < said.length; i++) hash = (hash * 31 + said.charCodeAt(i)) | 0;
  return (hash >>> 0).toString(36);
};

function Opened({ info: { model, parts }, mayChange }: { info: ModelInfo; mayChange: boolean }) {
  const studio = useStudio();
  const looks = useFoundLooks({}).data?.pages.flat() ?? [];
  const selection = useSelection(parts.map((p) => p.path));
  const [only, setOnly] = useState<string | null>(null);
  const { bind, set, make, undo, byName, busy } = useBinding(model.id);
  const put = (onto: ModelPart[], look: string | null) =>
    void bind({ look, parts: onto.map((p) => ({ path: p.path, was: p.lookId ?? null })) });
  const chosen = parts.filter((p) => selection.chosen.has(p.path));
  const [mode, setMode] = useState("proof");
  const modes = (
    <Segments
      label="what is shown"
      value={mode}
      options={[
        { value: "proof", words: "Proof" },
        { value: "uvs", words: "UVs", tip: "How the selected parts lie on their map" },
        {
          value: "materials",
          words: "Materials",
          tip: "What the file itself names: find its pictures again, make looks of it",
        },
      ]}
      onChange={setMode}
    />
  );
  const asked = parts.filter((p) => !p.lookId && p.candidates.length > 0).length;
  return (
    <section className="grid min-h-0 min-w-0 grid-cols-[minmax(300px,2fr)_minmax(0,3fr)] grid-rows-[auto_minmax(0,1fr)_auto]">
      <div className="col-span-2 flex flex-wrap items-baseline gap-3 border-b border-rule px-3 py-1.5">
        <h2 data-given className="text-large font-medium">
          {model.name}
        </h2>
        <span className="text-small text-soft">
          {model.path.split(".").at(-1)} · {parts.length} part{parts.length === 1 ? "" : "s"} ·{" "}
          {grouped(model.triangles)} triangles · {model.upAxis} up
        </span>
        {model.remarks.length > 0 && (
          <Tip words={model.remarks.join("\n")}>
            <button type="button" className="cursor-help text-small font-medium underline decoration-dotted">
              {model.remarks.length} remark{model.remarks.length === 1 ? "" : "s"}
            </button>
          </Tip>
        )}
        {asked > 0 && (
          <span role="status" className="text-small font-medium">
            {asked} part{asked === 1 ? " asks" : "s ask"} for a look
          </span>
        )}
        <span className="grow" />
        {mayChange && <ModelExport info={{ model, parts }} />}
        {model.deliveryId && (
          <Link className="text-small underline" to={`/intake/${model.deliveryId}`}>
            Its delivery
          </Link>
        )}
      </div>
      <div className="grid min-h-0 grid-cols-[minmax(0,1fr)] grid-rows-[auto_auto_minmax(0,1fr)_auto] border-r border-rule">
        <div className="flex items-center gap-2 border-b border-rule px-2 py-1">
          <Checkbox
            label="select all parts"
            checked={chosen.length === parts.length && parts.length > 0}
            onChange={(on) => selection.setAll(on)}
          />
          <span className="text-small text-soft">{chosen.length > 0 ? `${chosen.length} selected` : "Parts"}</span>
          <span className="grow" />
          {mayChange && (
            <>
              <button
                className="act text-small"
                disabled={busy || parts.every((p) => p.lookId)}
                onClick={() => void byName()}
              >
                Match names
              </button>
              <button
                className="act text-small"
                disabled={busy || !chosen.some((p) => p.lookId)}
                onClick={() =>
                  put(
                    chosen.filter((p) => p.lookId),
                    null,
                  )
                }
              >
                Remove look
              </button>
              <button className="act text-small" disabled={busy || !undo} onClick={() => void undo?.()}>
                Undo
              </button>
            </>
          )}
        </div>
        <ModelFindings
          model={model.id}
          parts={parts}
          busy={busy}
          onShow={(paths) => {
            selection.setAll(false);
            for (const path of paths) selection.toggle(path, false);
          }}
          onMaterials={() => setMode("materials")}
          mend={mayChange ? { set: (c) => void set(c), bind: (...b) => void bind(...b) } : null}
        />
        <div className="min-h-0 overflow-auto">
          <PartList
            parts={parts}
            looks={looks}
            chosen={selection.chosen}
            onToggle={selection.toggle}
            onPut={mayChange ? put : null}
            only={only}
            onOnly={setOnly}
          />
        </div>
        {mayChange && chosen.length > 0 && <PartSettingsPanel parts={chosen} busy={busy} onSet={(c) => void set(c)} />}
      </div>
      {studio.data && mode === "proof" && (
        <ModelPicture
          model={model.id}
          name={model.name}
          stamp={stampOf(parts)}
          lights={studio.data.lights}
          only={only}
          modes={modes}
          onPart={(path, extend) => (extend ? selection.toggle(path, false) : selection.choose(path))}
          onPut={
            mayChange
              ? (path, look) => {
                  const part = parts.find((p) => p.path === path);
                  if (part) put(chosen.includes(part) ? chosen : [part], look);
                }
              : null
          }
        />
      )}
      {mode === "uvs" && (
        <ModelUvs
          model={model.id}
          stamp={stampOf(parts)}
          parts={chosen.length > 0 ? chosen : parts.slice(0, 1)}
          modes={modes}
        />
      )}
      {mode === "materials" && (
        <ModelMaterials model={model.id} parts={parts} modes={modes} busy={busy} onMake={mayChange ? make : null} />
      )}
      {mayChange && (
        <div className="col-span-2 min-w-0">
          <LookShelf selected={chosen.length} onPut={(look) => put(chosen, look)} />
        </div>
      )}
    </section>
  );
}
