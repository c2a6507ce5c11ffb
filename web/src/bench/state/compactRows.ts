const key = "kiln.compactRows";

/** Whether lanes are shown in compact rows; remembered on this machine. */
export const rememberedCompactRows = () => localStorage.getItem(key) === "yes";

export const rememberCompactRows = (on: boolean) => localStorage.setItem(key, on ? "yes" : "no");
