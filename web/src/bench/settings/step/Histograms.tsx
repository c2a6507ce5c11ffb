import { memo } from "react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { get } from "../../../api/client";
import type { StepHistograms } from "../../../api/types";
import { keys } from "../../../api/keys";

type Histogram = StepHistograms["before"];

/** How the numbers lie before and after a step. */
export const Histograms = memo(function Histograms({
  id,
  lane,
  step,
  revision,
}: {
  id: string;
  lane: string;
  step: number;
  revision: number;
}) {
  const both = useQuery({
    queryKey: keys.histogram(id, lane, step, revision),
    queryFn: () => get("/api/v1/looks/{id}/histogram", { params: { path: { id }, query: { lane, step } } }),
    placeholderData: keepPreviousData,
  });
  if (!both.data) return <div className="h-[58px]" />;
  return (
    <div className="grid grid-cols-2 gap-2">
      <Bars title="before" of={both.data.before} />
      <Bars title="after" of={both.data.after} />
    </div>
  );
});

/** One outline a component: red solid, green dashed, blue dotted would be colour alone, so they differ by dash. */
const dashes = ["", "3 2", "1 2"];

function Bars({ title, of }: { title: string; of: Histogram }) {
  const most = Math.max(...of.shares.flat().map(Math.sqrt), 1e-6);
  const place = (v: number) => ((v - of.low) / (of.high - of.low)) * 64;
  return (
    <figure aria-label={`numbers ${title}`}>
      <svg
        viewBox="0 0 64 24"
        className="h-[42px] w-full border border-rule bg-raised"
        preserveAspectRatio="none"
        aria-hidden="true"
      >
        <path d={`M${place(0)} 0V24M${place(1)} 0V24`} stroke="var(--color-rule)" strokeWidth="0.5" />
        {of.shares.map((shares, c) => (
          <path
            key={c}
            d={shares
              .map((s, i) => `${i === 0 ? "M" : "L"}${i + 0.5} ${(24 - (Math.sqrt(s) / most) * 23).toFixed(2)}`)
              .join("")}
            fill="none"
            stroke="var(--color-ink)"
            strokeWidth="0.8"
            strokeDasharray={dashes[c]}
            vectorEffect="non-scaling-stroke"
          />
        ))}
      </svg>
      <figcaption className="font-mono text-small text-soft">
        {of.minimum.toFixed(2)} <b className="font-normal text-ink">{of.mean.toFixed(2)}</b> {of.maximum.toFixed(2)}
      </figcaption>
    </figure>
  );
}
