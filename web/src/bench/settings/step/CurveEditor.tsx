import { useRef, useState } from "react";
import { tangents, type CurvePoint } from "../../document/curve";

interface Props {
  points: CurvePoint[];
  onDraft: (points: CurvePoint[]) => void;
  onChange: (points: CurvePoint[]) => void;
}
const side = 200;
const apart = 0.005;
const round = (v: number) => Math.round(v * 1000) / 1000;

/** Points that the curve goes through: drag one, click into the field for a new one, Delete takes it out, arrow keys move it. */
export function CurveEditor({ points, onDraft, onChange }: Props) {
  const [chosen, setChosen] = useState<number | null>(null);
  const [draft, setDraft] = useState<CurvePoint[] | null>(null);
  const field = useRef<SVGSVGElement>(null);
  const shown = draft ?? points;
  const at = (e: React.PointerEvent) => {
    const box = field.current!.getBoundingClientRect();
    return { x: (e.clientX - box.left) / box.width, y: 1 - (e.clientY - box.top) / box.height };
  };
  const moved = (i: number, to: CurvePoint) =>
    shown.map((p, k) =>
      k === i
        ? {
            // A point stays between its neighbours.
            x: round(
              Math.min((shown[i + 1]?.x ?? 1 + apart) - apart, Math.max((shown[i - 1]?.x ?? -apart) + apart, to.x)),
            ),
            y: round(Math.min(1, Math.max(0, to.y))),
          }
        : p,
    );
  const keep = (next: CurvePoint[]) => {
    setDraft(null);
    onChange(next);
  };
  const remove = (i: number) => shown.length > 2 && keep(shown.filter((_, k) => k !== i));
  const path = hermite(shown);
  return (
    <div>
      <svg
        ref={field}
        viewBox={`0 0 ${side} ${side}`}
        className="w-full max-w-[240px] touch-none border border-rule bg-raised"
        aria-label="curve"
        role="group"
        onPointerDown={(e) => {
          if (e.target !== field.current && (e.target as Element).tagName === "circle") return;
          const p = at(e);
          const next = [...shown, { x: round(p.x), y: round(p.y) }].sort((a, b) => a.x - b.x);
          if (next.every((q, i) => i === 0 || q.x - next[i - 1].x >= apart)) keep(next);
        }}
      >
        {[0.25, 0.5, 0.75].map((g) => (
          <path
            key={g}
            d={`M${g * side} 0V${side}M0 ${g * side}H${side}`}
            stroke="var(--color-rule)"
            strokeWidth="0.5"
          />
        ))}
        <path d={path} fill="none" stroke="var(--color-ink)" strokeWidth="1.5" pointerEvents="none" />
        {shown.map((p, i) => (
          <circle
            key={i}
            cx={p.x * side}
            cy={(1 - p.y) * side}
            r={chosen === i ? 6 : 5}
            tabIndex={0}
            role="slider"
            aria-label={`point ${i + 1}`}
            aria-valuenow={p.y}
            aria-valuetext={`${p.x}, ${p.y}`}
            fill={chosen === i ? "var(--color-glaze)" : "var(--color-panel)"}
            stroke="var(--color-ink)"
            onFocus={() => setChosen(i)}
            onPointerDown={(e) => {
              e.stopPropagation();
              e.currentTarget.setPointerCapture(e.pointerId);
              setChosen(i);
            }}
            onPointerMove={(e) => {
              if (!e.currentTarget.hasPointerCapture(e.pointerId)) return;
              const next = moved(i, at(e));
              setDraft(next);
              onDraft(next);
            }}
            onPointerUp={() => draft && keep(draft)}
            onKeyDown={(e) => {
              const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
              if (by) {
                e.preventDefault();
                const size = e.shiftKey ? 0.1 : 0.01;
                keep(moved(i, { x: p.x + by[0] * size, y: p.y + by[1] * size }));
              } else if (e.key === "Delete" || e.key === "Backspace") remove(i);
            }}
          />
        ))}
      </svg>
      <p className="text-small text-soft">
        {chosen !== null && shown[chosen] ? (
          <span className="font-mono">
            {shown[chosen].x} → {shown[chosen].y}
          </span>
        ) : (
          "Drag a point; click to add one; Delete removes it"
        )}
      </p>
    </div>
  );
}

function hermite(p: CurvePoint[]): string {
  const m = tangents(p);
  const X = (v: number) => (v * side).toFixed(1);
  const Y = (v: number) => ((1 - v) * side).toFixed(1);
  let path = `M0 ${Y(p[0].y)}L${X(p[0].x)} ${Y(p[0].y)}`;
  for (let i = 0; i + 1 < p.length; i++) {
    const h = (p[i + 1].x - p[i].x) / 3;
    const [from, to] = [p[i], p[i + 1]];
    path += `C${X(from.x + h)} ${Y(from.y + m[i] * h)} ${X(to.x - h)} ${Y(to.y - m[i + 1] * h)} ${X(to.x)} ${Y(to.y)}`;
  }
  return `${path}L${side} ${Y(p.at(-1)!.y)}`;
}
