import type { Studio, NamingRule } from "../api/types";

export const roleWords = (studio: Studio | undefined, id: string) =>
  studio?.roles.find((r) => r.id === id)?.words ?? id;

/** A rule as a sentence. */
export function ruleWords(rule: NamingRule, studio: Studio | undefined): string {
  switch (rule.kind) {
    case "role":
      return `means ${roleWords(studio, rule.role ?? "")}`;
    case "packed":
      return `is packed: ${Object.entries(rule.channels ?? {})
        .map(([channel, role]) => `${roleWords(studio, role)} in ${channel}`)
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
