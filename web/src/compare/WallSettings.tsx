import type { Studio, Wall } from "../api/types";
import { Choice, Lighting } from "../ui/SettingRows";
import { named } from "../ui/names";
import type { WallPictures } from "./cells/useWallDrawer";

interface Props {
  wall: Wall;
  studio: Studio;
  pictures: WallPictures;
  /** Why the viewport does not draw, where it was asked to. */
  trouble: string | null;
  onPictures: (pictures: WallPictures) => void;
  onChange: (part: Partial<Wall>) => void;
}

const distances = [
  { value: "1", words: "the whole shape" },
  { value: "2", words: "closer, 2 ×" },
  { value: "4", words: "close-up, 4 ×" },
];

/** What is the same for all proofs of the wall. */
export function WallSettings({ wall, studio, pictures, trouble, onPictures, onChange }: Props) {
  return (
    <div className="grid grid-cols-[auto_minmax(0,1fr)] items-center gap-x-2 gap-y-1 border-t border-rule p-2">
      <h2 className="col-span-2 font-medium">The same for all</h2>
      <Choice
        word="pictures"
        testid="wall-pictures"
        value={pictures}
        options={[
          { value: "proof", words: "proofs, with their ΔE" },
          { value: "viewport", words: "viewport, at once" },
        ]}
        onChange={(p) => onPictures(p as WallPictures)}
      />
      {trouble && (
        <p role="status" className="col-span-2 text-small">
          {trouble}
        </p>
      )}
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
        {pictures === "viewport"
          ? "The viewport shows no light between surfaces. Numbers at the pointer are its own; the pair is compared by proofs."
          : "All are rendered with the same random numbers, so that noise does not count as a difference."}
      </p>
    </div>
  );
}
