import { useEffect, useSyncExternalStore } from "react";

/** Something the open view can do, found by typing in the command list. */
export interface Command {
  words: string;
  run: () => void;
}

let commands: Command[] = [];
const told = new Set<() => void>();

function set(next: Command[]) {
  commands = next;
  told.forEach((tell) => tell());
}

/** What a view offers while it is open. */
export function useCommands(offered: Command[]) {
  useEffect(() => {
    set(offered);
  });
  useEffect(() => () => set([]), []);
}

export const useOfferedCommands = () =>
  useSyncExternalStore(
    (tell) => {
      told.add(tell);
      return () => told.delete(tell);
    },
    () => commands,
  );
