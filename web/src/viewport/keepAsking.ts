import { Away, Problem } from "../api/client";

/** Milliseconds until a server that did not answer is asked again, and until what was changed between two questions is. */
const awayFor = 3000;
const changedFor = 300;

/**
 * Brings something, again and again where the server is away or somebody changed it meanwhile: what is drawn stays until it answers.
 * @param onTrouble Told in a sentence why it cannot be brought at all.
 * @returns Gives it up.
 */
export function keepAsking(
  bring: (signal: AbortSignal) => Promise<void>,
  onTrouble: (sentence: string) => void,
): () => void {
  const abort = new AbortController();
  let again = 0;
  const on = () =>
    void bring(abort.signal).catch((error: Error) => {
      if (abort.signal.aborted) return;
      if (error instanceof Away) again = window.setTimeout(on, awayFor);
      else if (error instanceof Problem && error.status === 409) again = window.setTimeout(on, changedFor);
      else onTrouble(error.message);
    });
  on();
  return () => {
    abort.abort();
    window.clearTimeout(again);
  };
}
