import { useEffect, useRef, useState } from "react";
import { request } from "../../../api/client";
import { framesOf } from "./frames";
import type { ProofSettings } from "../proofSettings";

export interface ProofQuery extends ProofSettings {
  dialect: string | null;
  variant?: string | null;
  background: boolean;
  soloLane: string | null;
  soloSteps: number | null;
  size: number;
  samples: number;
  /** Asked for while something is dragged: not kept to go on with. */
  moving: boolean;
}

export interface ProofState {
  picture: string | null;
  samples: number;
  noise: number;
  seconds: number;
  mapBytes: number;
  last: boolean;
  error: string | null;
  /** Whether it is a picture of what is asked for now, and not of older settings. */
  isCurrent: boolean;
}

/**
 * What a picture is a picture of. Another dialect's or variant's is never shown under this one's name; one of other
 * settings stays until the next comes.
 */
const subjectOf = (look: string, asked: ProofQuery | null) => JSON.stringify([look, asked?.dialect, asked?.variant]);

const nothing: ProofState = {
  picture: null,
  samples: 0,
  noise: 1,
  seconds: 0,
  mapBytes: 0,
  last: false,
  error: null,
  isCurrent: false,
};

/** Asks for a proof and shows each refinement. A changed question ends the older stream; the server then stops rendering it. */
export function useProof(
  look: string,
  revision: number,
  viewer: string,
  query: ProofQuery | null,
  /** What the look stands under beside its document: asked anew when it changes. */
  under = "",
): ProofState {
  const [shown, setShown] = useState<{ of: string; asked: string; state: ProofState }>({
    of: "",
    asked: "",
    state: nothing,
  });
  const url = useRef<string | null>(null);
  const key = JSON.stringify(query);
  const stamp = JSON.stringify([key, revision, under]);
  useEffect(() => {
    const asked = JSON.parse(key) as ProofQuery | null;
    if (!asked) return;
    const abort = new AbortController();
    const of = subjectOf(look, asked);
    const { size, ...rest } = asked;
    const read = async () => {
      const response = await request(
        "POST",
        `/looks/${look}/proof`,
        { viewer, width: size, height: size, ...rest },
        { signal: abort.signal },
      );
      for await (const frame of framesOf(response.body!)) {
        if (frame.picture) {
          if (url.current) URL.revokeObjectURL(url.current);
          url.current = URL.createObjectURL(new Blob([frame.picture], { type: "image/jpeg" }));
        }
        setShown({ of, asked: stamp, state: { ...(frame.head as Omit<ProofState, "picture">), picture: url.current } });
      }
    };
    read().catch((error: Error) => {
      if (!abort.signal.aborted)
        setShown((s) => ({ of, asked: stamp, state: { ...(s.of === of ? s.state : nothing), error: error.message } }));
    });
    return () => abort.abort();
  }, [look, revision, viewer, key, stamp, under]);
  const state = query === null || shown.of === subjectOf(look, query) ? shown.state : nothing;
  return { ...state, isCurrent: shown.asked === stamp && state.picture !== null };
}
