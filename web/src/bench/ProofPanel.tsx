import { StopKey } from "./StopKey";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { send } from "../api/client";
import type { House } from "../api/types";
import type { Selection } from "./LaneRow";
import { useProof, type ProofQuery } from "./useProof";

interface Props {
  id: string;
  revision: number;
  house: House;
  dialect: string | null;
  other: string | null;
  blinking: boolean;
  solo: Selection | null;
}

const usual = { yaw: 28, pitch: { vessel: 18, tile: 46, sphere: 12 } as Record<string, number> };

/** The proof refines beside the lanes: orbit by drag, zoom by wheel, light by its slider. While blinking, the other dialect's proof stands in its place. */
export function ProofPanel({ id, revision, house, dialect, other, blinking, solo }: Props) {
  const [form, setForm] = useState("vessel");
  const [light, setLight] = useState("softbox");
  const [camera, setCamera] = useState<{ yaw: number | null; pitch: number | null; zoom: number }>({
    yaw: null,
    pitch: null,
    zoom: 1,
  });
  const [lightRotation, setLightRotation] = useState(0);
  const [exposure, setExposure] = useState(0);
  const [view, setView] = useState("aces1-sdr");
  const [moving, setMoving] = useState(false);
  const drag = useRef<{ x: number; y: number; yaw: number; pitch: number } | null>(null);
  const settle = useRef<number>(0);
  const query: ProofQuery = {
    dialect,
    form,
    light,
    ...camera,
    lightRotation,
    exposure,
    view,
    background: true,
    soloLane: solo?.lane ?? null,
    soloSteps: solo ? Math.max(0, solo.step + 1) : null,
    size: moving ? 200 : 420,
    samples: moving ? 2 : 192,
  };
  const proof = useProof(id, revision, "bench", query);
  const blink = useProof(
    id,
    revision,
    "blink",
    blinking ? { ...query, dialect: other, size: 420, samples: 192 } : null,
  );
  const difference = useQuery({
    queryKey: ["compare", id, revision, dialect, other, form, light, view],
    queryFn: () =>
      send<{ mean: number; percentile95: number }>("POST", `/looks/${id}/compare`, {
        first: dialect,
        second: other,
        form,
        light,
        view,
      }),
    enabled: blinking,
    staleTime: Infinity,
  });
  const touch = () => {
    setMoving(true);
    window.clearTimeout(settle.current);
    settle.current = window.setTimeout(() => setMoving(false), 260);
  };
  useEffect(() => () => window.clearTimeout(settle.current), []);
  const shown = blinking && blink.picture ? blink : proof;
  const title = (d: string | null) => house.dialects.find((x) => x.id === d)?.title ?? "Look";
  return (
    <section aria-label="Proof" className="flex flex-col">
      <div
        className="relative aspect-square w-full cursor-grab touch-none bg-well"
        onWheel={(e) => {
          touch();
          setCamera((c) => ({ ...c, zoom: Math.min(12, Math.max(0.5, c.zoom * Math.exp(-e.deltaY * 0.0015))) }));
        }}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          drag.current = {
            x: e.clientX,
            y: e.clientY,
            yaw: camera.yaw ?? usual.yaw,
            pitch: camera.pitch ?? usual.pitch[form] ?? 18,
          };
        }}
        onPointerMove={(e) => {
          const d = drag.current;
          if (!d) return;
          touch();
          setCamera((c) => ({
            ...c,
            yaw: d.yaw - (e.clientX - d.x) * 0.5,
            pitch: Math.min(88, Math.max(-5, d.pitch + (e.clientY - d.y) * 0.4)),
          }));
        }}
        onPointerUp={() => (drag.current = null)}
      >
        {shown.picture && (
          <img
            data-testid="proof"
            src={shown.picture}
            alt={`Proof on ${form} under ${light}`}
            className="size-full"
            draggable={false}
          />
        )}
        {shown.error && (
          <p role="alert" className="absolute inset-x-4 top-1/3 bg-panel p-3">
            {shown.error}
          </p>
        )}
        {!shown.picture && !shown.error && (
          <p className="absolute inset-x-0 top-1/2 text-center text-white">loading maps…</p>
        )}
        {blinking && (
          <p data-testid="blink" className="absolute top-2 left-2 bg-panel px-2 py-1">
            {title(other)}{" "}
            <span className="font-mono">
              {difference.data
                ? `mean ΔE ${difference.data.mean.toFixed(2)}, 95 % ${difference.data.percentile95.toFixed(2)}`
                : "measuring ΔE…"}
            </span>
          </p>
        )}
        {solo && <p className="absolute bottom-2 left-2 bg-panel px-2">solo: {solo.lane.replaceAll("_", " ")}</p>}
      </div>
      <p className="flex justify-between px-2 py-0.5 font-mono text-small text-soft" data-samples={shown.samples}>
        <span>{title(blinking ? other : dialect)}</span>
        <span>
          {shown.samples} samples · noise {(shown.noise * 100).toFixed(1)} % · {shown.seconds.toFixed(1)} s · maps{" "}
          {(shown.mapBytes / 1048576).toFixed(0)} MB
        </span>
      </p>
      {view === "stops" && <StopKey colours={house.stopColours} />}
      <div className="grid grid-cols-[auto_1fr_auto_1fr] items-center gap-x-2 gap-y-1 px-2">
        <Choice
          word="form"
          value={form}
          options={house.forms}
          onChange={(f) => {
            setForm(f);
            setCamera({ yaw: null, pitch: null, zoom: 1 });
          }}
        />
        <Choice word="light" value={light} options={house.lights} onChange={setLight} />
        <Choice word="view" value={view} options={house.views} onChange={setView} />
        <span className="text-soft">turn light</span>
        <input
          type="range"
          className="accent-glaze"
          aria-label="turn light"
          min={-180}
          max={180}
          value={lightRotation}
          onChange={(e) => {
            touch();
            setLightRotation(Number(e.target.value));
          }}
        />
        <span className="text-soft">exposure</span>
        <span className="col-span-3 flex items-center gap-2">
          <input
            type="range"
            className="grow accent-glaze"
            aria-label="exposure"
            min={-4}
            max={4}
            step={0.25}
            value={exposure}
            onChange={(e) => setExposure(Number(e.target.value))}
          />
          <span className="w-14 text-right font-mono text-small">{exposure.toFixed(2)} EV</span>
        </span>
      </div>
    </section>
  );
}

function Choice({
  word,
  value,
  options,
  onChange,
}: {
  word: string;
  value: string;
  options: string[];
  onChange: (v: string) => void;
}) {
  return (
    <>
      <span className="text-soft">{word}</span>
      <select className="entry min-w-0" aria-label={word} value={value} onChange={(e) => onChange(e.target.value)}>
        {options.map((o) => (
          <option key={o}>{o}</option>
        ))}
      </select>
    </>
  );
}
