import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState, type RefObject } from "react";
import { post } from "../../../api/client";
import { keys } from "../../../api/keys";
import { compared, useTrimStamp } from "../../../api/queries";
import { nameOf } from "../../../ui/names";
import { Tip } from "../../../ui/Tip";
import { WipeHandle } from "../../../ui/WipeHandle";
import { addressWords, laneAt } from "../../document/address";
import { liveAddress } from "../../document/liveNumbers";
import { useBench, useBenchValue, type BenchState } from "../../state/benchState";
import { differenceToProof } from "../../../viewport/assets";
import { useViewport } from "../../../viewport/useViewport";
import { mostSamples, pitchOf, yawOf, type ProofSettings } from "../proofSettings";
import type { BesidePicture } from "../view/useBeside";
import { Before } from "./Before";
import { ProofPicture } from "./ProofPicture";
import { StopKey } from "./StopKey";
import { usePictureSize } from "./usePictureSize";
import { useProof, type ProofQuery, type ProofState } from "./useProof";

interface Props {
  variant: string | null;
  /** The renderer whose proof is shown while blinking. */
  other: string | null;
  blinking: boolean;
  settings: ProofSettings;
  /** Whether something is dragged, so that a coarse picture will do. */
  moving: boolean;
  beside: BesidePicture | null;
  /** The picture that is shown now, for a snapshot. */
  held: RefObject<string | null>;
  onChange: (part: Partial<ProofSettings>) => void;
  onMoving: () => void;
  /** The proof of a revision can be judged, or has all it wants. */
  onRested: (revision: number, last: boolean) => void;
}

/** Samples from which a proof can be judged. */
const judged = 16;
const coarse = { size: 184, samples: 2, moving: true, part: null };

/** The proof itself, with what it is. Its refinements draw this and nothing around it. */
export function ProofWell(props: Props) {
  const { variant, other, blinking, settings, moving, beside, held, onChange, onMoving, onRested } = props;
  const { id, revision, studio, dialect, solo, live } = useBench("id", "revision", "studio", "dialect", "solo", "live");
  const about = useBenchValue((s) => JSON.stringify(liveAddress(s.selection, selectedStep(s))));
  const isOne = !blinking && !solo;
  const { size, well } = usePictureSize();
  // Share of the width that the picture beside it takes.
  const [wipe, setWipe] = useState(0.5);
  const full = { size, moving: false, samples: mostSamples(settings) };
  const soloSteps = solo ? Math.max(0, solo.step + 1) : null;
  const canvas = useRef<HTMLCanvasElement>(null);
  const viewport = useViewport(
    canvas,
    {
      subject: {
        id,
        dialect: blinking ? other : dialect,
        variant,
        soloLane: solo?.lane ?? null,
        soloSteps,
        live: isOne ? (JSON.parse(about) as string[]) : [],
      },
      revision,
      form: settings.form,
      light: settings.light,
      view: settings.view,
      side: size,
    },
    {
      yaw: yawOf(settings),
      pitch: pitchOf(settings),
      zoom: settings.zoom,
      lightRotation: settings.lightRotation,
      exposure: settings.exposure,
      blurred: settings.blurredBackground,
      layer: settings.layer,
      tile: settings.tile,
    },
    isOne ? live : null,
  );
  const draws = viewport.isTrue && isDrawn(settings);
  const query: ProofQuery = {
    ...settings,
    dialect,
    variant,
    background: true,
    soloLane: solo?.lane ?? null,
    soloSteps,
    ...(moving && !draws ? coarse : full),
  };
  const under = useTrimStamp(id);
  // While the viewport draws what moves, the proof waits for the hand to rest.
  const mayProve = useFirstDrawing(viewport.isTrue || viewport.trouble !== null);
  const resting = useResting(query, (moving || viewport.isLive) && draws);
  const proof = useProof(id, revision, "bench", mayProve ? resting : null, under);
  const blink = useProof(id, revision, "blink", blinking ? { ...query, dialect: other, ...full } : null, under);
  const isJudged = !moving && (proof.last || proof.samples >= judged);
  useEffect(() => {
    if (isJudged) onRested(revision, proof.last);
  }, [isJudged, proof.last, revision, onRested]);
  const swapped = blinking && blink.picture !== null;
  const shown = swapped ? blink : proof;
  const wanted = blinking ? blink : proof;
  const showsViewport =
    draws && (moving || viewport.isLive || !wanted.isCurrent || !(wanted.last || wanted.samples >= judged));
  const wipesViewport = beside?.url === null && draws && !showsViewport && !blinking;
  useEffect(() => {
    held.current = shown.picture;
  }, [held, shown.picture]);
  const title = (d: string | null) => studio.dialects.find((x) => x.id === d)?.title ?? "Neutral";
  const name = `${title(blinking ? other : dialect)}${variant ? `, ${variant}` : ""}`;
  return (
    <section aria-label="Proof" data-stays className="flex h-full min-h-0 flex-col" ref={well}>
      <ProofPicture
        viewer={swapped ? "blink" : "bench"}
        picture={shown.picture}
        before={
          <Before
            look={id}
            revision={revision}
            name={`${name}, ${nameOf(settings.light)}`}
            shown={shown}
            isSeen={showsViewport}
          />
        }
        error={shown.error}
        canvas={canvas}
        showsViewport={showsViewport}
        light={({ u, v }, patch) => viewport.light(u, v, patch)}
        wiped={wipesViewport ? wipe : 0}
        settings={settings}
        onChange={onChange}
        onMoving={onMoving}
      >
        {blinking && <BlinkDifference title={title(other)} other={other} settings={settings} />}
        {beside && !blinking && (beside.url || wipesViewport) && (
          <>
            {beside.url && (
              <img
                data-testid="beside"
                src={beside.url}
                alt={beside.words}
                className="pointer-events-none absolute inset-0 size-full object-contain"
                style={{ clipPath: `inset(0 ${(1 - wipe) * 100}% 0 0)` }}
              />
            )}
            <p className="pointer-events-none absolute top-2 left-2 z-20 bg-panel px-2 text-small">
              {beside.words}
              {wipesViewport && (
                <ViewportDifference of={`${proof.samples} ${JSON.stringify(query)}`} picture={viewport.picture} />
              )}
            </p>
            <WipeHandle label="edge between picture and proof" share={wipe} onMove={setWipe} />
          </>
        )}
        {solo && <p className="absolute bottom-2 left-2 bg-panel px-2">solo: {addressWords(solo.lane)}</p>}
      </ProofPicture>
      <p
        className="flex justify-between gap-x-3 overflow-hidden px-2 pb-0.5 font-mono text-small whitespace-nowrap text-soft"
        data-samples={shown.samples}
      >
        <span className="truncate">{name}</span>
        <span data-shown={showsViewport ? "viewport" : "proof"}>
          {viewport.trouble && (
            <>
              <Tip words={viewport.trouble}>
                <span data-testid="viewport-trouble">proof only</span>
              </Tip>
              {" · "}
            </>
          )}
          {showsViewport ? `viewport · ${proofWords(shown)}` : <SampleCount proof={shown} />}
        </span>
      </p>
      {settings.view === "stops" && <StopKey colours={studio.stopColours} />}
    </section>
  );
}

