import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { post } from "../api/client";
import type { Studio, LookSummary, Wall } from "../api/types";
import { DifferenceScale, useDifferenceScale } from "./DifferenceScale";
import { RenderedPicture } from "../ui/LookPicture";
import { cellOf, cellSource, columnName, rowName, soon, type Place } from "./wall";
import { ReadoutLine } from "../ui/ReadoutLine";
import { ReadoutMarks } from "../ui/ReadoutMarks";
import { Tip } from "../ui/Tip";
import { placeOf, useCellReadout, type Place as At } from "../ui/useReadout";
import { WipeHandle } from "../ui/WipeHandle";
import { keys } from "../api/keys";

interface Props {
  wall: Wall;
  first: Place | null;
  second: Place | null;
  studio: Studio;
  looks: LookSummary[];
}

const ways = ["wipe", "blink", "difference"] as const;

/** Two proofs over each other: with a line between them, in turn, or as their difference. */
export function PairPanel({ wall, first, second, studio, looks }: Props) {
  const [way, setWay] = useState<(typeof ways)[number]>("wipe");
  const [line, setLine] = useState(0.5);
  const [other, setOther] = useState(false);
  const source = (p: Place, samples = wall.samples) =>
    cellSource({ ...wall, samples }, p, looks.find((l) => l.id === wall.rows[p.row].look)?.revision ?? 0);
  const name = (p: Place) => `${rowName(wall.rows[p.row], looks, studio)}: ${columnName(wall.columns[p.column])}`;
  const difference = useQuery({
    queryKey: keys.difference(first && source(first), second && source(second)),
    queryFn: () =>
      post("/api/v1/proofs/difference", {
        body: {
          first: cellOf(wall, first!),
          second: cellOf(wall, second!),
        },
      }),
    enabled: !!first && !!second,
    staleTime: Infinity,
  });
  const scale = useDifferenceScale();
  const [at, setAt] = useState<At | null>(null);
  const numbers = useCellReadout(
    first && difference.data ? cellOf(wall, first) : null,
    second && cellOf(wall, second),
    `${first && source(first)} ${second && source(second)}`,
    at,
  );
  if (!first || !second)
    return (
      <p className="p-3 text-soft">
        {first ? "Click a second picture" : "Click two pictures of the wall"} to compare them and see where they differ.
      </p>
    );
  const d = difference.data;
  return (
    <div>
      <div className="bg-well p-2">
        {/* eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions -- used by keys and mouse alike */}
        <div
          className="relative aspect-square w-full select-none"
          role="application"
          aria-label="Two proofs over each other; hold B to see the second, arrow keys read numbers"
          tabIndex={0}
          onPointerMove={(e) => setAt(placeOf(e, 240))}
          onPointerLeave={() => setAt(null)}
          onKeyDown={(e) => {
            if (e.key.toLowerCase() === "b") setOther(true);
            const arrow = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
            if (!arrow || e.target !== e.currentTarget) return;
            setAt((p) => ({ u: within((p?.u ?? 0.5) + arrow[0] / 60), v: within((p?.v ?? 0.5) + arrow[1] / 60) }));
            e.preventDefault();
          }}
          onKeyUp={(e) => e.key.toLowerCase() === "b" && setOther(false)}
        >
          <RenderedPicture
            urgent
            key={source(first)}
            source={source(first)}
            sooner={source(first, soon)}
            alt={name(first)}
            className="absolute inset-0"
          />
          <div
            className="absolute inset-0"
            style={{
              clipPath: way === "wipe" ? `inset(0 0 0 ${line * 100}%)` : undefined,
              visibility: way === "wipe" || other ? "visible" : "hidden",
            }}
          >
            <RenderedPicture
              urgent
              key={source(second)}
              source={source(second)}
              sooner={source(second, soon)}
              alt={name(second)}
              className="size-full"
            />
          </div>
          <ReadoutMarks at={at} pin={null} />
          {way === "wipe" && <WipeHandle label="edge between the two" share={line} onMove={setLine} />}
          {way === "difference" && d && (
            <>
              <img
                src={`data:image/png;base64,${d.map}`}
                alt="where they differ"
                className="absolute inset-0 size-full"
              />
              <Tip words="where they differ most">
                <span
                  className="absolute size-6 -translate-1/2 border-2 border-raised outline outline-ink"
                  style={{ left: `${d.worstU * 100}%`, top: `${d.worstV * 100}%` }}
                />
              </Tip>
            </>
          )}
        </div>
      </div>
      <div className="space-y-2 p-2">
        <div className="flex items-center gap-1" role="group" aria-label="how the two are shown">
          {ways.map((w) => (
            <button data-testid={`way-${w}`} key={w} className="act" aria-pressed={way === w} onClick={() => setWay(w)}>
              {w}
            </button>
          ))}
          {way === "blink" && (
            <button
              className="act grow"
              onPointerDown={() => setOther(true)}
              onPointerUp={() => setOther(false)}
              onPointerLeave={() => setOther(false)}
            >
              Hold to see the second (or B)
            </button>
          )}
        </div>
        {way === "difference" && <DifferenceScale steps={scale} />}
        <dl className="grid grid-cols-[auto_1fr] gap-x-3" data-testid="pair-numbers">
          <dt className="font-mono">1</dt>
          <dd>{name(first)}</dd>
          <dt className="font-mono">2</dt>
          <dd>{name(second)}</dd>
          <dt className="text-soft">ΔE2000</dt>
          <dd className="font-mono">
            {d
              ? `mean ${d.mean.toFixed(2)} · 95 % ${d.percentile95.toFixed(2)} · most ${d.greatest.toFixed(1)}`
              : "measuring…"}
          </dd>
          <dt className="text-soft">lightness</dt>
          <dd className="font-mono">
            {d ? `L* ${d.firstLightness.toFixed(1)} and ${d.secondLightness.toFixed(1)}` : ""}
          </dd>
        </dl>
        <div
          className="min-h-14 font-mono text-small"
          role="status"
          aria-label="numbers at the pointer"
          data-testid="pair-readout"
        >
          {at && numbers ? (
            <>
              <ReadoutLine glyph="1" testid="pair-first" of={numbers.first} />
              {numbers.second && <ReadoutLine glyph="2" testid="pair-second" of={numbers.second} />}
              <p>{`ΔE2000 here ${numbers.deltaE?.toFixed(2) ?? ""}`}</p>
            </>
          ) : (
            <p className="font-sans text-soft">Point at the picture to read both at one place.</p>
          )}
        </div>
      </div>
    </div>
  );
}

const within = (value: number) => Math.min(0.9999, Math.max(0, value));
