import type { Trim } from "../../api/types";

export const operations = ["gain", "offset", "power"] as const;

const rounded = (n: number) => String(Math.round(n * 1000) / 1000);

/** A trim as one says it: × 0.91, + 0.05, ^ 1.33. */
export function trimSign(trim: Trim): string {
  if (trim.operation === "offset") return `${trim.value < 0 ? "−" : "+"} ${rounded(Math.abs(trim.value))}`;
  return `${trim.operation === "gain" ? "×" : "to the power of"} ${rounded(trim.value)}`;
}

/** The same habit said of glossiness, for those who think in it: a gain c on roughness is a screen of glossiness with 1 − c. */
export function saidOfGlossiness(trim: Trim): string | null {
  if (trim.input !== "specular_roughness" || trim.operation !== "gain") return null;
  return trim.value <= 1
    ? `glossiness screened with ${rounded(1 - trim.value)}`
    : `inverted glossiness multiplied by ${rounded(trim.value)}`;
}
