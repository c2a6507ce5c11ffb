import { useQuery } from "@tanstack/react-query";
import { get } from "../api/client";
import type { ScaleStep } from "../api/types";
import { keys } from "../api/keys";

/** Steps of ΔE with the colours they are drawn in and words for them. */
export function useDifferenceScale(): ScaleStep[] {
  const scale = useQuery({
    queryKey: keys.differenceScale(),
    queryFn: () => get("/api/v1/proofs/difference-scale"),
    staleTime: Infinity,
  });
  return scale.data ?? [];
}

export const stepOf = (steps: ScaleStep[], value: number) => steps.find((s) => s.upTo == null || value <= s.upTo);

export function DifferenceScale({ steps }: { steps: ScaleStep[] }) {
  return (
    <ol className="grid grid-cols-6 text-small" aria-label="scale of ΔE">
      {steps.map((s) => (
        <li key={s.colour}>
          <span className="block h-3 border border-rule" style={{ background: s.colour }} />
          <span className="block font-mono">{s.upTo == null ? "more" : `≤ ${s.upTo}`}</span>
          <span className="block pr-1.5 leading-tight text-soft">{s.words}</span>
        </li>
      ))}
    </ol>
  );
}
