/** What an edit is called to people. */
const words: Record<string, string> = {
  value: "the value",
  lane: "what is connected",
  slot: "the map",
  fields: "a setting",
  stepInsert: "a new step",
  stepRemove: "a removed step",
  stepChange: "a changed step",
  stepMove: "a moved step",
  tags: "the tags",
  rename: "the name",
  trims: "the trims",
  coverInsert: "a new layer",
  coverRemove: "a removed layer",
  coverMove: "a moved layer",
  coverChange: "a changed layer",
  sourceRename: "the name of a source",
  variant: "a variant",
  variants: "the variants",
  restore: "a pasted look",
};

export const editWords = (kind: string): string => words[kind] ?? "several changes";
