import { useStudio } from "../api/queries";
import type { ModelPart, PartSettingsChange } from "../api/types";
import { ColourEntry, type Tint } from "../bench/settings/ColourEntry";
import { Fold } from "../ui/Fold";
import { NumberField } from "../ui/NumberField";
import { Select } from "../ui/Select";
import { asItIs, changing, common, ownWords, placementOf, placing, projections, quarter } from "./settings";

interface Props {
  /** The parts that are selected; at least one. */
  parts: ModelPart[];
  busy: boolean;
  onSet: (changes: PartSettingsChange[]) => void;
}

const untinted: Tint = { kind: "colour", r: 1, g: 1, b: 1, space: "acescg" };

/** What the selected parts have of their own: how maps lie on them, and a tint. The look that they share with others stays as it is. */
export function PartSettingsPanel({ parts, busy, onSet }: Props) {
  const studio = useStudio().data;
  const put = (changes: PartSettingsChange[]) => !busy && onSet(changes);
  const isOwn = parts.some((p) => ownWords(p) !== "");
  const number = (name: "offsetU" | "offsetV" | "rotationDegrees" | "repeatsU" | "repeatsV", label: string) => (
    <NumberField
      label={label}
      silent={name === "rotationDegrees"}
      unit={name === "rotationDegrees" ? "°" : undefined}
      className="w-12"
      testid={`own-${name}`}
      // Where the parts differ, the first one's; typing gives all of them the same.
      value={placementOf(parts[0])[name]}
      onChange={(value) =>
        put(placing(parts, () => ({ [name]: name.startsWith("repeats") && !(value > 0) ? 1 : value })))
      }
    />
  );
  const flip = (name: "mirrorU" | "mirrorV", label: string) => (
    <button
      className="act text-small"
      aria-pressed={common(parts, (p) => placementOf(p)[name]) === true}
      data-testid={`own-${name}`}
      onClick={() => put(placing(parts, (now) => ({ [name]: !now[name] })))}
    >
      {label}
    </button>
  );
  const tint = parts[0].own.tint;
  return (
    <section aria-label="settings of the selected parts" className="space-y-1.5 border-t border-rule px-2 py-2">
      <div className="flex items-baseline gap-2">
        <b className="font-medium">{parts.length === 1 ? "On this part" : `On these ${parts.length} parts`}</b>
        <span className="text-small text-soft">the look stays as it is</span>
        <span className="grow" />
        <button
          className="act text-small"
          disabled={!isOwn}
          onClick={() => put(changing(parts, () => ({ own: { placement: asItIs, values: {} }, projection: null })))}
        >
          Nothing of its own
        </button>
      </div>
      <div className="flex flex-wrap items-center gap-2">
        <label className="flex items-center gap-1">
          <span className="text-soft">UVs</span>
          <Select
            label="UVs"
            testid="own-projection"
            value={common(parts, (p) => p.projection ?? "") ?? "several"}
            placeholder="several"
            options={projections}
            onChange={(kind) => put(changing(parts, (now) => ({ ...now, projection: kind || null })))}
          />
        </label>
        {flip("mirrorU", "Flip U")}
        {flip("mirrorV", "Flip V")}
        <button
          className="act text-small"
          onClick={() => put(placing(parts, (now) => ({ rotationDegrees: quarter(now.rotationDegrees) })))}
        >
          Turn 90°
        </button>
        {number("rotationDegrees", "turn")}
      </div>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        {number("offsetU", "shift U")}
        {number("offsetV", "V")}
        {number("repeatsU", "repeats U")}
        {number("repeatsV", "V")}
      </div>
      {studio && (
        <Fold head={tint ? "Tint: the base colour is multiplied" : "Tint"} testid="own-tint">
          <ColourEntry
            tint={tint ? { kind: "colour", ...tint } : untinted}
            studio={studio}
            onSet={({ r, g, b, space }) =>
              put(changing(parts, (now) => ({ ...now, own: { ...now.own, tint: { r, g, b, space } } })))
            }
          />
        </Fold>
      )}
    </section>
  );
}
