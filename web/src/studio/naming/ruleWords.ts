import type { Studio } from "../../api/types";
import { nameOf } from "../../ui/names";
import type { WrittenRule } from "./writtenRule";

export const roleWords = (studio: Studio | undefined, id: string) =>
  studio?.roles.find((r) => r.id === id)?.words ?? id;

/** A rule as a sentence. */
export function ruleWords(rule: Pick<WrittenRule, "kind" | "role" | "channels">, studio: Studio | undefined): string {
  switch (rule.kind) {
    case "role":
      return `means ${roleWords(studio, rule.role ?? "")}`;
    case "packed":
      return `is packed: ${Object.entries(rule.channels ?? {})
        .map(([channel, role]) => `${roleWords(studio, role)} in ${nameOf(channel).toLowerCase()}`)
        .join(", ")}`;
    case "preview":
      return "marks a preview picture";
    case "normalUp":
      return "says that normals are OpenGL (Y up)";
    case "normalDown":
      return "says that normals are DirectX (Y down)";
    default:
      return "is ignored";
  }
}
