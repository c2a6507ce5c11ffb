import type { House } from "../api/types";
import type { ProofSettings } from "./proofSettings";
import { surrounds, useSurround } from "./useSurround";

interface Props {
  house: House;
  settings: ProofSettings;
  onChange: (part: Partial<ProofSettings>) => void;
  onMoving: () => void;
}

/** Form, light, view and exposure of the proof, what is marked in it, and what it stands in. */
export function ProofControls({ house, settings, onChange, onMoving }: Props) {
  const [surround, setSurround] = useSurround();
  return (
    <div className="grid grid-cols-[auto_minmax(0,1fr)_auto_minmax(0,1fr)] items-center gap-x-2 gap-y-1 px-2">
      <Choice
        word="form"
        value={settings.form}
        options={house.forms}
        onChange={(form) => onChange({ form, yaw: null, pitch: null, zoom: 1 })}
      />
      <Choice word="light" value={settings.light} options={house.lights} onChange={(light) => onChange({ light })} />
      <Choice word="view" value={settings.view} options={house.views} onChange={(view) => onChange({ view })} />
      <span className="text-soft">turn light</span>
      <input
        type="range"
        className="w-full min-w-0 accent-glaze"
        aria-label="turn light"
        min={-180}
        max={180}
        value={settings.lightRotation}
        onChange={(e) => {
          onMoving();
          onChange({ lightRotation: Number(e.target.value) });
        }}
      />
      <span className="text-soft">exposure</span>
      <span className="flex items-center gap-2">
        <input
          type="range"
          className="min-w-0 grow accent-glaze"
          aria-label="exposure"
          min={-4}
          max={4}
          step={0.25}
          value={settings.exposure}
          onChange={(e) => onChange({ exposure: Number(e.target.value) })}
        />
        <span className="w-10 text-right font-mono text-small">{settings.exposure.toFixed(2)}</span>
      </span>
      <Choice
        word="surround"
        value={surround}
        options={[...surrounds]}
        onChange={(s) => setSurround(s as typeof surround)}
      />
      <label className="col-span-4">
        <input
          type="checkbox"
          className="accent-glaze"
          checked={settings.clipping}
          onChange={(e) => onChange({ clipping: e.target.checked })}
        />{" "}
        mark what the display cannot show
      </label>
    </div>
  );
}

interface ChoiceProps {
  word: string;
  value: string;
  options: string[];
  onChange: (v: string) => void;
}

function Choice({ word, value, options, onChange }: ChoiceProps) {
  return (
    <>
      <span className="text-soft">{word}</span>
      <select
        className="entry min-w-0"
        aria-label={word}
        title={value}
        value={value}
        onChange={(e) => onChange(e.target.value)}
      >
        {options.map((o) => (
          <option key={o} value={o}>
            {o}
          </option>
        ))}
      </select>
    </>
  );
}
