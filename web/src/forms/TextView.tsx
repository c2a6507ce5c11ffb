import { useRef } from "react";

/** Something wrong in a text: its line, from 1. */
export interface TextFault {
  line: number;
  sentence: string;
}

interface Props {
  label: string;
  text: string;
  faults: readonly TextFault[];
  className?: string;
  readOnly?: boolean;
  onChange: (text: string) => void;
}

const lineHeight = 18;

/** A text with its lines numbered; what is wrong stands below, and a click goes to its line. */
export function TextView({ label, text, faults, className = "h-[440px]", readOnly, onChange }: Props) {
  const area = useRef<HTMLTextAreaElement>(null);
  const numbers = useRef<HTMLPreElement>(null);
  const lines = text.split("\n").length;
  const wrong = new Set(faults.map((p) => p.line));
  const show = (line: number) => {
    const from =
      text
        .split("\n")
        .slice(0, line - 1)
        .join("\n").length + (line > 1 ? 1 : 0);
    const end = text.indexOf("\n", from);
    area.current?.focus();
    area.current?.setSelectionRange(from, end < 0 ? text.length : end);
    if (area.current) area.current.scrollTop = Math.max(0, (line - 6) * lineHeight);
  };
  return (
    <>
      <div className={`flex border border-rule bg-raised font-mono text-small ${className}`}>
        <pre
          ref={numbers}
          aria-hidden
          className="w-12 overflow-hidden bg-sunken pr-2 text-right text-soft"
          style={{ lineHeight: `${lineHeight}px` }}
        >
          {Array.from({ length: lines }, (_, i) => (
            <span key={i} className={wrong.has(i + 1) ? "block bg-ink text-panel" : "block"}>
              {i + 1}
            </span>
          ))}
        </pre>
        <textarea
          ref={area}
          aria-label={label}
          data-testid="text-view"
          spellCheck={false}
          wrap="off"
          readOnly={readOnly}
          className="grow resize-none bg-transparent pl-2"
          style={{ lineHeight: `${lineHeight}px` }}
          value={text}
          onChange={(e) => onChange(e.target.value)}
          onScroll={(e) => {
            if (numbers.current) numbers.current.scrollTop = e.currentTarget.scrollTop;
          }}
        />
      </div>
      {faults.length > 0 && (
        <ul aria-label="what is wrong" className="mt-1">
          {faults.map((p, i) => (
            <li key={i} className="border-b border-rule py-0.5">
              <button className="underline" onClick={() => show(p.line)}>
                line {p.line}
              </button>{" "}
              {p.sentence}
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
