import { memo } from "react";
import type { NeutralInput, StepDescription, Studio } from "../../../api/types";
import { NumberEntry } from "../../../ui/NumberEntry";
import { sideLane, sidesOf } from "../../document/address";
import { stepKind } from "../../../api/steps";
import type { LooseStep } from "../../document/steps";
import type { CurvePoint } from "../../document/curve";
import { CurveEditor } from "./CurveEditor";
import { PlacementEntry } from "../PlacementEntry";
import { QuantilesEntry, type Components } from "./QuantilesEntry";
import { Checkbox } from "../../../ui/Checkbox";
import { Select } from "../../../ui/Select";

interface Props {
  step: LooseStep;
  studio: Studio;
  input: NeutralInput | undefined;
  /** Where the step stands. */
  lane: string;
  at: number;
  /** While a slider moves: shown, not kept. */
  onDraft: (part: Record<string, unknown>) => void;
  onChange: (part: Record<string, unknown>) => void;
}

type Field = StepDescription["fields"][number];

/** The settings of a step, as the server's table of steps describes them. */
export const StepFields = memo(function StepFields(props: Props) {
  const { step, onDraft, onChange } = props;
  const kind = stepKind(step.kind);
  return (
    <div className="space-y-1">
      {kind.sentence && <p className="text-soft">{kind.sentence}</p>}
      {kind.fields.map((field) => (
        <FieldEntry key={field.name} field={field} {...props} />
      ))}
      {sidesOf(step)
        .filter((side) => side.isAmount)
        .map((side) => {
          const lane = sideLane(step, side);
          const raw = step[side.name] as object;
          return (
            <NumberEntry
              key={side.name}
              label={side.label}
              value={lane.value?.kind === "scalar" ? lane.value.number : 1}
              high={side.high}
              onDraft={(v) => onDraft({ [side.name]: { ...raw, value: v } })}
              onChange={(v) => onChange({ [side.name]: { ...raw, value: v } })}
            />
          );
        })}
    </div>
  );
});

function FieldEntry({ field, step, studio, input, lane, at, onDraft, onChange }: Props & { field: Field }) {
  const { name, label } = field;
  switch (field.kind) {
    case "number":
      return (
        <NumberEntry
          label={label}
          testid={`field-${name}`}
          value={step[name] as number}
          low={field.followsInput ? (input?.low ?? field.low) : field.low}
          high={field.followsInput ? (input?.high ?? field.high) : field.high}
          step={field.increment ?? undefined}
          unit={field.unit ?? undefined}
          onDraft={(v) => onDraft({ [name]: v })}
          onChange={(v) => onChange({ [name]: v })}
        />
      );
    case "switch":
      return (
        <label className="block">
          <Checkbox
            checked={(step[name] as boolean | undefined) ?? false}
            onChange={(on) => onChange({ [name]: on })}
          />{" "}
          {label}
        </label>
      );
    case "choice":
    case "colourSpace": {
      const options =
        field.kind === "choice" ? (field.options ?? []) : studio.spaces.map((s) => ({ id: s.id, label: s.words }));
      return (
        <label className="block">
          <span className="inline-block w-[84px] text-soft">{label}</span>
          <Select
            label={label}
            value={String(step[name])}
            options={options.map((o) => ({ value: o.id, words: o.label }))}
            onChange={(chosen) => onChange({ [name]: chosen })}
          />
        </label>
      );
    }
    case "curve":
      return (
        <CurveEditor
          points={step[name] as CurvePoint[]}
          onDraft={(points) => onDraft({ [name]: points })}
          onChange={(points) => onChange({ [name]: points })}
        />
      );
    case "placement":
      return (
        <PlacementEntry
          placement={step[name] as never}
          onDraft={(part) => onDraft({ [name]: { ...(step[name] as object), ...part } })}
          onChange={(part) => onChange({ [name]: { ...(step[name] as object), ...part } })}
        />
      );
    case "quantiles":
      return (
        <QuantilesEntry
          field={name}
          label={label}
          value={step[name] as Components}
          lane={lane}
          at={at}
          onChange={onChange}
        />
      );
  }
}
