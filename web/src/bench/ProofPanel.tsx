import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { send } from "../api/client";
import { useTrimStamp } from "../api/queries";
import type { Studio } from "../api/types";
import { BesideLine } from "./BesideLine";
import type { Selection } from "./lanes/address";
import { ProofControls } from "./ProofControls";
import { ProofPicture } from "./ProofPicture";
import { ProofStrips } from "./ProofStrips";
import { mostSamples, usualProof, type ProofSettings } from "./proofSettings";
import { StopKey } from "./StopKey";
import { WritePictures } from "./WritePictures";
import { useBeside } from "./useBeside";
import { useProof, type ProofQuery } from "./useProof";

interface Props {
  id: string;
  revision: number;
  studio: Studio;
  tiles: number[];
  dialect: string | null;
  /** The look as one of its variants. */
  variant: string | null;
  other: string | null;
  blinking: boolean;
  solo: Selection | null;
  /** Something else is being set: what is rarely needed makes room. */
  makesRoom: boolean;
}
/** How long after the last movement a proof is refined again, in milliseconds. */
const settles = 260;
/** Samples from which a proof can be judged. */
const judged = 16;
const full = { size: 420, moving: false };
const coarse = { size: 184, samples: 2, moving: true, part: null };

/** The proof refines beside the lanes. While blinking, the other dialect's proof stands in its place. */
export function ProofPanel({ id, revision, studio, tiles, dialect, variant, other, blinking, solo, makesRoom }: Props) {
  const [settings, setSettings] = useState<ProofSettings>(usualProof);
  const change = (part: Partial<ProofSettings>) => setSettings((s) => ({ ...s, ...part }));
  const [moving, setMoving] = useState(false);
  const timer = useRef<number>(0);
  const touch = () => {
    setMoving(true);
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => setMoving(false), settles);
  };
  useEffect(() => () => window.clearTimeout(timer.current), []);
  const query: ProofQuery = {
    ...settings,
    dialect,
    variant,
    background: true,
    soloLane: solo?.lane ?? null,
    soloSteps: solo ? Math.max(0, solo.step + 1) : null,
    ...(moving ? coarse : { ...full, samples: mostSamples(settings) }),
  };
  const under = useTrimStamp(id);
  const proof = useProof(id, revision, "bench", query, under);
  const blink = useProof(
    id,
    revision,
    "blink",
    blinking ? { ...query, dialect: other, ...full, samples: mostSamples(settings) } : null,
    under,
  );
  const beside = useBeside(id);
  // The strips begin when the proof can be judged, and follow an edit when it has all it wants.
  const [rested, setRested] = useState<number | null>(null);
  if (rested !== revision && !moving && (proof.last || (rested === null && proof.samples >= judged)))
    setRested(revision);
  const [wipe, setWipe] = useState(0.5);
  const [asked, setAsked] = useState<boolean | null>(null);
  const open = asked ?? !makesRoom;
  const { form, light, view } = settings;
  const difference = useQuery({
    queryKey: ["compare", id, revision, dialect, other, form, light, view, under],
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
  const swapped = blinking && blink.picture !== null;
  const shown = swapped ? blink : proof;
  const title = (d: string | null) => studio.dialects.find((x) => x.id === d)?.title ?? "Look";
  return (
    <section aria-label="Proof" className="flex flex-col">
      <ProofPicture
        viewer={swapped ? "blink" : "bench"}
        picture={shown.picture}
        error={shown.error}
        settings={settings}
        onChange={change}
        onMoving={touch}
      >
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
        {beside.beside && !blinking && (
          <>
            <img
              data-testid="beside"
              src={beside.beside.url}
              alt={beside.beside.words}
              className="pointer-events-none absolute inset-0 size-full object-contain"
              style={{ clipPath: `inset(0 ${(1 - wipe) * 100}% 0 0)` }}
            />
            <p className="pointer-events-none absolute top-2 left-2 bg-panel px-2 text-small">{beside.beside.words}</p>
          </>
        )}
        {solo && <p className="absolute bottom-2 left-2 bg-panel px-2">solo: {solo.lane.replaceAll("_", " ")}</p>}
      </ProofPicture>
      <p
        className="flex flex-wrap justify-between gap-x-3 px-2 py-0.5 font-mono text-small text-soft"
        data-samples={shown.samples}
      >
        <span>
          {title(blinking ? other : dialect)}
          {variant && `, ${variant}`}
        </span>
        <span>
          {shown.samples} samples · noise {(shown.noise * 100).toFixed(1)} %{shown.last ? ", done" : ""} ·{" "}
          {shown.seconds.toFixed(1)} s · maps {(shown.mapBytes / 1048576).toFixed(0)} MB
        </span>
      </p>
      {view === "stops" && <StopKey colours={studio.stopColours} />}
      <p className="px-2">
        <button className="text-small text-soft underline" aria-expanded={open} onClick={() => setAsked(!open)}>
          {open ? "fold form, light and view" : "form, light, view, camera…"}
        </button>
      </p>
      {open && (
        <>
          <ProofStrips
            look={id}
            revision={rested}
            dialect={dialect}
            forms={studio.forms}
            lights={studio.lights}
            form={form}
            light={light}
            onForm={(f) => change({ form: f, yaw: null, pitch: null, zoom: 1, part: null })}
            onLight={(l) => change({ light: l })}
          />
          <ProofControls studio={studio} tiles={tiles} settings={settings} onChange={change} onMoving={touch} />
          <BesideLine
            beside={beside}
            picture={shown.picture}
            words={`held: ${title(dialect)}, ${light}`}
            wipe={wipe}
            onWipe={setWipe}
          />
          <p className="px-2 pt-1">
            <WritePictures look={id} dialect={dialect} settings={settings} layers={studio.layers} />
          </p>
        </>
      )}
    </section>
  );
}
