import { liveFields } from "../document/liveNumbers";
import { memo, useCallback, useEffect, useMemo } from "react";
import { draftedOf, useBench, useBenchStore, useBenchValue } from "../state/benchState";
import { useTriedLane } from "../state/useTriedLane";
import { stepKind } from "../../api/steps";
import type { Step } from "../../api/types";
import { ApplyToLooks } from "../keep/ApplyToLooks";
import {
  addressWords,
  hasStep,
  inputOf,
  inputWords,
  isShareable,
  laneAt,
  selectedSteps,
  sidesOf,
} from "../document/address";
import { bypassing, removal } from "../document/runs";
import { loose, type LooseStep } from "../document/steps";
import { HeightScaleButton } from "./HeightScaleButton";
import { Histograms } from "./step/Histograms";
import { SaveSteps } from "./step/SaveSteps";
import { OriginSettings } from "./OriginSettings";
import { PlacementSettings } from "./PlacementSettings";
import { ReliefSettings } from "./ReliefSettings";
import { StepFields } from "./step/StepFields";
import { StepPreview } from "./step/StepPreview";
import { ValueSettings } from "./ValueSettings";

/** Settings of what is selected: placement and relief of the look, a value, where a lane begins, or a step. */
export function Settings() {
  const { look, studio, selection } = useBench("look", "studio", "selection");
  if (!selection)
    return (
      <>
        <PlacementSettings />
        <ReliefSettings />
      </>
    );
  const lane = laneAt(look, selection.lane);
  const input = studio.inputs.find((i) => i.name === inputOf(selection.lane));
  const chain = lane?.chain;
  const raw = chain?.steps[selection.step];
  const steps = selectedSteps(look, selection);
  if (steps.length > 1) return <RunSettings lane={selection.lane} steps={steps} />;
  if (!chain || !raw)
    return (
      <>
        <h2 className="font-medium">{input ? inputWords(input.name) : addressWords(selection.lane)}</h2>
        {input && <p className="mb-2 text-soft">{input.words}.</p>}
        {chain ? (
          <OriginSettings address={selection.lane} chain={chain} />
        ) : (
          <ValueSettings address={selection.lane} input={input} value={lane?.value ?? null} />
        )}
      </>
    );
  return (
    <StepSettings key={`${selection.lane}/${raw.id}`} lane={selection.lane} at={selection.step} step={loose(raw)} />
  );
}

/** Several steps at once. */
function RunSettings({ lane, steps }: { lane: string; steps: LooseStep[] }) {
  const { edit, select } = useBench("edit", "select");
  return (
    <>
      <h2 className="mb-1 font-medium">
        {steps.length} steps <span className="font-normal text-soft">in {addressWords(lane)}</span>
      </h2>
      <p className="text-soft">{steps.map((s) => stepKind(s.kind).label).join(", ")}</p>
      <p className="mt-3 flex flex-wrap gap-2">
        <button className="act" onClick={() => void edit(bypassing(lane, steps))}>
          {steps.every((s) => s.bypassed) ? "Use again" : "Bypass"}
        </button>
        <button
          className="act"
          onClick={() => {
            select({ lane, step: -1 });
            void edit(removal(lane, steps));
          }}
        >
          Remove
        </button>
        <SaveSteps steps={steps as unknown as Step[]} />
      </p>
      <p className="mt-2 text-small text-soft">Ctrl+C copies them; Ctrl+V inserts them after the selected tile.</p>
    </>
  );
}

function StepSettings({ lane, at, step }: { lane: string; at: number; step: LooseStep }) {
  return (
    <>
      <h2 className="mb-1 font-medium">
        {stepKind(step.kind).label} <span className="font-normal text-soft">in {addressWords(lane)}</span>
      </h2>
      <FieldsWithPreview lane={lane} at={at} step={step} />
      <StepActions lane={lane} at={at} step={step} />
    </>
  );
}

