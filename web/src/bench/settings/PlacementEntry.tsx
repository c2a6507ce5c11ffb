import type { Placement } from "../../api/types";
import { NumberEntry } from "../../ui/NumberEntry";

/** A placement: repeats, turn, offset, mirroring. */
export function PlacementEntry({ placement, onChange }: { placement: Placement; onChange: (p: Placement) => void }) {
  const p = placement as Required<Placement>;
  return (
    <div className="space-y-1">
      <NumberEntry
        label="repeats u"
        value={p.repeatsU}
        low={0.25}
        high={8}
        step={0.25}
        onChange={(v) => onChange({ ...p, repeatsU: v })}
      />
      <NumberEntry
        label="repeats v"
        value={p.repeatsV}
        low={0.25}
        high={8}
        step={0.25}
        onChange={(v) => onChange({ ...p, repeatsV: v })}
      />
      <NumberEntry
        label="turn"
        unit="°"
        value={p.rotationDegrees}
        low={-180}
        high={180}
        step={1}
        onChange={(v) => onChange({ ...p, rotationDegrees: v })}
      />
      <NumberEntry
        label="offset u"
        value={p.offsetU}
        low={-1}
        high={1}
        onChange={(v) => onChange({ ...p, offsetU: v })}
      />
      <NumberEntry
        label="offset v"
        value={p.offsetV}
        low={-1}
        high={1}
        onChange={(v) => onChange({ ...p, offsetV: v })}
      />
      <p className="flex gap-4">
        <label>
          <input
            type="checkbox"
            className="accent-glaze"
            checked={p.mirrorU ?? false}
            onChange={(e) => onChange({ ...p, mirrorU: e.target.checked })}
          />{" "}
          mirror u
        </label>
        <label>
          <input
            type="checkbox"
            className="accent-glaze"
            checked={p.mirrorV ?? false}
            onChange={(e) => onChange({ ...p, mirrorV: e.target.checked })}
          />{" "}
          mirror v
        </label>
      </p>
    </div>
  );
}
