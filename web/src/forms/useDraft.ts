import { useState } from "react";
import { readText, withItem, withKey, withoutPart, withPart, type JsonPath } from "./jsonText";

const mostSteps = 200;

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
  const [isTyping, setTyping] = useState(false);
  const text = own ?? kept;
  const { value, fault } = readText(text);
  const write = (next: string, typed = false) => {
    if (next === text) return;
    if (!typed || !isTyping) setBefore([...before.slice(-mostSteps), own]);
    setTyping(typed);
    setOwn(next);
  };
  return {
    text,
    value,
    fault,
    isChanged: own !== null && own !== kept,
    write,
    set: (path, part) => write(withPart(text, path, part)),
    remove: (path) => write(withoutPart(text, path)),
    add: (path, part) => write(withItem(text, path, part)),
    rename: (path, key) => write(withKey(text, path, key)),
    undo:
      before.length === 0
        ? null
        : () => {
            setOwn(before[before.length - 1]);
            setBefore(before.slice(0, -1));
            setTyping(false);
          },
    discard: () => {
      setOwn(null);
      setBefore([]);
    },
  };
}
