import { useEffect, useState } from "react";
import { useParams } from "react-router";
import { useBoard, useHouse, useLook } from "../api/queries";
import { ConfigMemory } from "./ConfigMemory";
import { FindingsLine } from "./FindingsLine";
import { KeepPanel } from "./KeepPanel";
import { LaneRow, type Selection } from "./LaneRow";
import { ProofPanel } from "./ProofPanel";
import { Relink } from "./Relink";
import { Settings } from "./Settings";
import { SlotsStrip } from "./SlotsStrip";
import { freshId, stepKinds } from "./steps";
import { useEdits } from "./useEdits";

const groups = ["base", "reflection", "relief", "light", "layers", "geometry"];

/** The look bench: lanes at the left, the proof and the settings of what is selected at the right. */
export function Bench() {
  const { id = "" } = useParams();
  const look = useLook(id);
  const house = useHouse();
  const [dialect, setDialect] = useState<string | null>(null);
  const [other, setOther] = useState<string | null>(null);
  const [selection, setSelection] = useState<Selection | null>(null);
  const [solo, setSolo] = useState<Selection | null>(null);
  const [unused, setUnused] = useState(false);
  const [blinking, setBlinking] = useState(false);
  const board = useBoard(id, look.data?.revision, dialect);
  const { edit, undo, redo } = useEdits(id);

  useEffect(() => {
    const typing = (e: KeyboardEvent) => e.target instanceof HTMLInputElement && e.target.type !== "range";
    const down = (e: KeyboardEvent) => {
      if (e.ctrlKey && e.key.toLowerCase() === "z" && !typing(e)) {
        e.preventDefault();
        void (e.shiftKey ? redo() : undo());
      } else if (e.key === "b" && !e.ctrlKey && !typing(e) && !e.repeat) setBlinking(true);
      else if (e.key === "Escape") setSelection(null);
    };
    const up = (e: KeyboardEvent) => e.key === "b" && setBlinking(false);
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
    };
  }, [undo, redo]);

  if (!look.data || !house.data)
    return <p className="p-6 text-soft">{look.error ? look.error.message : "Opening the look…"}</p>;
  const document = look.data.document;
  const used = (name: string) =>
    document.lanes?.[name] !== undefined ||
    board.data?.report?.lost.some((l) => l.input === name && document.lanes?.[name]);
  const lanes = house.data.inputs.filter((i) => used(i.name) || (unused && i.default !== null));
  const hidden = house.data.inputs.filter((i) => !used(i.name)).length;
  const show = (lane: string) => document.lanes?.[lane] && setSelection({ lane, step: -1 });
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_400px] min-[1800px]:grid-cols-[minmax(0,1fr)_620px]">
      <div className="grid min-h-0 grid-rows-[auto_auto_minmax(0,1fr)_auto] border-r border-rule">
        <div className="flex items-center gap-2 border-b border-rule px-3 py-1.5">
          <h1 className="truncate text-large font-medium">{look.data.name}</h1>
          <span className="grow" />
          <div role="group" aria-label="dialect" className="flex">
            {[{ id: null, title: "Look" }, ...house.data.dialects].map((d) => (
              <button
                key={d.title}
                className="act -ml-px rounded-none"
                aria-pressed={dialect === d.id}
                onClick={() => setDialect(d.id)}
              >
                {d.title}
              </button>
            ))}
          </div>
          <label className="text-small text-soft">
            blink to{" "}
            <select
              className="entry text-ink"
              aria-label="blink to"
              value={other ?? ""}
              onChange={(e) => setOther(e.target.value || null)}
            >
              <option value="">Look</option>
              {house.data.dialects.map((d) => (
                <option key={d.id} value={d.id}>
                  {d.title}
                </option>
              ))}
            </select>
          </label>
        </div>
        <div>
          <SlotsStrip look={document} onEdit={edit} />
          <ConfigMemory look={document} house={house.data} onEdit={edit} />
          <Relink id={id} revision={look.data.revision} look={document} onEdit={edit} />
          <div className="flex items-center gap-3 border-b border-rule px-3 py-1 text-small">
            <button
              className={
                selection === null
                  ? "text-ink underline decoration-glaze decoration-2"
                  : "text-soft underline decoration-rule"
              }
              onClick={() => setSelection(null)}
            >
              placement{" "}
              <span className="font-mono">
                {document.placement?.repeatsU} × {document.placement?.repeatsV}, {document.placement?.rotationDegrees}°
              </span>
            </button>
            <span className="grow" />
            <button className="act" onClick={() => void undo()}>
              Undo
            </button>
            <button className="act" onClick={() => void redo()}>
              Redo
            </button>
            <KeepPanel
              key={look.data.id}
              look={look.data}
              house={house.data}
              dialect={dialect}
              report={board.data?.report ?? null}
              onEdit={edit}
            />
          </div>
        </div>
        <div className="overflow-auto px-2">
          {board.data?.trouble && (
            <p role="alert" className="m-2 border border-ink p-2">
              {board.data.trouble}
            </p>
          )}
          {groups.map((group) => {
            const rows = lanes.filter((i) => i.group === group);
            if (rows.length === 0) return null;
            return (
              <section key={group} aria-label={group}>
                <h2 className="mt-2 border-b border-rule text-small text-soft">{group}</h2>
                {rows.map((input) => (
                  <LaneRow
                    key={input.name}
                    id={id}
                    look={document}
                    revision={look.data.revision}
                    input={input}
                    lane={document.lanes?.[input.name]}
                    board={board.data}
                    dialect={dialect}
                    selection={selection}
                    onSelect={setSelection}
                    onInsert={(at, kind) => {
                      const chain = document.lanes![input.name].chain!;
                      void edit({
                        edit: "stepInsert",
                        lane: input.name,
                        at,
                        step: { kind, id: freshId(chain), ...stepKinds[kind].fresh() },
                      });
                      setSelection({ lane: input.name, step: at });
                    }}
                  />
                ))}
              </section>
            );
          })}
          <button className="my-2 px-1 text-soft underline" onClick={() => setUnused(!unused)}>
            {unused ? "fold unused inputs" : `+${hidden} unused`}
          </button>
        </div>
        <FindingsLine findings={board.data?.findings ?? []} onEdit={edit} onShow={show} />
      </div>
      <div className="relative min-h-0 overflow-auto">
        <ProofPanel
          id={id}
          revision={look.data.revision}
          house={house.data}
          dialect={dialect}
          other={other}
          blinking={blinking}
          solo={solo}
        />
        <section aria-label="Settings" className="mt-2 border-t border-rule p-3">
          <Settings
            look={document}
            house={house.data}
            selection={selection}
            solo={solo}
            onEdit={edit}
            onSolo={setSolo}
          />
        </section>
      </div>
    </div>
  );
}
