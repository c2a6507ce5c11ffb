import type { House, Lane, Look, LookEdit, NeutralInput } from "../api/types";
import { NumberEntry } from "../ui/NumberEntry";
import { inputWords, type Selection } from "./LaneRow";
import { MapSettings } from "./MapSettings";
import { PlacementEntry } from "./PlacementEntry";
import { loose, stepKinds, type LooseStep } from "./steps";
import { ValueSettings } from "./ValueSettings";

interface Props {
  look: Look;
  house: House;
  selection: Selection | null;
  solo: Selection | null;
  onEdit: (edit: LookEdit) => void;
  onSolo: (selection: Selection | null) => void;
}

/** Settings of what is selected: the shared placement, a value, a map, or a step. */
export function Settings({ look, house, selection, solo, onEdit, onSolo }: Props) {
  if (!selection)
    return (
      <>
        <h2 className="mb-1 font-medium">Placement, shared by all maps</h2>
        <PlacementEntry
          placement={look.placement!}
          onChange={(placement) => onEdit({ edit: "placement", placement })}
        />
      </>
    );
  const input = house.inputs.find((i) => i.name === selection.lane)!;
  const lane = look.lanes?.[selection.lane];
  const chain = lane?.chain;
  const isSolo = solo?.lane === selection.lane && solo.step === selection.step;
  const soloButton = chain && (
    <button className="act" aria-pressed={isSolo} onClick={() => onSolo(isSolo ? null : selection)}>
      Solo
    </button>
  );
  if (selection.step < 0 || !chain || !chain.steps[selection.step])
    return (
      <>
        <h2 className="font-medium">{inputWords(input.name)}</h2>
        <p className="mb-2 text-soft">{input.words}.</p>
        {chain ? (
          <MapSettings look={look} house={house} laneName={selection.lane} lane={lane as Lane} onEdit={onEdit}>
            {soloButton}
          </MapSettings>
        ) : (
          <ValueSettings input={input} value={lane?.value ?? null} look={look} house={house} onEdit={onEdit} />
        )}
      </>
    );
  const step = loose(chain.steps[selection.step]);
  const change = (part: Record<string, unknown>) =>
    onEdit({ edit: "stepChange", lane: selection.lane, step: { ...step, ...part } });
  return (
    <>
      <h2 className="mb-1 font-medium">
        {stepKinds[step.kind].word} <span className="font-normal text-soft">in {inputWords(input.name)}</span>
      </h2>
      <StepFields step={step} input={input} onChange={change} />
      <p className="mt-3 flex gap-2">
        {soloButton}
        <button
          className="act"
          aria-pressed={step.bypassed ?? false}
          onClick={() => change({ bypassed: !step.bypassed })}
        >
          Leave out
        </button>
        <button className="act" onClick={() => onEdit({ edit: "stepRemove", lane: selection.lane, stepId: step.id })}>
          Remove
        </button>
      </p>
    </>
  );
}

function StepFields({
  step,
  input,
  onChange,
}: {
  step: LooseStep;
  input: NeutralInput;
  onChange: (part: Record<string, unknown>) => void;
}) {
  const n = (key: string) => step[key] as number;
  const number = (key: string, label: string, low: number, high: number, unit?: string) => (
    <NumberEntry
      key={key}
      label={label}
      value={n(key)}
      low={low}
      high={high}
      unit={unit}
      onChange={(v) => onChange({ [key]: v })}
    />
  );
  const feed = (key: string, label: string, high: number) => {
    const f = step[key] as { value: number };
    return (
      <NumberEntry
        label={label}
        value={f.value}
        high={high}
        onChange={(v) => onChange({ [key]: { ...f, value: v } })}
      />
    );
  };
  switch (step.kind) {
    case "invert":
      return <p className="text-soft">1 − x: glossiness becomes roughness, black becomes white.</p>;
    case "remap":
      return (
        <div className="space-y-1">
          {[
            number("inLow", "in low", 0, 1),
            number("inHigh", "in high", 0, 1),
            number("outLow", "out low", input.low, input.high),
            number("outHigh", "out high", input.low, input.high),
          ]}
          <label>
            <input
              type="checkbox"
              className="accent-glaze"
              checked={step.clamp as boolean}
              onChange={(e) => onChange({ clamp: e.target.checked })}
            />{" "}
            clamp to the out range
          </label>
        </div>
      );
    case "gain":
      return <div className="space-y-1">{[number("gain", "gain", 0, 2), number("offset", "offset", -1, 1)]}</div>;
    case "clamp":
      return <div className="space-y-1">{[number("low", "low", 0, 1), number("high", "high", 0, 1)]}</div>;
    case "decodeNormal":
      return feed("strength", "strength", 2);
    case "heightToNormal":
      return (
        <div className="space-y-1">
          {number("heightMetres", "height", 0, 0.1, "m")}
          {feed("strength", "strength", 2)}
        </div>
      );
    case "occlusion":
      return feed("amount", "amount", 1);
    case "pick":
      return (
        <select
          className="entry"
          aria-label="channel"
          value={step.channel as string}
          onChange={(e) => onChange({ channel: e.target.value })}
        >
          {["r", "g", "b", "luminance"].map((c) => (
            <option key={c}>{c}</option>
          ))}
        </select>
      );
    case "place":
      return <PlacementEntry placement={step.placement as never} onChange={(placement) => onChange({ placement })} />;
    case "mix": {
      const other = (step.other as { value?: { kind: string; number: number } }).value;
      return (
        <div className="space-y-1">
          <select
            className="entry"
            aria-label="mode"
            value={step.mode as string}
            onChange={(e) => onChange({ mode: e.target.value })}
          >
            {["normal", "multiply", "screen", "add", "subtract", "overlay", "minimum", "maximum"].map((m) => (
              <option key={m}>{m}</option>
            ))}
          </select>
          {other?.kind === "scalar" && (
            <NumberEntry
              label="with"
              value={other.number}
              onChange={(v) => onChange({ other: { value: { kind: "scalar", number: v } } })}
            />
          )}
          {feed("amount", "amount", 1)}
        </div>
      );
    }
  }
}
