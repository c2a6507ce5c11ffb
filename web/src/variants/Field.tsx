import { useState } from "react";
import { toast } from "sonner";
import { useQueryClient } from "@tanstack/react-query";
import { sendFile } from "../api/client";
import type { LookWithMaps, VariantPlace, VariantTable } from "../api/types";
import { Tip } from "../ui/Tip";
import { keys } from "../api/keys";

type Cell = VariantTable["rows"][number]["cells"][string];

interface Props {
  look: string;
  revision: number;
  variant: string;
  place?: VariantPlace;
  cell?: Cell;
  plain?: Cell;
  isAt: boolean;
  readOnly: boolean;
  onAt: () => void;
  onText: (text: string) => void;
  onPaste: (text: string) => void;
}

const hints: Record<string, string> = {
  colour: "#c08040, acescg 0.2 0.3 0.4, lab 50 20 -10",
  number: "a number",
  placement: "a number",
  map: "name of one of the look’s maps, or drop a file",
};

/** One override: typed, pasted, or a picture dropped on it. Empty leaves the look's own. */
export function Field({ look, revision, variant, place, cell, plain, isAt, readOnly, onAt, onText, onPaste }: Props) {
  const client = useQueryClient();
  const [draft, setDraft] = useState<string | null>(null);
  const [over, setOver] = useState(false);
  const isMap = place?.kind === "map";
  const commit = (text: string) => {
    setDraft(null);
    if (text.trim() !== (cell?.text ?? "")) onText(text.trim());
  };
  const drop = async (files: FileList) => {
    if (!isMap || files.length === 0) return;
    const form = new FormData();
    form.append("files", files[0], files[0].name);
    const asked = new URLSearchParams({ variant, slot: place.column.slice("map ".length) });
    const done = await sendFile<LookWithMaps>(`/looks/${look}/maps?${asked}`, form, revision).catch((e: Error) => {
      toast.error(e.message, { duration: 8000 });
    });
    if (done) client.setQueryData(keys.look(look), done.look);
  };
  return (
    <span
      className={`flex items-center gap-1 border-2 ${over ? "border-glaze" : "border-transparent"}`}
      onDragOver={(e) => {
        if (!isMap || readOnly) return;
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        void drop(e.dataTransfer.files);
      }}
    >
      {place?.kind === "colour" && (
        <span
          aria-hidden="true"
          className={`h-5 w-7 shrink-0 border border-rule ${cell?.outsideSrgb ? "hatched" : ""}`}
          style={{ background: cell?.hex ?? undefined }}
        />
      )}
      {isMap && cell?.map && (
        <img
          src={`/api/v1/contents/${cell.map}/thumbnail?kind=colour&space=srgb_texture&channel=rgb&size=64`}
          alt=""
          className="size-6 shrink-0 bg-well"
        />
      )}
      <Tip words={place ? hints[place.kind] : undefined}>
        <input
          className={`entry font-mono text-small ${place?.kind === "colour" || isMap ? "w-36" : "w-20"} ${isAt ? "border-glaze" : ""}`}
          aria-label={`${place?.words ?? "lost place"} of ${variant}`}
          data-testid="variant-field"
          data-column={place?.column}
          placeholder={plain && place?.kind !== "colour" ? plain.text : ""}
          value={draft ?? cell?.text ?? ""}
          readOnly={readOnly}
          onFocus={onAt}
          onChange={(e) => setDraft(e.target.value)}
          onBlur={(e) => draft !== null && commit(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === "Enter") commit(e.currentTarget.value);
            if (e.key === "Escape") setDraft(null);
          }}
          onPaste={(e) => {
            const text = e.clipboardData.getData("text");
            if (readOnly || !/[\t\n]/.test(text.trim())) return;
            e.preventDefault();
            onPaste(text);
          }}
        />
      </Tip>
    </span>
  );
}
