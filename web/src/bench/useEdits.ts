import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef } from "react";
import { toast } from "sonner";
import { Problem, send } from "../api/client";
import type { LookEdit, LookInfo } from "../api/types";

/** Edits of one look, one after another, each on the revision that came before. A second writer gets a sentence, not a lost edit. */
export function useEdits(id: string) {
  const client = useQueryClient();
  const queue = useRef(Promise.resolve());
  const act = useCallback(
    (path: string, body?: unknown) => {
      queue.current = queue.current.then(async () => {
        const known = client.getQueryData<LookInfo>(["look", id]);
        if (!known) return;
        try {
          client.setQueryData(["look", id], await send<LookInfo>("POST", `/looks/${id}/${path}`, body, known.revision));
        } catch (error) {
          toast.error((error as Error).message, { duration: 8000 });
          if (error instanceof Problem && error.status === 412)
            await client.invalidateQueries({ queryKey: ["look", id] });
        }
      });
      return queue.current;
    },
    [client, id],
  );
  return {
    edit: useCallback((edit: LookEdit) => act("edits", edit), [act]),
    undo: useCallback(() => act("undo"), [act]),
    redo: useCallback(() => act("redo"), [act]),
  };
}
