import { useState } from "react";
import { useBench } from "../BenchContext";
import { stepKind } from "../../api/steps";
import type { Step } from "../../api/types";
import { ApplyToLooks } from "../ApplyToLooks";
import { addressWords, inputOf, inputWords, isShareable, laneAt, selectedSteps, sidesOf } from "../lanes/address";
import { bypassing, removal } from "../lanes/runs";
import { loose, type LooseStep } from "../lanes/steps";
import { HeightScaleButton } from "./HeightScaleButton";
import { Histograms } from "./Histograms";
import { KeepChain } from "./KeepChain";
import { OriginSettings } from "./OriginSettings";
import { PlacementSettings } from "./PlacementSettings";
import { ReliefSettings } from "./ReliefSettings";
import { StepFields } from "./StepFields";
import { StepPreview } from "./StepPreview";
import { ValueSettings } from "./ValueSettings";

/** Settings of what is selected: placement and relief of the look, a value, where a lane begins, or a step. */
export function Settings() {
  const { look, studio, selection } = useBench();
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
  const { edit, select } = useBench();
  return (
    <>
      <h2 className="mb-1 font-medium">
        {steps.length} steps <span className="font-normal text-soft">in {addressWords(lane)}</span>
      </h2>
      <p className="text-soft">{steps.map((s) => stepKind(s.kind).label).join(", ")}</p>
      <p className="mt-3 flex flex-wrap gap-2">
        <button className="act" onClick={() => void edit(bypassing(lane, steps))}>
          {steps.every((s) => s.bypassed) ? "Back in" : "Leave out"}
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
        <KeepChain steps={steps as unknown as Step[]} />
      </p>
      <p className="mt-2 text-small text-soft">Ctrl+C copies them; Ctrl+V puts them after the selected tile.</p>
    </>
  );
}

function StepSettings({ lane, at, step }: { lane: string; at: number; step: LooseStep }) {
  const { id, look, studio, revision, solo, setSolo, edit, select } = useBench();
  const [draft, setDraft] = useState<LooseStep | null>(null);
  const input = studio.inputs.find((i) => i.name === inputOf(lane));
  const isSolo = solo?.lane === lane && solo.step === at;
  const change = (part: Record<string, unknown>) => {
    setDraft(null);
    void edit({ edit: "fields", of: "step", lane, step: step.id, fields: part });
  };
  return (
    <>
      <h2 className="mb-1 font-medium">
        {stepKind(step.kind).label} <span className="font-normal text-soft">in {addressWords(lane)}</span>
      </h2>
      <StepFields
        step={step}
        studio={studio}
        input={input}
        lane={lane}
        at={at}
        onDraft={(part) => setDraft({ ...step, ...part })}
        onChange={change}
      />
      {step.kind === "heightToNormal" && (
        <HeightScaleButton lane={lane} onScale={(heightMetres) => change({ heightMetres })} />
      )}
      <p className="mt-1 flex flex-wrap gap-1">
        {sidesOf(step).map((side) => (
          <button
            key={side.name}
            className="act text-small"
            onClick={() => select({ lane: `${lane}/${step.id}/${side.name}`, step: -1 })}
          >
            {side.label}…
          </button>
        ))}
      </p>
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
      <p className="mt-3 flex flex-wrap gap-2">
        <button className="act" aria-pressed={isSolo} onClick={() => setSolo(isSolo ? null : { lane, step: at })}>
          Solo
        </button>
        <button
          className="act"
          aria-pressed={step.bypassed ?? false}
          onClick={() => change({ bypassed: !step.bypassed })}
        >
          Leave out
        </button>
        <button
          className="act"
          onClick={() => {
            select({ lane, step: at - 1 });
            void edit({ edit: "stepRemove", lane, stepId: step.id });
          }}
        >
          Remove
        </button>
        <KeepChain steps={laneAt(look, lane)?.chain?.steps ?? []} />
        {isShareable(lane) && <ApplyToLooks lane={lane} step={step.id} />}
      </p>
    </>
  );
}
