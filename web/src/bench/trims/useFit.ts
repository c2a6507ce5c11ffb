import { useCallback, useRef, useState } from "react";
import { request } from "../../api/client";
import type { FitLine, FitProgress, FitResult } from "../../api/types";

export interface FitState {
  progress: FitProgress | null;
  result: FitResult | null;
  trouble: string | null;
}

const idle: FitState = { progress: null, result: null, trouble: null };

/** Asks for a fit and follows it line by line; ending it ends it on the server. */
export function useFit(look: string) {
  const [state, setState] = useState<FitState>(idle);
  const running = useRef<AbortController | null>(null);
  const stop = useCallback(() => {
    running.current?.abort();
    setState(idle);
  }, []);
  const start = useCallback(
    async (dialect: string, from: string | null) => {
      running.current?.abort();
      const abort = (running.current = new AbortController());
      setState({ ...idle, progress: { part: 0, words: "beginning" } });
      try {
        const path = `/looks/${look}/fit?dialect=${dialect}${from ? `&from=${from}` : ""}`;
        const response = await request("POST", path, undefined, { signal: abort.signal });
        for await (const line of lines(response)) {
          if (line.trouble) setState({ ...idle, trouble: line.trouble });
          else if (line.result) setState({ ...idle, result: line.result });
          else if (line.progress) setState({ ...idle, progress: line.progress });
        }
      } catch (error) {
        if (!abort.signal.aborted) setState({ ...idle, trouble: (error as Error).message });
      }
    },
    [look],
  );
  return { ...state, start, stop };
}

async function* lines(response: Response): AsyncGenerator<FitLine> {
  const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
  let kept = "";
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    const parts = (kept + value).split("\n");
    kept = parts.pop() ?? "";
    for (const part of parts) yield JSON.parse(part) as FitLine;
  }
}
