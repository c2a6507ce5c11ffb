import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { get } from "../../api/client";
import { useBench } from "../state/benchState";
import { laneAt, sourceAddress } from "../document/address";

/** Proposes the metres of a height: by the slopes of the look's normal map, else by how steep surfaces are. */
export function HeightScaleButton({ lane, onScale }: { lane: string; onScale: (metres: number) => void }) {
  const { id, look } = useBench("id", "look");
  const [words, setWords] = useState<string | null>(null);
  const slot = slotOf(look, lane);
  const ask = useMutation({
    mutationFn: () => get("/api/v1/looks/{id}/height-scale", { params: { path: { id }, query: { slot: slot! } } }),
    onSuccess: (scale) => {
      setWords(scale.words);
      if (scale.metres > 0) onScale(Math.round(scale.metres * 1e5) / 1e5);
    },
    onError: (error: Error) => toast.error(error.message),
  });
  if (!slot) return null;
  return (
    <p className="text-small">
      <button className="act text-small" onClick={() => ask.mutate()} disabled={ask.isPending}>
        Height by its slopes
      </button>{" "}
      {words && <span className="text-soft">{words}</span>}
    </p>
  );
}

/** The slot that a lane's height comes from, through sources. */
function slotOf(look: Parameters<typeof laneAt>[0], lane: string, depth = 0): string | null {
  const origin = laneAt(look, lane)?.chain?.origin;
  if (origin?.kind === "slot") return origin.slot;
  return origin?.kind === "source" && depth < 8 ? slotOf(look, sourceAddress(origin.source), depth + 1) : null;
}
