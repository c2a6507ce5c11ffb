/** The schema of profiles, as the form reads it: what each field is entered with, and what a new part begins as. */
import type { JsonPath } from "../../../forms/jsonText";

export interface Schema {
  type?: string | string[];
  enum?: (string | null)[];
  properties?: Record<string, Schema>;
  required?: string[];
  items?: Schema;
  additionalProperties?: Schema | boolean;
  $ref?: string;
  title?: string;
  description?: string;
  default?: unknown;
  "x-unit"?: string;
  "x-formula"?: boolean;
  "x-choices"?: Record<string, string>;
  "x-keys"?: string;
  "x-values"?: string;
  "x-oneOf"?: string;
  "x-names"?: Record<string, Record<string, string>>;
  "x-sections"?: { title: string; fields: string[] }[];
}

export type FieldKind =
  "choice" | "switch" | "number" | "text" | "formula" | "words" | "numbers" | "list" | "object" | "table";

/** A schema with what it refers to put in its place; its own title and description hold. */
export function resolved(whole: Schema, schema: Schema): Schema {
  if (!schema.$ref) return schema;
  let at: unknown = whole;
  for (const part of schema.$ref.replace(/^#\//, "").split("/")) at = (at as Record<string, unknown>)[part];
  return { ...resolved(whole, at as Schema), ...schema, $ref: undefined };
}

const types = (schema: Schema) => [schema.type ?? []].flat();

export function kindOf(schema: Schema): FieldKind {
  if (schema["x-choices"] ?? schema.enum) return "choice";
  if (schema.properties) return "object";
  if (typeof schema.additionalProperties === "object") return "table";
  const own = types(schema);
  if (own.includes("boolean")) return "switch";
  if (own.includes("array")) {
    const item = schema.items ?? {};
    if (item.properties ?? item.$ref) return "list";
    return types(item).includes("number") ? "numbers" : "words";
  }
  if (own.includes("number") || own.includes("integer")) return "number";
  return schema["x-formula"] ? "formula" : "text";
}

/** Whether a part may be left out, or be null. */
export const isOptional = (around: Schema, name: string) => !around.required?.includes(name);

/** What a part begins as when it is added: only what it cannot do without. */
export function blank(whole: Schema, given: Schema): unknown {
  const schema = resolved(whole, given);
  switch (kindOf(schema)) {
    case "choice":
      return Object.keys(schema["x-choices"] ?? {})[0] ?? schema.enum?.[0] ?? "";
    case "switch":
      return false;
    case "number":
      return 0;
    case "list":
    case "words":
    case "numbers":
      return [];
    case "table":
      return {};
    case "object":
      return Object.fromEntries((schema.required ?? []).map((name) => [name, blank(whole, schema.properties![name])]));
    default:
      return "";
  }
}

/** Problems of a field itself, or of it and all its parts. */
export const problemsAt = (problems: readonly { path: string; sentence: string }[], path: JsonPath) =>
  problems.filter((p) => p.path === path.join("/")).map((p) => p.sentence);
export const problemsWithin = (problems: readonly { path: string }[], path: JsonPath) => {
  const own = path.join("/");
  return problems.filter((p) => p.path === own || p.path.startsWith(`${own}/`)).length;
};

/** Words or numbers that stand in one entry, with commas between them. */
export const asWords = (typed: string) =>
  typed
    .split(",")
    .map((w) => w.trim())
    .filter((w) => w !== "");
export function asNumbers(typed: string): number[] | null {
  const numbers = asWords(typed).map(Number);
  return numbers.every(Number.isFinite) ? numbers : null;
}

/** Names that a field or its keys are chosen from; undefined where any will do. */
export function namesFor(
  whole: Schema,
  profile: unknown,
  which: string | undefined,
): { value: string; words: string }[] | undefined {
  if (which === undefined) return undefined;
  if (which === "inputs") {
    const inputs = (profile as { inputs?: unknown } | undefined)?.inputs;
    return (Array.isArray(inputs) ? inputs : [])
      .map((i: unknown) => (i as { name?: unknown } | null)?.name)
      .filter((n): n is string => typeof n === "string" && n !== "")
      .map((n) => ({ value: n, words: n }));
  }
  return Object.entries(whole["x-names"]?.[which] ?? {}).map(([value, words]) => ({
    value,
    words,
  }));
}
