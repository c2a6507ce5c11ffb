import { useEffect, useState } from "react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { get, request } from "../../../api/client";
import { placeOf, type Place } from "../../../ui/useReadout";
import type { LooseStep } from "../../document/steps";
import { useNewest } from "../../state/useNewest";
import { keys } from "../../../api/keys";

interface Props {
  id: string;
  lane: string;
  step: LooseStep;
  /** Its place in the chain. */
  at: number;
  /** The step as it would be while a slider moves; null while nothing moves. */
  draft: LooseStep | null;
  revision: number;
}
const small = 176;

/** The picture after a step. While a slider moves it follows: only the newest setting is asked for. */
export function StepPreview({ id, lane, step, at, draft, revision }: Props) {
  const [place, setPlace] = useState<Place | null>(null);
  const numbers = useQuery({
    queryKey: keys.stepNumbers(id, lane, at, revision, place?.u, place?.v),
    queryFn: () =>
      get("/api/v1/looks/{id}/numbers", {
        params: { path: { id }, query: { lane, step: at, u: place!.u, v: place!.v } },
      }),
    enabled: place !== null,
    placeholderData: keepPreviousData,
  }).data;
  const [tried, setTried] = useState<string | null>(null);
  useNewest(draft, async (asked) => {
    const began = performance.now();
    const response = await request("POST", `/looks/${id}/try-step`, { lane, step: asked, size: small });
    const url = URL.createObjectURL(await response.blob());
    setTried((old) => {
      if (old) URL.revokeObjectURL(old);
      return url;
    });
    performance.measure("kiln-try-step", { start: began, end: performance.now() });
  });
  // What is kept replaces what was tried.
  useEffect(() => setTried(null), [revision, step.id]);
  const steps = `/api/v1/looks/${id}/tile?lane=${encodeURIComponent(lane)}`;
  return (
    <div className="grid grid-cols-2 gap-2">
      {(["before", "after"] as const).map((which) => (
        <figure key={which}>
          <img
            src={
              which === "after" && tried
                ? tried
                : `${steps}&steps=${which === "after" ? at + 1 : at}&revision=${revision}`
            }
            alt={`${which} this step`}
            className="aspect-square w-full bg-well object-cover"
            data-testid={`step-${which}`}
            onMouseMove={(e) => setPlace(placeOf(e, 128))}
            onMouseLeave={() => setPlace(null)}
          />
          <figcaption className="font-mono text-small text-soft" data-readout={`step-${which}`}>
            <span className="font-sans">{which}</span>{" "}
            {place && numbers && (
              <>
                {numbers[which].values.map((v) => v.toFixed(3)).join(" ")} {numbers[which].hex}
              </>
            )}
          </figcaption>
        </figure>
      ))}
    </div>
  );
}
