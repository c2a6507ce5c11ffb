import type { Studio, Lane, Look, NeutralInput } from "../../api/types";
import { isTangent } from "./address";

/** A lane's value in few characters. */
export function valueWords(value: Lane["value"] | null, input?: NeutralInput): string {
  if (value?.kind === "scalar" && input?.type === "direction") return `${Math.round(value.number * 3600) / 10}° from u`;
  if (value?.kind === "scalar") return String(Math.round(value.number * 1000) / 1000);
  if (value?.kind === "colour") return [value.r, value.g, value.b].map((v) => v.toFixed(3)).join(" ");
  return input ? (input.default ? input.default.join(" ") : isTangent(input.name) ? "along u" : "flat") : "0";
}

/** A slot by its role as people say it, and by its own name where that is another. */
export function slotWords(look: Look, studio: Studio, name: string): string {
  const role = look.slots?.[name]?.role;
  const words = studio.roles.find((r) => r.id === role)?.words;
  if (words === undefined || role === undefined) return name;
  if (role === name) return words;
  // Slots that came with a layer are named after its look and their role.
  return name.includes(role) ? name.replace(role, words) : `${words} (${name})`;
}
