import { useState } from "react";
import { readText, withItem, withKey, withoutPart, withPart, type JsonPath } from "./jsonText";

const mostSteps = 200;
const wholeText = "";

/** A text on its way from what is kept to what is saved next: changed by a form or by hand, each change can be undone. */
export interface Draft {
  text: string;
  /** What the text says; undefined while it cannot be read. */
  value: unknown;
  fault: { line: number; sentence: string } | null;
  isChanged: boolean;
  /** The whole text; what is typed letter by letter is one step of undo. */
  write: (text: string, typed?: boolean) => void;
  set: (path: JsonPath, value: unknown) => void;
  /** Removes a part, and what is around it where that is empty then. */
  remove: (path: JsonPath) => void;
  add: (path: JsonPath, value: unknown) => void;
  rename: (path: JsonPath, key: string) => void;
  undo: (() => void) | null;
  discard: () => void;
}

/** @param kept The text as it is kept. A draft stays when that changes, until it is discarded. */
export function useDraft(kept: string): Draft {
  const [own, setOwn] = useState<string | null>(null);
  const [before, setBefore] = useState<(string | null)[]>([]);
  /** Where somebody types letter by letter, so that all of it is one step; null where nobody does. */
  const [typedAt, setTypedAt] = useState<string | null>(null);
  const text = own ?? kept;
  const { value, fault } = readText(text);
  const change = (next: string, at: string | null) => {
    if (next === text) return;
    if (at === null || at !== typedAt) setBefore([...before.slice(-mostSteps), own]);
    setTypedAt(at);
    setOwn(next);
  };
  return {
    text,
    value,
    fault,
    isChanged: own !== null && own !== kept,
    write: (next, typed = false) => change(next, typed ? wholeText : null),
    set: (path, part) => change(withPart(text, path, part), typeof part === "string" ? path.join("/") : null),
    remove: (path) => change(withoutPart(text, path), null),
    add: (path, part) => change(withItem(text, path, part), null),
    rename: (path, key) => change(withKey(text, path, key), null),
    undo:
      before.length === 0
        ? null
        : () => {
            setOwn(before[before.length - 1]);
            setBefore(before.slice(0, -1));
            setTypedAt(null);
          },
    discard: () => {
      setOwn(null);
      setBefore([]);
    },
  };
}