const proofWords = ({ samples, error }: ProofState) =>
  samples > 0 ? `proof at ${samples} samples` : error ? "no proof" : "the proof is being made";

/** How far the picture is; what it took once it is done, so that its refinements draw nothing but a text. */
function SampleCount({ proof }: { proof: ProofState }) {
  const { samples, noise, last, seconds, mapBytes } = proof;
  if (samples === 0) return proofWords(proof);
  const words = `${samples} samples · noise ${(noise * 100).toFixed(1)} %`;
  if (!last) return words;
  return (
    <Tip words={`${seconds.toFixed(1)} s, maps ${(mapBytes / 1048576).toFixed(0)} MB`}>
      <span>{words}, done</span>
    </Tip>
  );
}

/** The step that is selected; null where it is the lane itself. */
const selectedStep = ({ selection, look }: BenchState) =>
  selection && selection.step >= 0 ? (laneAt(look, selection.lane)?.chain?.steps[selection.step]?.id ?? null) : null;

/** Whether the viewport can draw it: the chart is measured, marks and filters are of finished proofs. */
const isDrawn = (p: ProofSettings) =>
  p.form !== "chart" && !p.clipping && !["albedo", "normal", "depth", "emission"].includes(p.layer ?? "");

/** Milliseconds that the proof waits for the viewport's first picture, so that the two do not keep each other from it. */
const patience = 1500;

/** Whether the viewport has drawn once, cannot, or was waited for long enough. */
function useFirstDrawing(hasDrawn: boolean): boolean {
  const [isOver, setIsOver] = useState(false);
  useEffect(() => {
    if (hasDrawn) return setIsOver(true);
    const timer = window.setTimeout(() => setIsOver(true), patience);
    return () => window.clearTimeout(timer);
  }, [hasDrawn]);
  return isOver;
}

/** A question as it was before something began to move. */
function useResting(query: ProofQuery, held: boolean): ProofQuery {
  const [kept, setKept] = useState(query);
  const key = JSON.stringify(query);
  useEffect(() => {
    if (!held) setKept(JSON.parse(key) as ProofQuery);
  }, [held, key]);
  return held ? kept : query;
}

/** How far what the viewport draws is from the proof that lies beside it; measured anew as the proof refines. */
function ViewportDifference({ of, picture }: { of: string; picture: () => Uint8Array<ArrayBuffer> | null }) {
  const difference = useQuery({
    queryKey: keys.viewportDifference(of),
    queryFn: ({ signal }) => {
      const seen = picture();
      if (!seen) throw new Error("nothing is drawn yet");
      return differenceToProof("bench", seen, signal);
    },
    retry: false,
    // The last figure stays until the next is there.
    placeholderData: (before) => before,
  });
  const d = difference.data;
  return (
    <span className="ml-2 font-mono" data-testid="viewport-difference">
      {d ? `mean ΔE ${d.mean.toFixed(2)}, 95 % ${d.percentile95.toFixed(2)}` : "ΔE…"}
    </span>
  );
}

/** How far the two renderers are apart, while one of them is shown in the place of the other. */
function BlinkDifference({ title, other, settings }: { title: string; other: string | null; settings: ProofSettings }) {
  const { id, revision, dialect } = useBench("id", "revision", "dialect");
  const under = useTrimStamp(id);
  const { form, light, view } = settings;
  const difference = useQuery({
    queryKey: keys.compare(id, revision, dialect, other, form, light, view, under),
    queryFn: () =>
      post("/api/v1/looks/{id}/compare", {
        params: { path: { id } },
        body: { ...compared, first: dialect, second: other, form, light, view },
      }),
    staleTime: Infinity,
  });
  return (
    <p data-testid="blink" className="absolute top-2 left-2 bg-panel px-2 py-1">
      {title}{" "}
      <span className="font-mono">
        {difference.data
          ? `mean ΔE ${difference.data.mean.toFixed(2)}, 95 % ${difference.data.percentile95.toFixed(2)}`
          : "measuring ΔE…"}
      </span>
    </p>
  );
}
