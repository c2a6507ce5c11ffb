/** A JSON text with comments that people write, and a form over the same text: the text is what is kept, the form changes parts of it. */
import {
  applyEdits,
  findNodeAtLocation,
  modify,
  parse,
  parseTree,
  printParseErrorCode,
  type ParseError,
} from "jsonc-parser";

export type JsonPath = readonly (string | number)[];

/** What a text says; the fault is that of its first error, with its line from 1. */
export interface ReadText {
  value: unknown;
  fault: { line: number; sentence: string } | null;
}

const lenient = { allowTrailingComma: true };
const formattingOptions = { insertSpaces: true, tabSize: 2, eol: "\n" };

const sentences: Record<string, string> = {
  CommaExpected: "A comma is missing.",
  ColonExpected: "A colon is missing.",
  ValueExpected: "A value is missing.",
  PropertyNameExpected: "The name of a field is missing.",
  CloseBraceExpected: "A closing brace is missing.",
  CloseBracketExpected: "A closing bracket is missing.",
  EndOfFileExpected: "Something follows the end of the text.",
  UnexpectedEndOfString: "A closing quotation mark is missing.",
  UnexpectedEndOfComment: "The end of a comment is missing.",
};

export const lineAt = (text: string, offset: number): number => text.slice(0, offset).split("\n").length;

export function readText(text: string): ReadText {
  const errors: ParseError[] = [];
  const value: unknown = parse(text, errors, lenient);
  const first = errors[0];
  if (first) {
    const sentence = sentences[printParseErrorCode(first.error)] ?? "This is no JSON.";
    return { value: undefined, fault: { line: lineAt(text, first.offset), sentence } };
  }
  return { value, fault: null };
}

/** The part of a value at a path; undefined where there is none. */
export function partAt(value: unknown, path: JsonPath): unknown {
  let at = value;
  for (const key of path) at = (at as Record<string | number, unknown> | null | undefined)?.[key];
  return at;
}

/** The text with another value at a path; comments and the rest of it stay. Undefined removes the part. */
export function withPart(text: string, path: JsonPath, value: unknown): string {
  const there = partAt(readText(text).value, path) !== undefined;
  if (value === undefined && !there) return text;
  return applyEdits(text, modify(text, [...path], value, { formattingOptions }));
}

/** The text without a part, and without the objects around it that are empty then. */
export function withoutPart(text: string, path: JsonPath): string {
  const next = withPart(text, path, undefined);
  const around = path.slice(0, -1);
  const left = partAt(readText(next).value, around);
  const isEmpty = typeof left === "object" && left !== null && !Array.isArray(left) && Object.keys(left).length === 0;
  return around.length > 0 && isEmpty ? withoutPart(next, around) : next;
}

/** The text with a value more at the end of a list, which is made where it is not there. */
export function withItem(text: string, path: JsonPath, value: unknown): string {
  const list = partAt(readText(text).value, path);
  if (!Array.isArray(list)) return withPart(text, path, [value]);
  return applyEdits(text, modify(text, [...path, list.length], value, { formattingOptions, isArrayInsertion: true }));
}

/** The text with a key of an object called otherwise, where it stands. */
export function withKey(text: string, path: JsonPath, key: string): string {
  const node = findNodeAtLocation(parseTree(text, [], lenient)!, [...path])?.parent?.children?.[0];
  if (!node) return text;
  return text.slice(0, node.offset) + JSON.stringify(key) + text.slice(node.offset + node.length);
}

/** The line of a part, from 1; that of what is around it where it is not there. */
export function lineOf(text: string, path: JsonPath): number {
  const tree = parseTree(text, [], lenient);
  for (let at = [...path]; tree; at = at.slice(0, -1)) {
    const node = findNodeAtLocation(tree, at);
    if (node) return lineAt(text, node.parent?.type === "property" ? node.parent.offset : node.offset);
    if (at.length === 0) break;
  }
  return 1;
}
