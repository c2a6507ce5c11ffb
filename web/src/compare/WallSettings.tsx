import type { Studio, Wall } from "../api/types";
import { Choice, Lighting } from "../ui/SettingRows";
import { named } from "../ui/names";

interface Props {
  wall: Wall;
  studio: Studio;
  onChange: (part: Partial<Wall>) => void;
}

const distances = [
  { value: "1", words: "the whole shape" },
  { value: "2", words: "closer, 2 ×" },
  { value: "4", words: "close-up, 4 ×" },
];

/** What is the same for all proofs of the wall. */
export function WallSettings({ wall, studio, onChange }: Props) {
  return (
    <div className="grid grid-cols-[auto_minmax(0,1fr)] items-center gap-x-2 gap-y-1 border-t border-rule p-2">
      <h2 className="col-span-2 font-medium">The same for all</h2>
      <Lighting views={studio.views} value={wall} exposureStep={0.5} rotationStep={15} onChange={onChange} />
      <Choice
        word="framing"
        value={String(wall.zoom)}
        options={distances}
        onChange={(zoom) => onChange({ zoom: Number(zoom) })}
      />
      <Choice
        word="samples"
        testid="wall-samples"
        value={String(wall.samples)}
        options={named(["16", "32", "64", "256"])}
        onChange={(samples) => onChange({ samples: Number(samples) })}
      />
      <p className="col-span-2 text-small text-soft">
        All are rendered with the same random numbers, so that noise does not count as a difference.
      </p>
    </div>
  );
}
