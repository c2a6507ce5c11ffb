import type { Studio, NeutralInput } from "../../api/types";
import { NumberEntry } from "../../ui/NumberEntry";
import { sideLane, sidesOf } from "../lanes/address";
import type { LooseStep } from "../lanes/steps";
import { CurveEditor, type CurvePoint } from "./CurveEditor";
import { PlacementEntry } from "./PlacementEntry";

interface Props {
  step: LooseStep;
  studio: Studio;
  input: NeutralInput | undefined;
  /** While a slider moves: shown, not kept. */
  onDraft: (part: Record<string, unknown>) => void;
  onChange: (part: Record<string, unknown>) => void;
}

interface NumberField {
  key: string;
  label: string;
  low: number;
  high: number;
  unit?: string;
  step?: number;
}

const modes = [
  "normal",
  "multiply",
  "screen",
  "add",
  "subtract",
  "overlay",
  "hardLight",
  "softLight",
  "difference",
  "exclusion",
  "minimum",
  "maximum",
];

/** Numbers of each step with their usual range; a typed value may go beyond. */
const numbers = (kind: string, input: NeutralInput | undefined): NumberField[] =>
  ({
    remap: [
      { key: "inLow", label: "in low", low: 0, high: 1 },
      { key: "inHigh", label: "in high", low: 0, high: 1 },
      { key: "outLow", label: "out low", low: input?.low ?? 0, high: input?.high ?? 1 },
      { key: "outHigh", label: "out high", low: input?.low ?? 0, high: input?.high ?? 1 },
    ],
    gain: [
      { key: "gain", label: "gain", low: 0, high: 2 },
      { key: "offset", label: "offset", low: -1, high: 1 },
    ],
    power: [{ key: "exponent", label: "exponent", low: 0.1, high: 4 }],
    clamp: [
      { key: "low", label: "low", low: 0, high: 1 },
      { key: "high", label: "high", low: 0, high: 1 },
    ],
    grade: [
      { key: "hueDegrees", label: "hue", low: -180, high: 180, unit: "°", step: 1 },
      { key: "saturation", label: "saturation", low: 0, high: 2 },
      { key: "value", label: "value", low: 0, high: 2 },
      { key: "contrast", label: "contrast", low: 0, high: 2 },
      { key: "pivot", label: "pivot", low: 0, high: 1 },
    ],
    blur: [{ key: "radius", label: "radius", low: 0, high: 0.05, step: 0.0005, unit: "uv" }],
    heightToNormal: [{ key: "heightMetres", label: "height", low: 0, high: 0.1, step: 0.001, unit: "m" }],
  })[kind] ?? [];

const sentences: Record<string, string> = {
  invert: "1 − x: glossiness becomes roughness, black becomes white.",
  pack: "What comes in becomes red; green and blue are side rows.",
  occlusion: "x · lerp(1, occlusion, amount). Path-traced dialects make their own shadows: a third is plenty.",
  combine: "Slopes are weighed, never encoded vectors. Detail lays the other on so that it keeps its shape.",
  blur: "A Gaussian; the radius is its standard deviation on the surface.",
};

export function StepFields({ step, studio, input, onDraft, onChange }: Props) {
  const choice = (key: string, label: string, options: { id: string; words: string }[]) => (
    <label className="block">
      <span className="inline-block w-[84px] text-soft">{label}</span>
      <select
        className="entry"
        aria-label={label}
        value={String(step[key])}
        onChange={(e) => onChange({ [key]: e.target.value })}
      >
        {options.map((o) => (
          <option key={o.id} value={o.id}>
            {o.words}
          </option>
        ))}
      </select>
    </label>
  );
  const plain = (all: string[]) => all.map((id) => ({ id, words: id.replace(/([A-Z])/g, " $1").toLowerCase() }));
  return (
    <div className="space-y-1">
      {sentences[step.kind] && <p className="text-soft">{sentences[step.kind]}</p>}
      {step.kind === "mix" && choice("mode", "mode", plain(modes))}
      {step.kind === "combine" && choice("mode", "mode", plain(["additive", "blended", "detail"]))}
      {step.kind === "pick" && choice("channel", "channel", plain(["r", "g", "b", "luminance"]))}
      {step.kind === "convert" &&
        choice(
          "from",
          "from",
          studio.spaces.map((s) => ({ id: s.id, words: s.words })),
        )}
      {step.kind === "convert" &&
        choice(
          "to",
          "to",
          studio.spaces.map((s) => ({ id: s.id, words: s.words })),
        )}
      {numbers(step.kind, input).map((n) => (
        <NumberEntry
          key={n.key}
          label={n.label}
          value={step[n.key] as number}
          low={n.low}
          high={n.high}
          step={n.step}
          unit={n.unit}
          onDraft={(v) => onDraft({ [n.key]: v })}
          onChange={(v) => onChange({ [n.key]: v })}
        />
      ))}
      {step.kind === "remap" && (
        <label>
          <input
            type="checkbox"
            className="accent-glaze"
            checked={step.clamp as boolean}
            onChange={(e) => onChange({ clamp: e.target.checked })}
          />{" "}
          clamp to the out range
        </label>
      )}
      {step.kind === "decodeNormal" && (
        <label className="block">
          <input
            type="checkbox"
            className="accent-glaze"
            checked={(step.onSurface as boolean | undefined) ?? false}
            onChange={(e) => onChange({ onSurface: e.target.checked })}
          />{" "}
          its directions do not turn with the map
        </label>
      )}
      {step.kind === "curve" && (
        <CurveEditor
          points={step.points as CurvePoint[]}
          onDraft={(points) => onDraft({ points })}
          onChange={(points) => onChange({ points })}
        />
      )}
      {step.kind === "place" && (
        <PlacementEntry
          placement={step.placement as never}
          onChange={(part) => onChange({ placement: { ...(step.placement as object), ...part } })}
        />
      )}
      {sidesOf(step)
        .filter((side) => side.isAmount)
        .map((side) => {
          const lane = sideLane(step, side);
          const raw = step[side.name] as object;
          const value = lane.value?.kind === "scalar" ? lane.value.number : 1;
          return (
            <NumberEntry
              key={side.name}
              label={side.words}
              value={value}
              high={step.kind === "mix" || step.kind === "occlusion" ? 1 : 2}
              onDraft={(v) => onDraft({ [side.name]: { ...raw, value: v } })}
              onChange={(v) => onChange({ [side.name]: { ...raw, value: v } })}
            />
          );
        })}
    </div>
  );
}
