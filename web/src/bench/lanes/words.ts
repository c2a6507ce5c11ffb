import type { Lane, NeutralInput } from "../../api/types";

/** A lane's value in few characters. */
export function valueWords(value: Lane["value"] | null, input?: NeutralInput): string {
  if (value?.kind === "scalar") return String(Math.round(value.number * 1000) / 1000);
  if (value?.kind === "colour") return [value.r, value.g, value.b].map((v) => v.toFixed(3)).join(" ");
  return input ? (input.default ? input.default.join(" ") : "flat") : "0";
}
