import { useSyncExternalStore } from "react";

const key = "kiln.viewport";

/** Whether the viewport is used: where it is quick enough, always (tests do, on a processor's own pictures), or never. */
export type ViewportSetting = "auto" | "on" | "off";

const told = new Set<() => void>();

const kept = (): ViewportSetting => {
  const text = localStorage.getItem(key);
  return text === "on" || text === "off" ? text : "auto";
};

export function setViewportSetting(value: ViewportSetting) {
  if (value === "auto") localStorage.removeItem(key);
  else localStorage.setItem(key, value);
  told.forEach((tell) => tell());
}

export const useViewportSetting = () =>
  useSyncExternalStore((tell) => {
    told.add(tell);
    return () => told.delete(tell);
  }, kept);
