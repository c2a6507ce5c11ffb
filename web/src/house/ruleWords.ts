import type { House, NamingRule } from "../api/types";

export const roleWords = (house: House | undefined, id: string) => house?.roles.find((r) => r.id === id)?.words ?? id;

/** A rule as a sentence. */
export function ruleWords(rule: NamingRule, house: House | undefined): string {
  switch (rule.kind) {
    case "role":
      return `means ${roleWords(house, rule.role ?? "")}`;
    case "packed":
      return `is packed: ${Object.entries(rule.channels ?? {})
        .map(([channel, role]) => `${roleWords(house, role)} in ${channel}`)
        .join(", ")}`;
    case "preview":
      return "marks a preview picture";
    case "normalUp":
      return "says that normals are Y up";
    case "normalDown":
      return "says that normals are Y down";
    default:
      return "says nothing about a map";
  }
}
