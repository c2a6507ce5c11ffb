import { Checkbox } from "./Checkbox";
import { named } from "./names";
import type { Option } from "./options";
import { Select } from "./Select";
import { Slider } from "./Slider";

/** Rows of settings in a grid of two columns: the word, and what is chosen. */
interface ChoiceProps {
  word: string;
  testid?: string;
  value: string;
  options: readonly Option[];
  onChange: (value: string) => void;
}

export function Choice({ word, testid, value, options, onChange }: ChoiceProps) {
  return (
    <>
      <span className="text-soft">{word}</span>
      <Select label={word} testid={testid} value={value} options={options} onChange={onChange} />
    </>
  );
}

interface SlideProps {
  word: string;
  value: number;
  low: number;
  high: number;
  step: number;
  /** The number in words; none is shown without it. */
  shown?: string;
  onChange: (value: number) => void;
}

export function Slide({ word, value, low, high, step, shown, onChange }: SlideProps) {
  return (
    <>
      <span className="text-soft">{word}</span>
      <span className="flex min-w-0 items-center gap-2">
        <Slider label={word} className="grow" low={low} high={high} step={step} value={value} onMove={onChange} />
        {shown !== undefined && <span className="w-10 text-right font-mono text-small">{shown}</span>}
      </span>
    </>
  );
}

interface LightingProps {
  views: readonly string[];
  value: { view: string; exposure: number; lightRotation: number };
  /** Steps of exposure in stops, and of the light's rotation in degrees. */
  exposureStep: number;
  rotationStep: number;
  onChange: (part: Partial<LightingProps["value"]>) => void;
}

/** How a proof is viewed and lit, for one picture and for a wall of them. */
export function Lighting({ views, value, exposureStep, rotationStep, onChange }: LightingProps) {
  return (
    <>
      <Choice
        word="view"
        testid="view"
        value={value.view}
        options={named(views)}
        onChange={(view) => onChange({ view })}
      />
      <Slide
        word="exposure"
        value={value.exposure}
        low={-4}
        high={4}
        step={exposureStep}
        shown={value.exposure.toFixed(exposureStep < 0.5 ? 2 : 1)}
        onChange={(exposure) => onChange({ exposure })}
      />
      <Slide
        word="rotate light"
        value={value.lightRotation}
        low={-180}
        high={180}
        step={rotationStep}
        shown={`${value.lightRotation}°`}
        onChange={(lightRotation) => onChange({ lightRotation })}
      />
    </>
  );
}

interface CheckProps {
  word: string;
  testid?: string;
  on: boolean;
  className?: string;
  onChange: (on: boolean) => void;
}

export function Check({ word, testid, on, className, onChange }: CheckProps) {
  return (
    <label className={className}>
      <Checkbox testid={testid} checked={on} onChange={onChange} /> {word}
    </label>
  );
}
