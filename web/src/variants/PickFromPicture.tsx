import { useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import { Select } from "../ui/Select";

const side = 360;

/**
 * A colour taken from a picture of the disk (a swatch card, a photograph): the mean around the pointer, as sRGB hex.
 * The picture stays in the browser.
 */
export function PickFromPicture({ words, onPick }: { words: string; onPick: (hex: string) => void }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [picture, setPicture] = useState<ImageBitmap | null>(null);
  const [under, setUnder] = useState<string | null>(null);
  const [patch, setPatch] = useState(5);
  useEffect(() => {
    if (!picture || !canvas.current) return;
    const scale = Math.min(1, side / Math.max(picture.width, picture.height));
    canvas.current.width = Math.max(1, Math.round(picture.width * scale));
    canvas.current.height = Math.max(1, Math.round(picture.height * scale));
    canvas.current.getContext("2d")!.drawImage(picture, 0, 0, canvas.current.width, canvas.current.height);
  }, [picture]);
  const at = (e: React.MouseEvent<HTMLCanvasElement>) => {
    const box = e.currentTarget.getBoundingClientRect();
    const context = e.currentTarget.getContext("2d")!;
    const [x, y] = [Math.floor(e.clientX - box.left), Math.floor(e.clientY - box.top)];
    const half = (patch - 1) / 2;
    const data = context.getImageData(x - half, y - half, patch, patch).data;
    // In light, not in codes: the mean of what is seen from afar.
    const mean = [0, 1, 2].map((c) => {
      let sum = 0;
      let weight = 0;
      for (let i = 0; i < data.length; i += 4) {
        sum += decoded(data[i + c]) * data[i + 3];
        weight += data[i + 3];
      }
      return weight > 0 ? encoded(sum / weight) : 0;
    });
    return `#${mean.map((v) => v.toString(16).padStart(2, "0")).join("")}`;
  };
  return (
    <div className="mb-2 flex items-start gap-2 text-small">
      <label className="act relative text-small focus-within:outline-2 focus-within:outline-glaze">
        {picture ? "Another picture…" : "Pick from a picture…"}
        <input
          type="file"
          accept="image/png,image/jpeg,image/webp"
          aria-label="picture to pick a colour from"
          className="sr-only"
          onChange={(e) => {
            const file = e.target.files?.[0];
            e.target.value = "";
            if (file)
              createImageBitmap(file).then(setPicture, () =>
                toast.error(`${file.name} cannot be shown by the browser.`, { duration: 8000 }),
              );
          }}
        />
      </label>
      {picture && (
        <>
          <canvas
            ref={canvas}
            aria-label={`click to give ${words} the colour there`}
            role="img"
            className="cursor-crosshair border border-rule bg-well"
            onMouseMove={(e) => setUnder(at(e))}
            onMouseLeave={() => setUnder(null)}
            onClick={(e) => onPick(at(e))}
          />
          <span>
            <span className="block">for {words}</span>
            <label className="block">
              average over{" "}
              <Select
                label="average over"
                testid="pick-average"
                value={String(patch)}
                options={[1, 5, 15, 31].map((p) => ({
                  value: String(p),
                  words: p === 1 ? "one pixel" : `${p} × ${p}`,
                }))}
                onChange={(chosen) => setPatch(Number(chosen))}
              />
            </label>
            <span className="mt-1 flex items-center gap-1 font-mono">
              <span
                aria-hidden="true"
                className="inline-block h-5 w-7 border border-rule"
                style={{ background: under ?? undefined }}
              />
              {under}
            </span>
            <button className="act mt-1 text-small" onClick={() => setPicture(null)}>
              Remove the picture
            </button>
          </span>
        </>
      )}
    </div>
  );
}

/** IEC 61966-2-1. */
function decoded(code: number) {
  const v = code / 255;
  return v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
}

function encoded(light: number) {
  const v = light <= 0.0031308 ? light * 12.92 : 1.055 * light ** (1 / 2.4) - 0.055;
  return Math.round(Math.min(1, Math.max(0, v)) * 255);
}
