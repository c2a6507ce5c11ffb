/** Rows of settings in a grid of two columns: the word, and what is chosen. */
interface ChoiceProps {
  word: string;
  value: string;
  /** Values, or words with their values. */
  options: (string | [string, string])[];
  onChange: (value: string) => void;
}

export function Choice({ word, value, options, onChange }: ChoiceProps) {
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
        {options
          .map((o) => (typeof o === "string" ? [o, o] : o))
          .map(([shown, own]) => (
            <option key={own} value={own}>
              {shown}
            </option>
          ))}
      </select>
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
        <input
          type="range"
          className="min-w-0 grow accent-glaze"
          aria-label={word}
          min={low}
          max={high}
          step={step}
          value={value}
          onChange={(e) => onChange(Number(e.target.value))}
        />
        {shown !== undefined && <span className="w-10 text-right font-mono text-small">{shown}</span>}
      </span>
    </>
  );
}

interface CheckProps {
  word: string;
  on: boolean;
  className?: string;
  onChange: (on: boolean) => void;
}

export function Check({ word, on, className, onChange }: CheckProps) {
  return (
    <label className={className}>
      <input type="checkbox" className="accent-glaze" checked={on} onChange={(e) => onChange(e.target.checked)} />{" "}
      {word}
    </label>
  );
}
