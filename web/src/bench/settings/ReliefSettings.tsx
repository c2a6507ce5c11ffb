import { NumberEntry } from "../../ui/NumberEntry";
import { useBench } from "../BenchContext";
import type { Displacement } from "../../api/types";
import { HeightScaleButton } from "./HeightScaleButton";

const modes = [
  { id: "shading", words: "by shading only" },
  { id: "geometry", words: "by geometry only" },
  { id: "both", words: "by both: geometry the slow, shading the fine" },
];

/** How the look's relief is rendered, and displacement, off until asked. */
export function ReliefSettings() {
  const { look, edit } = useBench();
  const d = look.displacement!;
  const set = (part: Partial<Displacement>, mode?: typeof look.relief) =>
    void edit({ edit: "fields", of: "displacement", fields: mode ? { ...part, mode } : { ...part } });
  const mapped = look.lanes?.displacement?.chain !== undefined && look.lanes.displacement.chain !== null;
  return (
    <section aria-label="relief of the look" className="mt-4">
      <h2 className="mb-1 font-medium">Relief</h2>
      <label className="block">
        <span className="inline-block w-[84px] text-soft">rendered</span>
        <select
          className="entry"
          aria-label="relief mode"
          value={look.relief}
          onChange={(e) => set({}, e.target.value as typeof look.relief)}
        >
          {modes.map((m) => (
            <option key={m.id} value={m.id}>
              {m.words}
            </option>
          ))}
        </select>
      </label>
      <label className="my-1 block">
        <input
          type="checkbox"
          className="accent-glaze"
          checked={d.on}
          onChange={(e) => set({ on: e.target.checked })}
        />{" "}
        displace the surface {!mapped && <span className="text-soft">(connect a height to displacement)</span>}
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
            <input
              type="checkbox"
              className="accent-glaze"
              checked={d.level !== null && d.level !== undefined}
              onChange={(e) => set({ level: e.target.checked ? 11 : null })}
            />{" "}
            a level of its own <span className="text-soft">(else it follows the map’s size)</span>
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
