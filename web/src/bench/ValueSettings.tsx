import type { House, Lane, Look, LookEdit, NeutralInput } from "../api/types";
import { NumberEntry } from "../ui/NumberEntry";
import { ColourEntry, type Tint } from "./ColourEntry";

interface Props {
  input: NeutralInput;
  value: Lane["value"];
  look: Look;
  house: House;
  onEdit: (edit: LookEdit) => void;
}

/** A lane without a map: its value, and the slots that could feed it. */
export function ValueSettings({ input, value, look, house, onEdit }: Props) {
  const set = (v: object) => onEdit({ edit: "value", lane: input.name, value: v });
  const colour: Tint =
    value?.kind === "colour"
      ? { ...value, kind: "colour" }
      : {
          kind: "colour",
          r: input.default?.[0] ?? 0,
          g: input.default?.[1] ?? 0,
          b: input.default?.[2] ?? 0,
          space: "acescg",
        };
  return (
    <div className="space-y-1">
      {input.type === "scalar" && (
        <NumberEntry
          label="value"
          unit={input.unit ?? undefined}
          low={input.low}
          high={input.high}
          value={value?.kind === "scalar" ? value.number : (input.default?.[0] ?? 0)}
          onChange={(number) => set({ kind: "scalar", number })}
        />
      )}
      {input.type === "colour" && <ColourEntry tint={colour} house={house} onSet={set} />}
      <label className="flex items-center gap-2 pt-2">
        connect
        <select
          className="entry"
          value=""
          onChange={(e) => {
            const slot = look.slots?.[e.target.value];
            if (!slot) return;
            const kind = input.type === "colour" ? "colour" : input.type === "direction" ? "direction" : "scalar";
            const reading = {
              kind,
              space:
                kind === "colour" && !slot.file.isFloat ? "srgb_texture" : kind === "colour" ? "lin_rec709" : "raw",
              channel: kind === "scalar" ? "luminance" : "rgb",
              normalY: null,
              midpoint: 0.5,
              authority: "person",
              reason: "connected by hand",
            };
            const steps = kind === "direction" ? [{ kind: "decodeNormal", id: "s1", strength: { value: 1 } }] : [];
            onEdit({
              edit: "lane",
              lane: input.name,
              content: { value, chain: { origin: { kind: "slot", slot: e.target.value, reading }, steps } },
            });
          }}
        >
          <option value="">a map of this look…</option>
          {Object.keys(look.slots ?? {}).map((s) => (
            <option key={s}>{s}</option>
          ))}
        </select>
      </label>
    </div>
  );
}
