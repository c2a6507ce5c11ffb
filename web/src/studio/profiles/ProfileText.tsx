import { useRef } from "react";
import type { ProfileProblem } from "../../api/types";

interface Props {
  text: string;
  problems: ProfileProblem[];
  onChange: (text: string) => void;
}

const lineHeight = 18;

/** The text of a profile with its lines numbered; what is wrong stands below, and a click goes to its line. */
export function ProfileText({ text, problems, onChange }: Props) {
  const area = useRef<HTMLTextAreaElement>(null);
  const numbers = useRef<HTMLPreElement>(null);
  const lines = text.split("\n").length;
  const wrong = new Set(problems.map((p) => p.line));
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
      <div className="flex h-[300px] border border-rule bg-raised font-mono text-small">
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
          aria-label="text of the profile"
          spellCheck={false}
          wrap="off"
          className="grow resize-none bg-transparent pl-2"
          style={{ lineHeight: `${lineHeight}px` }}
          value={text}
          onChange={(e) => onChange(e.target.value)}
          onScroll={(e) => {
            if (numbers.current) numbers.current.scrollTop = e.currentTarget.scrollTop;
          }}
        />
      </div>
      {problems.length > 0 && (
        <ul aria-label="what is wrong" className="mt-1">
          {problems.map((p, i) => (
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
