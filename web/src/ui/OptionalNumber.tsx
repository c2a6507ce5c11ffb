import { useState } from "react";
import { readNumber } from "./numbers";

interface Props {
  label: string;
  /** Null while it is left open. */
  value: number | null;
  placeholder?: string;
  className?: string;
  testid?: string;
  onChange: (value: number | null) => void;
}

/** A number that may be left open: kept on Enter or when one leaves it, put back by Escape, open when it is emptied. */
export function OptionalNumber({ label, value, placeholder, className = "w-20", testid, onChange }: Props) {
  const [draft, setDraft] = useState<string | null>(null);
  const commit = () => {
    if (draft === null) return;
    setDraft(null);
    if (draft.trim() === "") {
      if (value !== null) onChange(null);
      return;
    }
    const number = readNumber(draft);
    if (number !== null && number !== value) onChange(number);
  };
  return (
    <input
      className={`entry py-0.5 text-right font-mono ${className}`}
      aria-label={label}
      data-testid={testid}
      inputMode="decimal"
      placeholder={placeholder}
      value={draft ?? (value === null ? "" : String(value))}
      onChange={(e) => setDraft(e.target.value)}
      onBlur={commit}
      onKeyDown={(e) => {
        if (e.key === "Enter") commit();
        if (e.key === "Escape") setDraft(null);
      }}
    />
  );
}
