import { useState, type ReactNode } from "react";
import { useQuery } from "@tanstack/react-query";
import { get } from "../api/client";
import { keys } from "../api/keys";
import type { ModelPart, UvFigures } from "../api/types";
import { Segments } from "../ui/Segments";
import { useRoom } from "../ui/useRoom";
import { useShown } from "./ModelPicture";
import { uvWords } from "./uvs";

interface Props {
  model: string;
  /** Changes whenever something that is seen of the parts does. */
  stamp: string;
  /** Those that are drawn. */
  parts: ModelPart[];
  modes: ReactNode;
}

const tones = [
  { value: "layout", words: "Layout", tip: "Over the base colour; what overlaps is dark, what is mirrored hatched" },
  { value: "stretch", words: "Stretch", tip: "How much longer the map is one way than the other" },
  { value: "density", words: "Density", tip: "How large the map is, against the median of what is drawn" },
];

/** The UVs of parts over their map, and how they lie in numbers. */
export function ModelUvs({ model, stamp, parts, modes }: Props) {
  const { place, room } = useRoom<HTMLDivElement>();
  const [tone, setTone] = useState("layout");
  const named = parts.map((p) => `&part=${encodeURIComponent(p.path)}`).join("");
  const size = Math.max(64, Math.min(2048, Math.round(Math.min(room.width, room.height))));
  const asked = `show=${tone}${named}`;
  const { shown, fault, isOld } = useShown(
    room.width === 0 ? [] : [`/api/v1/models/${model}/uvs?${asked}&size=${size}&r=${stamp}`],
  );
  const figures = useQuery({
    queryKey: keys.uvFigures(model, asked, stamp),
    queryFn: () =>
      get("/api/v1/models/{id}/uvs/figures", {
        params: { path: { id: model }, query: { part: parts.map((p) => p.path), show: tone } },
      }),
  });
  return (
    <div className="grid min-h-0 grid-rows-[auto_minmax(0,1fr)_auto]">
      <div className="flex flex-wrap items-center gap-3 border-b border-rule px-3 py-1">
        {modes}
        <Segments label="surfaces show" value={tone} options={tones} onChange={setTone} />
        <span className="grow" />
        <span role="status" className="text-small text-soft">
          {fault ?? figures.error?.message ?? (isOld ? "drawing…" : "")}
        </span>
      </div>
      <div ref={place} className="grid min-h-0 place-items-center overflow-hidden bg-well" data-testid="model-uvs">
        {shown && !fault && (
          <img
            src={shown}
            alt={`UVs of ${parts.map((p) => p.name).join(", ")}`}
            draggable={false}
            className="max-h-full max-w-full"
          />
        )}
      </div>
      {figures.data && <Figures figures={figures.data} parts={parts} />}
    </div>
  );
}

function Figures({ figures, parts }: { figures: UvFigures; parts: ModelPart[] }) {
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1 border-t border-rule px-3 py-1 text-small">
      <span data-given className="max-w-60 truncate font-medium">
        {parts.length === 1 ? parts[0].name : `${parts.length} parts`}
      </span>
      <span data-given data-testid="uv-figures">
        {uvWords(figures)}
      </span>
      <ol aria-label="scale" className="flex flex-wrap gap-2">
        {figures.steps.map((s) => (
          <li key={s.words} className="flex items-center gap-1">
            <span
              className="inline-block size-3 border border-rule"
              style={{ background: `rgb(${s.red} ${s.green} ${s.blue})` }}
            />
            {s.words}
          </li>
        ))}
      </ol>
    </div>
  );
}
