import { useState } from "react";
import type { Placement } from "../../api/types";
import { NumberEntry } from "../../ui/NumberEntry";
import { Checkbox } from "../../ui/Checkbox";

type Repeats = "repeatsU" | "repeatsV";

/** A placement: repeats, turn, offset, mirroring. Each change is of its own field, so that two quick ones do not lose each other. */
export function PlacementEntry({
  placement,
  onDraft,
  onChange,
}: {
  placement: Placement;
  /** While a slider moves: shown, not kept. */
  onDraft?: (part: Partial<Placement>) => void;
  onChange: (part: Partial<Placement>) => void;
}) {
  const p = placement as Required<Placement>;
  // Linked as long as they are equal and nobody has parted them.
  const [parted, setParted] = useState(p.repeatsU !== p.repeatsV);
  // What the other one shows while one moves; no more as soon as what it moved from is no longer there.
  const [pulled, setPulled] = useState<{ by: Repeats; from: number; to: number } | null>(null);
  const repeat = (own: Repeats, v: number) => (parted ? { [own]: v } : { repeatsU: v, repeatsV: v });
  const shown = (own: Repeats) =>
    !parted && pulled && pulled.by !== own && pulled.from === p[pulled.by] ? pulled.to : p[own];
  const move = (own: Repeats, v: number) => {
    setPulled({ by: own, from: p[own], to: v });
    onDraft?.(repeat(own, v));
  };
  return (
    <div className="space-y-1">
      <NumberEntry
        label="repeats u"
        value={shown("repeatsU")}
        low={0.25}
        high={8}
        step={0.25}
        testid="repeats-u"
        onDraft={(v) => move("repeatsU", v)}
        onChange={(v) => onChange(repeat("repeatsU", v))}
      />
      <NumberEntry
        label="repeats v"
        value={shown("repeatsV")}
        low={0.25}
        high={8}
        step={0.25}
        testid="repeats-v"
        onDraft={(v) => move("repeatsV", v)}
        onChange={(v) => onChange(repeat("repeatsV", v))}
      />
      <label className="ml-[92px] flex items-center gap-1.5 text-small">
        <Checkbox
          testid="repeats-linked"
          checked={!parted}
          onChange={(on) => {
            setParted(!on);
            if (on && p.repeatsU !== p.repeatsV) onChange({ repeatsV: p.repeatsU });
          }}
        />
        u and v the same
      </label>
      <NumberEntry
        label="rotation"
        unit="°"
        value={p.rotationDegrees}
        low={-180}
        high={180}
        step={1}
        onDraft={(v) => onDraft?.({ rotationDegrees: v })}
        onChange={(v) => onChange({ rotationDegrees: v })}
      />
      {(["offsetU", "offsetV"] as const).map((name) => (
        <NumberEntry
          key={name}
          label={name === "offsetU" ? "offset u" : "offset v"}
          value={p[name]}
          low={-1}
          high={1}
          onDraft={(v) => onDraft?.({ [name]: v })}
          onChange={(v) => onChange({ [name]: v })}
        />
      ))}
      <p className="flex gap-4">
        <label>
          <Checkbox checked={p.mirrorU ?? false} onChange={(on) => onChange({ mirrorU: on })} /> mirror u
        </label>
        <label>
          <Checkbox checked={p.mirrorV ?? false} onChange={(on) => onChange({ mirrorV: on })} /> mirror v
        </label>
        <label>
          <Checkbox
            checked={!!p.variation}
            onChange={(on) =>
              onChange({
                variation: on ? { cells: evenCells(p.repeatsU), turnDegrees: 0, seed: 1 } : null,
              })
            }
          />{" "}
          vary the tiles
        </label>
      </p>
      {p.variation && (
        <Variation
          variation={p.variation}
          turns={p.repeatsU === p.repeatsV}
          onChange={(variation) => onChange({ variation })}
        />
      )}
    </div>
  );
}

type TileVariation = NonNullable<Placement["variation"]>;

/** Two cells a repeat break it up well; they must be even in number. */
const evenCells = (repeats: number) => Math.min(256, Math.max(2, 2 * Math.round(repeats)));

/** How repeats are broken up, so that no pattern of tiles is seen. */
function Variation({
  variation: v,
  turns,
  onChange,
}: {
  variation: TileVariation;
  turns: boolean;
  onChange: (v: TileVariation) => void;
}) {
  return (
    <div className="space-y-1" data-testid="variation">
      <NumberEntry
        label="cells"
        value={v.cells ?? 8}
        low={2}
        high={64}
        step={2}
        onChange={(cells) => onChange({ ...v, cells: Math.max(2, 2 * Math.round(cells / 2)) })}
      />
      {turns ? (
        <NumberEntry
          label="turned up to"
          unit="°"
          value={v.turnDegrees ?? 0}
          low={0}
          high={180}
          step={1}
          onChange={(turnDegrees) => onChange({ ...v, turnDegrees })}
        />
      ) : (
        <p className="text-small text-soft">Tiles are not turned where the repeats differ along u and v.</p>
      )}
      <NumberEntry
        label="seed"
        value={v.seed ?? 1}
        low={1}
        high={100}
        step={1}
        onChange={(seed) => onChange({ ...v, seed: Math.round(seed) })}
      />
      <p className="text-small text-soft">
        For surfaces without a pattern of their own: plaster, rust, soil. It is baked into the maps of a package.
      </p>
    </div>
  );
}
