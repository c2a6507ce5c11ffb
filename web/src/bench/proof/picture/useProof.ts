import { useEffect, useRef, useState } from "react";
import { Away, request } from "../../../api/client";
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
  /** While there is no picture of what is asked for: what was seen before it, which has other names. */
  before: string | null;
}

/**
 * What a picture is a picture of, as its names on the screen say: never shown under another name. One that is seen from elsewhere, or in
 * another exposure, stays until the next comes.
 */
const subjectOf = (look: string, asked: ProofQuery | null) =>
  JSON.stringify([
    look,
    ...(asked
      ? [
          asked.dialect,
          asked.variant,
          asked.soloLane,
          asked.soloSteps,
          asked.form,
          asked.light,
          asked.view,
          asked.layer,
        ]
      : []),
  ]);

/** Milliseconds until a server that did not answer is asked again. */
const patience = 3000;

const nothing: ProofState = {
  picture: null,
  samples: 0,
  noise: 1,
  seconds: 0,
  mapBytes: 0,
  last: false,
  error: null,
  isCurrent: false,
  before: null,
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
  // Beside the pictures: what could not be asked for takes nothing away that is seen.
  const [fault, setFault] = useState<{ asked: string; words: string } | null>(null);
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
        setFault(null);
        setShown({
          of,
          asked: stamp,
          state: { ...(frame.head as Omit<ProofState, "picture" | "before">), picture: url.current, before: null },
        });
      }
    };
    let again = 0;
    const readOn = () =>
      void read().catch((error: Error) => {
        if (abort.signal.aborted) return;
        setFault({ asked: stamp, words: error.message });
        // A server that is away is asked again until it answers.
        if (error instanceof Away) again = window.setTimeout(readOn, patience);
      });
    readOn();
    return () => {
      abort.abort();
      window.clearTimeout(again);
    };
  }, [look, revision, viewer, key, stamp, under]);
  const isSame = query === null || shown.of === subjectOf(look, query);
  const state = isSame ? shown.state : { ...nothing, before: shown.state.picture };
  const error = fault?.asked === stamp ? fault.words : state.error;
  return { ...state, error, isCurrent: shown.asked === stamp && state.picture !== null };
}
