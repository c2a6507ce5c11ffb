import type { Studio, Wall } from "../api/types";
import { Choice, Slide } from "../ui/SettingRows";

interface Props {
  wall: Wall;
  studio: Studio;
  onChange: (part: Partial<Wall>) => void;
}

const distances: [string, string][] = [
  ["the whole form", "1"],
  ["nearer", "2"],
  ["near", "4"],
];

/** What is the same for all proofs of the wall. */
export function WallSettings({ wall, studio, onChange }: Props) {
  return (
    <div className="grid grid-cols-[auto_minmax(0,1fr)] items-center gap-x-2 gap-y-1 border-t border-rule p-2">
      <h2 className="col-span-2 font-medium">The same for all</h2>
      <Choice word="view" value={wall.view} options={studio.views} onChange={(view) => onChange({ view })} />
      <Slide
        word="exposure"
        value={wall.exposure}
        low={-4}
        high={4}
        step={0.5}
        shown={wall.exposure.toFixed(1)}
        onChange={(exposure) => onChange({ exposure })}
      />
      <Slide
        word="turn light"
        value={wall.lightRotation}
        low={-180}
        high={180}
        step={15}
        shown={`${wall.lightRotation}°`}
        onChange={(lightRotation) => onChange({ lightRotation })}
      />
      <Choice
        word="seen from"
        value={String(wall.zoom)}
        options={distances}
        onChange={(zoom) => onChange({ zoom: Number(zoom) })}
      />
      <Choice
        word="samples"
        value={String(wall.samples)}
        options={["16", "32", "64", "256"]}
        onChange={(samples) => onChange({ samples: Number(samples) })}
      />
      <p className="col-span-2 text-small text-soft">
        All are rendered with the same random numbers, so that noise does not count as a difference.
      </p>
    </div>
  );
}
