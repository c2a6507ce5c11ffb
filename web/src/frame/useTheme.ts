import { useSyncExternalStore } from "react";

export type Theme = "day" | "night";

const key = "kiln.theme";
const told = new Set<() => void>();
const read = (): Theme => (localStorage.getItem(key) === "night" ? "night" : "day");

/** Puts the remembered theme and picture surround on the page; before the first paint. */
export function applyRemembered() {
  document.documentElement.dataset.theme = read();
  document.documentElement.dataset.surround = localStorage.getItem("kiln.surround") ?? "mid";
}

export function setTheme(theme: Theme) {
  localStorage.setItem(key, theme);
  document.documentElement.dataset.theme = theme;
  told.forEach((tell) => tell());
}

/** Day bench or night bench, remembered on this machine. */
export const useTheme = () =>
  useSyncExternalStore((tell) => {
    told.add(tell);
    return () => told.delete(tell);
  }, read);
