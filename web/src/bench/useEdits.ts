import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef, useState } from "react";
import { toast } from "sonner";
import { Problem, send } from "../api/client";
import type { LookEdit, LookInfo } from "../api/types";
import type { EditConflict } from "./Conflict";

/** Edits of one look, one after another, each on the revision that came before. A second writer gets both sides; while the server is away, edits wait. */
export function useEdits(id: string) {
  const client = useQueryClient();
  const queue = useRef(Promise.resolve());
  const [conflict, setConflict] = useState<EditConflict | null>(null);
  const act = useCallback(
    (path: string, body?: unknown) => {
      const once = async () => {
        const known = client.getQueryData<LookInfo>(["look", id]);
        if (!known) return;
        try {
          client.setQueryData(
            ["look", id],
            await retried(() => send<LookInfo>("POST", `/looks/${id}/${path}`, body, known.revision)),
          );
        } catch (error) {
          if (error instanceof Problem && error.status === 412) {
            await client.refetchQueries({ queryKey: ["look", id] });
            if (path === "edits") setConflict({ edit: body as LookEdit, words: error.message });
            else toast.error(error.message, { duration: 8000 });
          } else toast.error((error as Error).message, { duration: 8000 });
        }
      };
      queue.current = queue.current.then(once);
      return queue.current;
    },
    [client, id],
  );
  return {
    edit: useCallback((edit: LookEdit) => act("edits", edit), [act]),
    undo: useCallback(() => act("undo"), [act]),
    redo: useCallback(() => act("redo"), [act]),
    layOn: useCallback((look: string, version: number | null) => act("covers", { look, version }), [act]),
    restore: useCallback((number: number) => act(`history/${number}/restore`), [act]),
    conflict,
    settle: (again: boolean) => {
      const kept = conflict;
      setConflict(null);
      if (again && kept) void act("edits", kept.edit);
    },
  };
}

/** Milliseconds between tries while the server does not answer; then the edit is given up with a sentence. */
const waits = [300, 700, 1500, 3000, 5000, 8000, 12000];

/** A server that restarts is waited for: what was done while it was away is kept and sent. */
async function retried<T>(call: () => Promise<T>): Promise<T> {
  for (let tries = 0; ; tries++) {
    try {
      return await call();
    } catch (error) {
      if (error instanceof Problem || tries === waits.length) throw error;
      if (tries === 0) toast("The server does not answer; your edit is kept and sent when it does", { duration: 6000 });
      await new Promise((done) => setTimeout(done, waits[tries]));
    }
  }
}
