import { useState } from "react";
import { logTrack, readNumber, shortNumber, toDigits } from "./numbers";
import { Slider } from "./Slider";

interface Props {
  label: string;
  value: number;
  low?: number;
  high?: number;
  step?: number;
  unit?: string;
  /** The track has decades instead of equal steps: for values between a thousandth and thousands. */
  logarithmic?: boolean;
  testid?: string;
  /** While the slider moves, before anything is kept. */
  onDraft?: (value: number) => void;
  onChange: (value: number) => void;
}

/** The smallest value that a logarithmic track tells from zero. */
const least = 0.01;

/** A slider with numeric entry. Its ends are soft: a typed value may go beyond. Kept when let go, on Enter, or when one leaves it. */
export function NumberEntry(props: Props) {
  const { label, value, low = 0, high = 1, step = 0.01, unit, logarithmic, testid, onDraft, onChange } = props;
  const [draft, setDraft] = useState<string | null>(null);
  const commit = (text: string) => {
    setDraft(null);
    const number = readNumber(text);
    if (number !== null && number !== value) onChange(number);
  };
  const drafted = draft === null ? null : readNumber(draft);
  const shown = drafted ?? value;
  const track = logTrack(least, Math.max(high, value));
  const move = (v: number) => {
    setDraft(shortNumber(v));
    onDraft?.(v);
  };
  return (
    <div className="grid grid-cols-[84px_1fr_84px] items-center gap-2">
      <span className="text-soft">{label}</span>
      {logarithmic ? (
        <Slider
          label={`${label} slider`}
          testid={testid && `${testid}-slider`}
          low={0}
          high={1}
          step={0.005}
          value={track.toTrack(shown)}
          spoken={shortNumber(shown)}
          onMove={(at) => move(toDigits(track.fromTrack(at), 2))}
          onCommit={(at) => commit(String(toDigits(track.fromTrack(at), 2)))}
        />
      ) : (
        <Slider
          label={`${label} slider`}
          testid={testid && `${testid}-slider`}
          low={Math.min(low, value)}
          high={Math.max(high, value)}
          step={step}
          value={shown}
          onMove={move}
          onCommit={(v) => commit(String(v))}
        />
      )}
      <span className="flex items-center gap-1">
        <input
          className="entry w-16 text-right font-mono"
          aria-label={unit ? `${label} in ${unit}` : label}
          data-testid={testid}
          inputMode="decimal"
          value={draft ?? shortNumber(value)}
          onChange={(e) => setDraft(e.target.value)}
          onBlur={(e) => draft !== null && commit(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === "Enter") commit(e.currentTarget.value);
            if (e.key === "Escape") setDraft(null);
          }}
        />
        <span className="text-small text-soft">{unit}</span>
      </span>
    </div>
  );
}
