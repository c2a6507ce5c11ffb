import { NumberEntry } from "../../ui/NumberEntry";
import { useBench } from "../state/benchState";
import type { Displacement } from "../../api/types";
import { HeightScaleButton } from "./HeightScaleButton";
import { Select } from "../../ui/Select";
import { Checkbox } from "../../ui/Checkbox";

const modes = [
  { id: "shading", words: "by shading only" },
  { id: "geometry", words: "by geometry only" },
  { id: "both", words: "by both: geometry for the large, shading for the fine" },
];

/** How the look's relief is rendered, and displacement, off until asked. */
export function ReliefSettings() {
  const { look, edit } = useBench("look", "edit");
  const d = look.displacement!;
  const set = (part: Partial<Displacement>, mode?: typeof look.relief) =>
    void edit({ edit: "fields", of: "displacement", fields: mode ? { ...part, mode } : { ...part } });
  const mapped = look.lanes?.displacement?.chain !== undefined && look.lanes.displacement.chain !== null;
  return (
    <section aria-label="normal and height of the look" className="mt-4">
      <h2 className="mb-1 font-medium">Normal and height</h2>
      <label className="block">
        <span className="inline-block w-[84px] text-soft">rendered</span>
        <Select
          label="how normal and height are rendered"
          value={look.relief ?? ""}
          options={modes.map((m) => ({ value: m.id, words: m.words }))}
          onChange={(chosen) => set({}, chosen as typeof look.relief)}
        />
      </label>
      <label className="my-1 block">
        <Checkbox checked={d.on} onChange={(on) => set({ on: on })} /> displace the surface{" "}
        {!mapped && <span className="text-soft">(connect a height map to displacement first)</span>}
      </label>
      {d.on && (
        <div className="space-y-1">
          <NumberEntry
            label="height"
            unit="m"
            value={d.heightMetres}
            high={0.2}
            step={0.001}
            onChange={(v) => set({ heightMetres: v })}
          />
          <HeightScaleButton
            lane="displacement"
            onScale={(metres) => set({ heightMetres: metres, boundMetres: metres })}
          />
          <NumberEntry
            label="midpoint"
            value={d.midpoint}
            onChange={(v) => set({ midpoint: v, midpointReason: "set by a person" })}
          />
          {d.midpointReason && <p className="text-small text-soft">{d.midpointReason}</p>}
          <NumberEntry
            label="bounds"
            unit="m"
            value={d.boundMetres}
            high={0.2}
            step={0.001}
            onChange={(v) => set({ boundMetres: v })}
          />
          <NumberEntry
            label="edges"
            unit="m"
            value={d.edgeMetres}
            low={0.001}
            high={0.05}
            step={0.001}
            onChange={(v) => set({ edgeMetres: v })}
          />
          <NumberEntry
            label="subdivided"
            unit="×"
            value={d.subdivision}
            high={10}
            step={1}
            onChange={(v) => set({ subdivision: Math.round(v) })}
          />
          <label>
            <Checkbox
              checked={d.level !== null && d.level !== undefined}
              onChange={(on) => set({ level: on ? 11 : null })}
            />{" "}
            a subdivision level of its own <span className="text-soft">(else it follows the map’s size)</span>
          </label>
          {d.level !== null && d.level !== undefined && (
            <NumberEntry
              label="level"
              unit={`${2 ** d.level}²`}
              value={d.level}
              low={1}
              high={14}
              step={1}
              onChange={(v) => set({ level: Math.round(v) })}
            />
          )}
        </div>
      )}
    </section>
  );
}
