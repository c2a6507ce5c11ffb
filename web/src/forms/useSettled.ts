import { useEffect, useState } from "react";

const quiet = 350;

/** A value once it has not changed for a moment, so that the server is not asked for every letter. */
export function useSettled<T>(value: T, milliseconds = quiet): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = window.setTimeout(() => setSettled(value), milliseconds);
    return () => window.clearTimeout(timer);
  }, [value, milliseconds]);
  return settled;
}
