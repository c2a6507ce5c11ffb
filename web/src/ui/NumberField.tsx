import { useState } from "react";
import { readNumber, shortNumber } from "./numbers";

interface Props {
  label: string;
  value: number;
  unit?: string;
  className?: string;
  testid?: string;
  /** The words stand before the field; else it has its name only for those who hear it. */
  silent?: boolean;
  onChange: (value: number) => void;
}

/** A number that is typed: kept on Enter or when one leaves it, put back by Escape. */
export function NumberField({ label, value, unit, className = "w-14", testid, silent, onChange }: Props) {
  const [draft, setDraft] = useState<string | null>(null);
  const commit = () => {
    if (draft === null) return;
    setDraft(null);
    const number = readNumber(draft);
    if (number !== null && number !== value) onChange(number);
  };
  return (
    <span className="inline-flex items-center gap-1">
      {!silent && <span className="text-soft">{label}</span>}
      <input
        className={`entry py-0 text-right font-mono ${className}`}
        aria-label={unit ? `${label} in ${unit}` : label}
        data-testid={testid}
        inputMode="decimal"
        value={draft ?? shortNumber(value)}
        onChange={(e) => setDraft(e.target.value)}
        onBlur={commit}
        onKeyDown={(e) => {
          if (e.key === "Enter") commit();
          if (e.key === "Escape") setDraft(null);
        }}
      />
      {unit && <span className="text-small text-soft">{unit}</span>}
    </span>
  );
}