/** The fields and what they make of the picture: only this is drawn again while a slider moves. */
function FieldsWithPreview({ lane, at, step }: { lane: string; at: number; step: LooseStep }) {
  const { id, studio, revision, edit, select, setLive, setDrafted } = useBench(
    "id",
    "studio",
    "revision",
    "edit",
    "select",
    "setLive",
    "setDrafted",
  );
  const part = useBenchValue(draftedOf(lane, step.id));
  const draft = useMemo(() => part && { ...step, ...part }, [step, part]);
  const input = studio.inputs.find((i) => i.name === inputOf(lane));
  const isKnown = useBenchValue((s) => hasStep(s.known, lane, at, step.id));
  const change = useCallback(
    (part: Record<string, unknown>) => {
      setDrafted(null);
      setLive(liveFields(lane, step.id, part));
      void edit({ edit: "fields", of: "step", lane, step: step.id, fields: part }).finally(() => setLive(null));
    },
    [edit, setLive, setDrafted, lane, step.id],
  );
  const tryOut = useCallback(
    (part: Record<string, unknown>) => {
      setDrafted({ lane, step: step.id, fields: part });
      setLive(liveFields(lane, step.id, part));
    },
    [step.id, lane, setLive, setDrafted],
  );
  // What is left while something moves is not kept.
  useEffect(() => () => setDrafted(null), [setDrafted, lane, step.id]);
  useTriedLane(
    lane,
    at,
    useMemo(
      () => (isKnown && part ? { edit: "fields", of: "step", lane, step: step.id, fields: part } : null),
      [isKnown, part, lane, step.id],
    ),
  );
  return (
    <>
      <StepFields step={step} studio={studio} input={input} lane={lane} at={at} onDraft={tryOut} onChange={change} />
      {step.kind === "heightToNormal" && (
        <HeightScaleButton lane={lane} onScale={(heightMetres) => change({ heightMetres })} />
      )}
      <p className="mt-1 flex flex-wrap gap-1">
        {sidesOf(step).map((side) => (
          <button
            key={side.name}
            className="act text-small"
            data-testid={`side-${side.name}`}
            onClick={() => select({ lane: `${lane}/${step.id}/${side.name}`, step: -1 })}
          >
            {side.label}…
          </button>
        ))}
      </p>
      {isKnown && (
        <div className="mt-2 space-y-2">
          <StepPreview
            key={`${lane}/${step.id}`}
            id={id}
            lane={lane}
            step={step}
            at={at}
            draft={draft}
            revision={revision}
          />
          <Histograms key={`${lane}/${step.id}/numbers`} id={id} lane={lane} step={at} revision={revision} />
        </div>
      )}
    </>
  );
}

/** What can be done with the step as a whole. */
const StepActions = memo(function StepActions({ lane, at, step }: { lane: string; at: number; step: LooseStep }) {
  const { solo, setSolo, edit, select } = useBench("solo", "setSolo", "edit", "select");
  const store = useBenchStore();
  const isSolo = solo?.lane === lane && solo.step === at;
  return (
    <p className="mt-3 flex flex-wrap gap-2">
      <button className="act" aria-pressed={isSolo} onClick={() => setSolo(isSolo ? null : { lane, step: at })}>
        Solo
      </button>
      <button
        className="act"
        data-testid="bypass"
        aria-pressed={step.bypassed ?? false}
        onClick={() =>
          void edit({ edit: "fields", of: "step", lane, step: step.id, fields: { bypassed: !step.bypassed } })
        }
      >
        Bypass
      </button>
      <button
        className="act"
        data-testid="step-remove"
        onClick={() => {
          select({ lane, step: at - 1 });
          void edit({ edit: "stepRemove", lane, stepId: step.id });
        }}
      >
        Remove
      </button>
      <SaveSteps steps={laneAt(store.getState().look, lane)?.chain?.steps ?? []} />
      {isShareable(lane) && <ApplyToLooks lane={lane} step={step.id} />}
    </p>
  );
});
