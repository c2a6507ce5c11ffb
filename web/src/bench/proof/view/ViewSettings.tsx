import { useBench } from "../../state/benchState";
import { BesideLine } from "./BesideLine";
import { ProofControls } from "./ProofControls";
import type { ProofSettings } from "../proofSettings";
import { ProofStrips } from "./ProofStrips";
import { tilesOf } from "./tilesOf";
import type { useBeside } from "./useBeside";
import { WritePictures } from "./WritePictures";

interface Props {
  /** The revision that small pictures show; null while it is too early for them. */
  rested: number | null;
  settings: ProofSettings;
  onChange: (part: Partial<ProofSettings>) => void;
  onMoving: () => void;
  beside: ReturnType<typeof useBeside>;
  /** The proof as it is now, and what it is, for a snapshot. */
  picture: () => string | null;
  words: string;
}

/** How the proof is looked at: shape, light, view, framing, and what is compared with it. */
export function ViewSettings({ rested, settings, onChange, onMoving, beside, picture, words }: Props) {
  const { id, look, studio, dialect } = useBench("id", "look", "studio", "dialect");
  return (
    <div className="space-y-1 py-1">
      <ProofStrips
        look={id}
        revision={rested}
        dialect={dialect}
        forms={studio.forms}
        lights={studio.lights}
        form={settings.form}
        light={settings.light}
        onForm={(form) => onChange({ form, yaw: null, pitch: null, zoom: 1, part: null })}
        onLight={(light) => onChange({ light })}
      />
      <ProofControls
        studio={studio}
        tiles={tilesOf(look)}
        settings={settings}
        onChange={onChange}
        onMoving={onMoving}
      />
      <BesideLine beside={beside} picture={picture} words={words} />
      <p className="px-2 pt-1">
        <WritePictures look={id} dialect={dialect} settings={settings} layers={studio.layers} />
      </p>
    </div>
  );
}
