import { useState } from "react";

interface Props {
  label: string;
  value: number;
  low?: number;
  high?: number;
  step?: number;
  unit?: string;
  /** While the slider moves, before anything is kept. */
  onDraft?: (value: number) => void;
  onChange: (value: number) => void;
}

/** A slider with numeric entry. Its ends are soft: a typed value may go beyond. Commits when let go, or on Enter. */
export function NumberEntry({ label, value, low = 0, high = 1, step = 0.01, unit, onDraft, onChange }: Props) {
  const [draft, setDraft] = useState<string | null>(null);
  const shown = draft ?? String(Math.round(value * 10000) / 10000);
  const commit = (text: string) => {
    setDraft(null);
    const number = Number(text.replace(",", "."));
    if (text.trim() !== "" && Number.isFinite(number) && number !== value) onChange(number);
  };
  return (
    <label className="grid grid-cols-[84px_1fr_84px] items-center gap-2">
      <span className="text-soft">{label}</span>
      <input
        type="range"
        className="accent-glaze"
        min={Math.min(low, value)}
        max={Math.max(high, value)}
        step={step}
        value={draft !== null && Number.isFinite(Number(draft)) ? Number(draft) : value}
        aria-label={`${label} slider`}
        onChange={(e) => {
          setDraft(e.target.value);
          onDraft?.(Number(e.target.value));
        }}
        onPointerUp={(e) => commit(e.currentTarget.value)}
        onKeyUp={(e) => e.key.startsWith("Arrow") && commit(e.currentTarget.value)}
      />
      <span className="flex items-center gap-1">
        <input
          className="entry w-16 text-right font-mono"
          aria-label={label}
          value={shown}
          onChange={(e) => setDraft(e.target.value)}
          onBlur={(e) => draft !== null && commit(e.target.value)}
          onKeyDown={(e) => e.key === "Enter" && commit(e.currentTarget.value)}
        />
        <span className="text-small text-soft">{unit}</span>
      </span>
    </label>
  );
}
