import type { Studio } from "../../../api/types";
import { named } from "../../../ui/names";
import { cameraNames, cameraOf, seenFrom, type ProofSettings } from "../proofSettings";
import { Check, Choice, Lighting } from "../../../ui/SettingRows";
import { setViewportSetting, useViewportSetting } from "../../../viewport/setting";
import { surrounds, useSurround } from "./useSurround";

const whole = "";
const inTurn = "";
const noises = [
  { value: "0.04", words: "noise 4 %" },
  { value: "0.02", words: "noise 2 %" },
  { value: "0.01", words: "noise 1 %" },
  { value: "0.005", words: "noise 0.5 %" },
];

/** Drawn by this computer while something moves, until the proof is there. */
const viewports = [
  { value: "auto", words: "where it is quick" },
  { value: "on", words: "always" },
  { value: "off", words: "never" },
];

interface Props {
  studio: Studio;
  /** The UDIM tiles that the look's maps have, in order. */
  tiles: number[];
  settings: ProofSettings;
  onChange: (part: Partial<ProofSettings>) => void;
  onMoving: () => void;
}

/** View and exposure of the proof, what is marked in it, and what it stands in. */
export function ProofControls({ studio, tiles, settings, onChange, onMoving }: Props) {
  const [surround, setSurround] = useSurround();
  const viewport = useViewportSetting();
  return (
    <div className="grid grid-cols-[auto_minmax(0,1fr)_auto_minmax(0,1fr)] items-center gap-x-2 gap-y-1 px-2">
      <Lighting
        views={studio.views}
        value={settings}
        exposureStep={0.25}
        rotationStep={1}
        onChange={(part) => {
          if (part.lightRotation !== undefined) onMoving();
          onChange(part);
        }}
      />
      <Choice
        word="picture surround"
        testid="surround"
        value={surround}
        options={named(surrounds)}
        onChange={(s) => setSurround(s as typeof surround)}
      />
      <Choice
        word="show"
        value={settings.layer ?? whole}
        options={[{ value: whole, words: "all light" }, ...named(studio.layers)]}
        onChange={(layer) => onChange({ layer: layer === whole ? null : layer })}
      />
      <Choice
        word="refine to"
        value={String(settings.untilNoise)}
        options={noises}
        onChange={(n) => onChange({ untilNoise: Number(n) })}
      />
      {tiles.length > 1 && (
        <Choice
          word="tile"
          value={settings.tile === null ? inTurn : String(settings.tile)}
          options={[
            { value: inTurn, words: "all in turn" },
            ...tiles.map((t) => ({ value: String(t), words: String(t) })),
          ]}
          onChange={(t) => onChange({ tile: t === inTurn ? null : Number(t) })}
        />
      )}
      <Choice
        word="framing"
        testid="framing"
        value={cameraOf(settings)}
        options={named(cameraNames)}
        onChange={(camera) => onChange(seenFrom(camera))}
      />
      <Choice
        word="viewport"
        testid="viewport-setting"
        value={viewport}
        options={viewports}
        onChange={(v) => setViewportSetting(v as typeof viewport)}
      />
      <Check
        word="blur the background"
        on={settings.blurredBackground}
        className="col-span-2"
        onChange={(blurredBackground) => onChange({ blurredBackground })}
      />
      <Check
        word="filter noise (preview only)"
        on={settings.denoise}
        className="col-span-2"
        onChange={(denoise) => onChange({ denoise })}
      />
      <Check
        word="mark clipped colours"
        testid="clipping"
        on={settings.clipping}
        className="col-span-2"
        onChange={(clipping) => onChange({ clipping })}
      />
    </div>
  );
}
