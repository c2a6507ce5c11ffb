import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { post } from "../../api/client";
import { compared, useTrimStamp } from "../../api/queries";
import { nameOf } from "../../ui/names";
import { Panels } from "../../ui/Panels";
import { Tabs } from "../../ui/Tabs";
import { FindingsList } from "../FindingsList";
import { addressWords } from "../document/address";
import { Settings } from "../settings/Settings";
import { useBench, useBenchValue, type Side } from "../state/benchState";
import { ProofPicture } from "./ProofPicture";
import { mostSamples, usualProof, type ProofSettings } from "./proofSettings";
import { StopKey } from "./StopKey";
import { useBeside } from "./useBeside";
import { useProof, type ProofQuery } from "./useProof";
import { usePictureSize } from "./usePictureSize";
import { ViewSettings } from "./ViewSettings";
import { keys } from "../../api/keys";

interface Props {
  /** The look as one of its variants. */
  variant: string | null;
  /** The renderer whose proof is shown while blinking. */
  other: string | null;
  blinking: boolean;
}

/** How long after the last movement a proof is refined again, in milliseconds. */
const settles = 260;
/** Samples from which a proof can be judged. */
const judged = 16;
const coarse = { size: 184, samples: 2, moving: true, part: null };

/** The proof, which never leaves; under it what is set: of the selection, of the view, or the findings. */
export function ProofSide({ variant, other, blinking }: Props) {
  const { id, revision, studio, dialect, solo } = useBench("id", "revision", "studio", "dialect", "solo");
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
  const { size, well } = usePictureSize();
  const full = { size, moving: false, samples: mostSamples(settings) };
  const query: ProofQuery = {
    ...settings,
    dialect,
    variant,
    background: true,
    soloLane: solo?.lane ?? null,
    soloSteps: solo ? Math.max(0, solo.step + 1) : null,
    ...(moving ? coarse : full),
  };
  const under = useTrimStamp(id);
  const proof = useProof(id, revision, "bench", query, under);
  const blink = useProof(id, revision, "blink", blinking ? { ...query, dialect: other, ...full } : null, under);
  const beside = useBeside(id);
  // The strips begin when the proof can be judged, and follow an edit when it has all it wants.
  const [rested, setRested] = useState<number | null>(null);
  if (rested !== revision && !moving && (proof.last || (rested === null && proof.samples >= judged)))
    setRested(revision);
  const [wipe, setWipe] = useState(0.5);
  const { form, light, view } = settings;
  const difference = useQuery({
    queryKey: keys.compare(id, revision, dialect, other, form, light, view, under),
    queryFn: () =>
      post("/api/v1/looks/{id}/compare", {
        params: { path: { id } },
        body: { ...compared, first: dialect, second: other, form, light, view },
      }),
    enabled: blinking,
    staleTime: Infinity,
  });
  const swapped = blinking && blink.picture !== null;
  const shown = swapped ? blink : proof;
  const title = (d: string | null) => studio.dialects.find((x) => x.id === d)?.title ?? "Neutral";
  const picture = (
    <section aria-label="Proof" data-stays className="flex h-full min-h-0 flex-col" ref={well}>
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
        {solo && <p className="absolute bottom-2 left-2 bg-panel px-2">solo: {addressWords(solo.lane)}</p>}
      </ProofPicture>
      <p
        className="flex justify-between gap-x-3 overflow-hidden px-2 pb-0.5 font-mono text-small whitespace-nowrap text-soft"
        data-samples={shown.samples}
      >
        <span className="truncate">
          {title(blinking ? other : dialect)}
          {variant && `, ${variant}`}
        </span>
        <span>
          {shown.samples} samples · noise {(shown.noise * 100).toFixed(1)} %{shown.last ? ", done" : ""} ·{" "}
          {shown.seconds.toFixed(1)} s · maps {(shown.mapBytes / 1048576).toFixed(0)} MB
        </span>
      </p>
      {view === "stops" && <StopKey colours={studio.stopColours} />}
    </section>
  );
  return (
    <Panels
      id="proof"
      direction="vertical"
      label="picture and settings"
      share={window.innerHeight >= 1200 ? 29 : 40}
      least={[240, 120]}
      first={picture}
      second={
        <SideTabs
          view={
            <ViewSettings
              rested={rested}
              settings={settings}
              onChange={change}
              onMoving={touch}
              beside={beside}
              picture={shown.picture}
              words={`snapshot: ${title(dialect)}, ${nameOf(light)}`}
              wipe={wipe}
              onWipe={setWipe}
            />
          }
        />
      }
    />
  );
}

/** Under the picture; what is not shown is not made. The proof's refinements draw only what shows them. */
function SideTabs({ view }: { view: React.ReactNode }) {
  const { side, setSide } = useBench("side", "setSide");
  const open = useBenchValue((s) => s.board?.findings.filter((f) => !f.accepted).length ?? 0);
  return (
    <Tabs
      label="settings, view, findings"
      className="h-full"
      value={side}
      onChange={(v) => setSide(v as Side)}
      tabs={[
        { value: "settings", words: "Settings", content: settingsTab },
        { value: "view", words: "Shape, light, view", content: view },
        { value: "findings", words: open > 0 ? `Findings (${open})` : "Findings", content: findingsTab },
      ]}
    />
  );
}

const settingsTab = (
  <section aria-label="Settings" data-testid="settings" className="@container p-3">
    <div className="gap-6 @min-[760px]:columns-2 [&>*]:break-inside-avoid">
      <Settings />
    </div>
  </section>
);

const findingsTab = <FindingsList />;
