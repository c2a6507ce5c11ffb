import { useState } from "react";
import type { Board, Lane, Look, NeutralInput } from "../api/types";
import { ReadingChip, thumbnailUrl } from "../ui/ReadingChip";
import { MeterBar } from "./MeterBar";
import { loose, stepKinds, type StepKind } from "./steps";

export interface Selection {
  lane: string;
  /** −1 is the map or value, 0… a step. */
  step: number;
}

interface Props {
  id: string;
  look: Look;
  revision: number;
  input: NeutralInput;
  lane: Lane | undefined;
  board: Board | undefined;
  dialect: string | null;
  selection: Selection | null;
  onSelect: (selection: Selection) => void;
  onInsert: (at: number, kind: StepKind) => void;
}

const chosen = "outline-2 outline-glaze";

/** One lane: name and value, map, steps, result with its range. Under it, what the dialect makes of it. */
export function LaneRow({ id, look, revision, input, lane, board, dialect, selection, onSelect, onInsert }: Props) {
  const chain = lane?.chain ?? null;
  const origin = chain?.origin;
  const slot = origin?.kind === "slot" ? look.slots?.[origin.slot] : undefined;
  const meter = board?.meters[input.name];
  const at = (step: number) => selection?.lane === input.name && selection.step === step;
  const value = lane?.value ?? null;
  const restated = dialect ? board?.dialect[input.name] : undefined;
  const lost = dialect ? board?.report?.lost.find((l) => l.input === input.name) : undefined;
  const baked = dialect
    ? board?.report?.baked.filter((l) => restated?.some((r) => r.input === l.dialectInput))
    : undefined;
  const tile = (steps: number) => `/api/v1/looks/${id}/tile?lane=${input.name}&steps=${steps}&revision=${revision}`;
  return (
    <div className="border-b border-rule py-1.5" data-lane={input.name}>
      <div className="flex items-start gap-0">
        <button
          className={`mr-2 w-[132px] shrink-0 px-1 text-left ${at(-1) && !slot ? chosen : ""}`}
          onClick={() => onSelect({ lane: input.name, step: -1 })}
        >
          <span className="block font-medium">{inputWords(input.name)}</span>
          <span className="block font-mono text-small text-soft">{chain ? "mapped" : valueWords(value, input)}</span>
        </button>
        {slot && origin?.kind === "slot" && (
          <button
            className={`w-[104px] shrink-0 border border-rule bg-raised p-0.5 text-left ${at(-1) ? chosen : ""}`}
            onClick={() => onSelect({ lane: input.name, step: -1 })}
            data-tile="map"
            title={slot.file.name}
          >
            <img
              src={thumbnailUrl(slot.file.content, origin.reading)}
              alt=""
              className="h-[56px] w-full bg-well object-cover"
            />
            <span className="block truncate text-small">{slot.file.name}</span>
            <ReadingChip reading={origin.reading} />
          </button>
        )}
        {chain?.steps.map((raw, i) => {
          const step = loose(raw);
          return (
            <div key={step.id} className="flex shrink-0">
              <Gap at={i} onInsert={onInsert} />
              <button
                className={`w-[104px] border border-rule bg-raised p-0.5 text-left ${at(i) ? chosen : ""} ${step.bypassed ? "opacity-45" : ""}`}
                onClick={() => onSelect({ lane: input.name, step: i })}
                data-tile={stepKinds[step.kind].word}
              >
                <img src={tile(i + 1)} alt="" className="h-[56px] w-full bg-well object-cover" />
                <span className="block truncate text-small">{stepKinds[step.kind].word}</span>
                <span className="block truncate font-mono text-small text-soft">
                  {step.bypassed ? "left out" : stepKinds[step.kind].telling(step)}
                </span>
              </button>
            </div>
          );
        })}
        {chain && (
          <>
            <Gap at={chain.steps.length} onInsert={onInsert} />
            <div className="ml-auto w-[124px] shrink-0 pr-2">{meter && <MeterBar meter={meter} input={input} />}</div>
          </>
        )}
      </div>
      {dialect && (restated || lost) && (
        <div className="mt-1 ml-[140px] space-y-0.5 text-small">
          {restated?.map((r) => (
            <p key={r.input} className={baked && baked.length > 0 ? "stipple px-1" : "px-1"}>
              <b className="font-mono font-medium">{r.input}</b> <span className="text-soft">= {r.formula}</span>
              {r.value !== null && r.value !== undefined && <span className="font-mono"> → {r.value}</span>}
              {r.steps.length > 0 && <span className="text-soft"> · {r.steps.join(" → ")}</span>}
              {r.space && <span className="font-mono"> · read as {r.space}</span>}
            </p>
          ))}
          {baked?.map((b) => (
            <p key={b.note} className="stipple px-1">
              baked: {b.note}
            </p>
          ))}
          {lost && (
            <p className="px-1">
              <s>{input.name.replaceAll("_", " ")}</s> lost: {lost.note}
            </p>
          )}
        </div>
      )}
    </div>
  );
}

/** An input's name in the interface's spelling; the standard's identifier stays in documents. */
export const inputWords = (name: string) => name.replaceAll("_", " ").replace("color", "colour");

function valueWords(value: Lane["value"], input: NeutralInput): string {
  if (value?.kind === "scalar") return String(Math.round(value.number * 1000) / 1000);
  if (value?.kind === "colour") return [value.r, value.g, value.b].map((v) => v.toFixed(3)).join(" ");
  return input.default ? input.default.join(" ") : "flat";
}

/** The place between two tiles takes a new step. */
function Gap({ at, onInsert }: { at: number; onInsert: (at: number, kind: StepKind) => void }) {
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <button
        className="h-[96px] w-4 shrink-0 text-soft hover:bg-glaze-pale hover:text-ink"
        onClick={() => setOpen(true)}
        aria-label={`add a step at place ${at + 1}`}
      >
        +
      </button>
    );
  return (
    <select
      autoFocus
      className="entry mx-1 h-7 w-32"
      defaultValue=""
      aria-label="new step"
      onBlur={() => setOpen(false)}
      onKeyDown={(e) => e.key === "Escape" && setOpen(false)}
      onChange={(e) => {
        setOpen(false);
        onInsert(at, e.target.value as StepKind);
      }}
    >
      <option value="" disabled>
        new step…
      </option>
      {(Object.keys(stepKinds) as StepKind[])
        .filter((k) => k !== "occlusion")
        .map((k) => (
          <option key={k} value={k}>
            {stepKinds[k].word}
          </option>
        ))}
    </select>
  );
}
