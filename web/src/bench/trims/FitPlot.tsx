import type { FitResult } from "../../api/types";

const width = 360;
const height = 150;
const left = 30;
const bottom = 22;

/** Difference of the two dialects' reflectance over the trimmed input, before (open rings) and after (filled). */
export function FitPlot({ result }: { result: FitResult }) {
  const most = Math.max(1, ...result.plot.flatMap((p) => [p.before, p.after]));
  const x = (at: number) => left + Math.min(1, Math.max(0, at)) * (width - left - 8);
  const y = (error: number) => height - bottom - (error / most) * (height - bottom - 10);
  const words = result.plotInput.replaceAll("_", " ");
  return (
    <figure>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        role="img"
        aria-label={`Difference in lightness over ${words}, before and after`}
        className="w-full bg-sunken text-small"
      >
        {[0, 0.5, 1].map((part) => (
          <g key={part}>
            <line x1={left} x2={width - 8} y1={y(part * most)} y2={y(part * most)} className="stroke-rule" />
            <text x={left - 4} y={y(part * most) + 4} textAnchor="end" className="fill-soft">
              {(part * most).toFixed(most < 10 ? 1 : 0)}
            </text>
            <text x={x(part)} y={height - 7} textAnchor="middle" className="fill-soft">
              {part}
            </text>
          </g>
        ))}
        {result.plot.map((p, i) => (
          <g key={i}>
            <line x1={x(p.at)} x2={x(p.at)} y1={y(p.before)} y2={y(p.after)} className="stroke-rule" />
            <circle cx={x(p.at)} cy={y(p.before)} r={3} className="fill-none stroke-ink" />
            <circle cx={x(p.at)} cy={y(p.after)} r={3} className="fill-glaze" />
          </g>
        ))}
      </svg>
      <figcaption className="text-small text-soft">
        Difference in L* over {words} at points of this look: ring before, dot after
      </figcaption>
    </figure>
  );
}
