import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Modal, ModalClose } from "../../../ui/Modal";
import { useState } from "react";
import { del, get, post } from "../../../api/client";
import { Check } from "../../../ui/SettingRows";
import type { ProofSettings } from "../proofSettings";
import { Select } from "../../../ui/Select";
import { keys } from "../../../api/keys";

interface Props {
  look: string;
  dialect: string | null;
  settings: ProofSettings;
  layers: string[];
}

const sides = [512, 1024, 2048, 4096];

/** Orders pictures of the proof as it is looked at, and shows how far they are. */
export function WritePictures({ look, dialect, settings, layers }: Props) {
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const [format, setFormat] = useState("png");
  const [side, setSide] = useState(1024);
  const [samples, setSamples] = useState(256);
  const [frames, setFrames] = useState(1);
  const [transparent, setTransparent] = useState(false);
  const [withLayers, setWithLayers] = useState(false);
  const [denoise, setDenoise] = useState(false);
  const orders = useQuery({
    queryKey: keys.proofFiles(),
    queryFn: () => get("/api/v1/proof-files"),
    enabled: open,
    refetchInterval: (q) => (q.state.data?.some((o) => o.state === "waiting" || o.state === "rendering") ? 700 : false),
  });
  const again = () => client.invalidateQueries({ queryKey: keys.proofFiles() });
  const order = useMutation({
    mutationFn: () => {
      const { form, light, lightRotation, exposure, view, yaw, pitch, zoom } = settings;
      return post("/api/v1/looks/{id}/proof-files", {
        params: { path: { id: look } },
        body: {
          ...{ dialect, form, light, lightRotation, exposure, view, yaw, pitch, zoom },
          ...{ format, samples, frames, width: side, height: side, background: !transparent },
          layers: format === "exr" && withLayers ? layers : [],
          denoise: format !== "exr" && denoise,
        },
      });
    },
    onSuccess: again,
  });
  const remove = useMutation({
    mutationFn: (id: string) => del("/api/v1/proof-files/{id}", { params: { path: { id } } }),
    onSuccess: again,
  });
  return (
    <Modal
      title="Export pictures of this proof"
      trigger={<button className="act">Export pictures…</button>}
      open={open}
      onOpenChange={setOpen}
      width={600}
    >
      <form
        className="flex flex-wrap items-center gap-x-3 gap-y-2"
        onSubmit={(e) => {
          e.preventDefault();
          order.mutate();
        }}
      >
        <label>
          as{" "}
          <Select
            label="format"
            value={format}
            options={[
              { value: "png", words: "PNG, as displayed" },
              { value: "exr", words: "OpenEXR, scene light in ACEScg" },
              ...(frames > 1 ? [{ value: "webp", words: "WebP, animated" }] : []),
            ]}
            onChange={(chosen) => setFormat(chosen)}
          />
        </label>
        <label>
          side{" "}
          <Select
            label="side"
            value={String(side)}
            options={sides.map((s) => ({ value: String(s), words: `${s} px` }))}
            onChange={(chosen) => setSide(Number(chosen))}
          />
        </label>
        <Whole word="samples" value={samples} most={16384} onChange={setSamples} />
        <Whole
          word="turntable frames"
          value={frames}
          most={360}
          onChange={(n) => {
            setFrames(n);
            if (n === 1 && format === "webp") setFormat("png");
          }}
        />
        <Check word="without background" on={transparent} onChange={setTransparent} />
        {format === "exr" ? (
          <Check word="with all layers of light" on={withLayers} onChange={setWithLayers} />
        ) : (
          <Check word="noise filtered" on={denoise} onChange={setDenoise} />
        )}
        <button className="act" data-main="true" disabled={order.isPending}>
          Render
        </button>
      </form>
      <ul className="mt-3" aria-label="pictures">
        {orders.data?.map((o) => (
          <li key={o.id} className="flex items-center gap-3 border-t border-rule py-1" data-state={o.state}>
            <span className="min-w-0 grow">
              {o.file}{" "}
              <span className="text-small text-soft">
                {o.asked.width} px, {o.asked.samples} samples{o.asked.frames > 1 && `, ${o.asked.frames} frames`}
              </span>
            </span>
            {o.state === "done" ? (
              <a className="underline" href={`/api/v1/proof-files/${o.id}/file`} download={o.file}>
                Save
              </a>
            ) : (
              <span className="font-mono text-small">{o.message ?? `${o.state} ${o.done}/${o.total}`}</span>
            )}
            <button className="act text-small" aria-label={`remove ${o.file}`} onClick={() => remove.mutate(o.id)}>
              {o.state === "waiting" || o.state === "rendering" ? "Cancel" : "Remove"}
            </button>
          </li>
        ))}
      </ul>
      {orders.data?.length === 0 && (
        <p className="mt-3 text-soft">No pictures yet. The look is rendered as it is now; you can go on working.</p>
      )}
      <ModalClose className="act mt-3">Close</ModalClose>
    </Modal>
  );
}

interface WholeProps {
  word: string;
  value: number;
  most: number;
  onChange: (v: number) => void;
}

function Whole({ word, value, most, onChange }: WholeProps) {
  return (
    <label>
      {word}{" "}
      <input
        type="number"
        className="entry w-20"
        aria-label={word}
        min={1}
        max={most}
        value={value}
        onChange={(e) => onChange(Math.max(1, Math.min(most, Math.round(Number(e.target.value)) || 1)))}
      />
    </label>
  );
}
