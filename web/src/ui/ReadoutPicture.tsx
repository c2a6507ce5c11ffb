import { ReadoutMarks } from "./ReadoutMarks";
import { useState } from "react";
import { useWorkingSpace } from "../api/queries";
import type { MapFile, PixelReadout, Reading } from "../api/types";
import { thumbnailUrl } from "./ReadingChip";
import { placeOf, useMapReadout, type Place } from "./useReadout";
import { Select } from "./Select";

const numbers = (values: number[]) => values.map((v) => v.toFixed(4)).join(" ");

/**
 * A map that tells the numbers under the pointer: as stored, decoded, in the working space, as displayed. A click
 * pins a place to compare with.
 */
export function ReadoutPicture({ file, reading, title }: { file: MapFile; reading: Reading; title: string }) {
  const [at, setAt] = useState<Place | null>(null);
  const [pin, setPin] = useState<Place | null>(null);
  const [patch, setPatch] = useState(1);
  const working = useWorkingSpace();
  const here = useMapReadout(file, reading, at, patch, working);
  const there = useMapReadout(file, reading, pin, patch, working);
  const step = (dx: number, dy: number) =>
    setAt((p) => {
      const q = p ?? { u: 0.5, v: 0.5 };
      const within = (value: number) => Math.min(0.9999, Math.max(0, value));
      return { u: within(q.u + dx / file.width), v: within(q.v + dy / file.height) };
    });
  return (
    <div>
      <button
        aria-label={`${title}: point at it to read its numbers, arrow keys move, Enter pins`}
        className="relative mx-auto block max-h-[230px] max-w-full cursor-crosshair"
        style={{ aspectRatio: `${file.width} / ${file.height}` }}
        onMouseMove={(e) => setAt(placeOf(e))}
        onClick={(e) => setPin(e.detail === 0 ? at : placeOf(e))}
        onKeyDown={(e) => {
          const move = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
          if (!move) return;
          e.preventDefault();
          step(move[0] * (e.shiftKey ? 16 : 1), move[1] * (e.shiftKey ? 16 : 1));
        }}
      >
        <img src={thumbnailUrl(file.content, reading, 512)} alt={title} className="size-full bg-well" />
        <ReadoutMarks pin={pin} at={at} />
      </button>
      <div className="mt-1 flex items-center gap-2 text-small">
        <label>
          average over{" "}
          <Select
            label="average over"
            value={String(patch)}
            options={[1, 5, 25, 101].map((p) => ({ value: String(p), words: p === 1 ? "one pixel" : `${p} × ${p}` }))}
            onChange={(chosen) => setPatch(Number(chosen))}
          />
        </label>
        {pin && (
          <button className="act text-small" onClick={() => setPin(null)}>
            Remove the pin
          </button>
        )}
      </div>
      {here ? (
        <ReadoutTable here={here} pinned={there && pin ? there : null} />
      ) : (
        <p className="text-small text-soft">
          Point at the picture to read its numbers; a click pins a place to compare.
        </p>
      )}
    </div>
  );
}

function ReadoutTable({ here, pinned }: { here: PixelReadout; pinned: PixelReadout | null }) {
  const rows: { name: string; of: (r: PixelReadout) => string }[] = [
    { name: "stored", of: (r) => (r.codes ? r.codes.join(" ") : numbers(r.stored)) },
    { name: "decoded", of: (r) => numbers(r.decoded) },
    ...(here.working ? [{ name: "working", of: (r: PixelReadout) => numbers(r.working ?? []) }] : []),
    { name: "displayed", of: (r) => r.hex },
  ];
  return (
    <table aria-label="numbers" className="mt-1 w-full text-left text-small">
      <thead className="text-soft">
        <tr>
          <th className="w-[70px] font-normal">
            <span className="sr-only">what</span>
          </th>
          <th className="font-normal">
            + at {here.x}, {here.y}
            {here.pixels > 1 && `, ${here.pixels} pixels`}
          </th>
          {pinned && (
            <th className="font-normal">
              ◇ at {pinned.x}, {pinned.y}
            </th>
          )}
        </tr>
      </thead>
      <tbody>
        {rows.map(({ name, of }) => (
          <tr key={name} className="border-t border-rule" data-readout={name}>
            <td className="py-0.5 text-soft">{name}</td>
            {[here, ...(pinned ? [pinned] : [])].map((r, i) => (
              <td key={i} className="pl-1 font-mono whitespace-nowrap">
                {of(r)}
                {name === "displayed" && (
                  <span
                    aria-hidden="true"
                    className="ml-2 inline-block h-3 w-6 border border-rule align-middle"
                    style={{ background: r.hex }}
                  />
                )}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
