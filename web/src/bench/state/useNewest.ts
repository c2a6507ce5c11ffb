import { useEffect, useRef } from "react";

/**
 * Does the work for the newest of what is asked, one after another: what came and went while the last was on its way is left out. A fault
 * leaves what was there; whoever keeps a value is told by the edit itself.
 */
export function useNewest<T>(asked: T | null, work: (asked: T) => Promise<void>) {
  const busy = useRef(false);
  const waiting = useRef<T | null>(null);
  const doing = useRef(work);
  useEffect(() => {
    doing.current = work;
  });
  const key = asked === null ? null : JSON.stringify(asked);
  useEffect(() => {
    waiting.current = key === null ? null : (JSON.parse(key) as T);
    if (key === null || busy.current) return;
    const next = async () => {
      busy.current = true;
      while (waiting.current !== null) {
        const now = waiting.current;
        waiting.current = null;
        await doing.current(now).catch(() => undefined);
      }
      busy.current = false;
    };
    void next();
  }, [key]);
}
