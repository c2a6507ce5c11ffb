const key = "kiln.viewport";

/** Whether the viewport is used: where it is quick enough, always (tests do, on a processor's own pictures), or never. */
export type ViewportSetting = "auto" | "on" | "off";

export const viewportSetting = (): ViewportSetting => {
  const kept = localStorage.getItem(key);
  return kept === "on" || kept === "off" ? kept : "auto";
};

export const setViewportSetting = (value: ViewportSetting) =>
  value === "auto" ? localStorage.removeItem(key) : localStorage.setItem(key, value);
