import { useEffect, useRef, useState } from "react";
import { request } from "../../api/client";
import type { LooseStep } from "../lanes/steps";

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
  const [tried, setTried] = useState<string | null>(null);
  const busy = useRef(false);
  const waiting = useRef<LooseStep | null>(null);
  const key = draft ? JSON.stringify(draft) : null;
  useEffect(() => {
    if (!key) return;
    waiting.current = JSON.parse(key) as LooseStep;
    if (busy.current) return;
    const next = async () => {
      busy.current = true;
      while (waiting.current) {
        const asked = waiting.current;
        waiting.current = null;
        try {
          const began = performance.now();
          const response = await request("POST", `/looks/${id}/try-step`, { lane, step: asked, size: small });
          const url = URL.createObjectURL(await response.blob());
          setTried((old) => {
            if (old) URL.revokeObjectURL(old);
            return url;
          });
          performance.measure("kiln-try-step", { start: began, end: performance.now() });
        } catch {
          // What cannot be tried yet is left as it was; the edit itself will say why.
        }
      }
      busy.current = false;
    };
    void next();
  }, [key, id, lane]);
  // What is kept replaces what was tried.
  useEffect(() => setTried(null), [revision, step.id]);
  const steps = `/api/v1/looks/${id}/tile?lane=${encodeURIComponent(lane)}`;
  return (
    <div className="grid grid-cols-2 gap-2">
      {["before", "after"].map((which) => (
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
          />
          <figcaption className="text-small text-soft">{which}</figcaption>
        </figure>
      ))}
    </div>
  );
}
