import { NumberField } from "../../ui/NumberField";
import { Switch } from "../../ui/Switch";
import { useBench } from "../state/benchState";

/** At the end of displacement's lane: whether the surface is moved, how far, and which grey stays where it is. */
export function DisplacementEnd() {
  const { look, edit } = useBench("look", "edit");
  const d = look.displacement;
  const mapped = !!look.lanes?.displacement?.chain;
  if (!d || !mapped) return null;
  const set = (fields: object) => void edit({ edit: "fields", of: "displacement", fields });
  return (
    <div className="ml-2 flex flex-wrap items-center gap-x-3 gap-y-1 self-center text-small" data-testid="displacement">
      <label className="flex items-center gap-1.5">
        <Switch label="displace the surface" checked={d.on} testid="displacement-on" onChange={(on) => set({ on })} />
        {d.on ? "moves the surface" : "off: shading only"}
      </label>
      <NumberField label="height" unit="m" value={d.heightMetres} onChange={(heightMetres) => set({ heightMetres })} />
      <NumberField
        label="midpoint"
        value={d.midpoint}
        onChange={(midpoint) => set({ midpoint, midpointReason: "set by a person" })}
      />
    </div>
  );
}
