import { useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useCallback, useRef, useState } from "react";
import { toast } from "sonner";
import { Problem, send } from "../api/client";
import { loadSession } from "../api/queries";
import type { CellChange, LookEdit, LookInfo, LookWithMaps } from "../api/types";
import type { EditConflict } from "./Conflict";

/**
 * Edits of one look, one after another, each on the revision that came before. A second writer gets both sides; while
 * the server is away, edits wait.
 */
export function useEdits(id: string) {
  const client = useQueryClient();
  const queue = useRef(Promise.resolve());
  const [conflict, setConflict] = useState<EditConflict | null>(null);
  const queued = useCallback((once: () => Promise<void>) => (queue.current = queue.current.then(once)), []);
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
          } else if (error instanceof Problem && error.status === 401 && path === "edits")
            setConflict({ edit: body as LookEdit, words: "nothing was written.", isSignedOut: true });
          else toast.error((error as Error).message, { duration: 8000 });
        }
      };
      return queued(once);
    },
    [client, id, queued],
  );
  return {
    edit: useCallback((edit: LookEdit) => act("edits", edit), [act]),
    undo: useCallback(() => act("undo"), [act]),
    redo: useCallback(() => act("redo"), [act]),
    bring: useCallback(
      (files: File[], lane: string | null) => queued(() => brought(client, id, files, lane)),
      [queued, client, id],
    ),
    layOn: useCallback((look: string, version: number | null) => act("covers", { look, version }), [act]),
    setCells: useCallback((cells: CellChange[]) => act("variants/cells", cells), [act]),
    restore: useCallback((number: number) => act(`history/${number}/restore`), [act]),
    conflict,
    settle: (again: boolean) => {
      const kept = conflict;
      setConflict(null);
      if (!again || !kept) return;
      // Another tab has signed in by now: its token is needed here as well.
      const ready = kept.isSignedOut ? loadSession().then(() => undefined) : Promise.resolve();
      void ready.then(() => act("edits", kept.edit));
    },
  };
}

/** Sends pictures to the look: wired where they were dropped, or sorted first. Says what became of each. */
async function brought(client: QueryClient, id: string, files: File[], lane: string | null) {
  const known = client.getQueryData<LookInfo>(["look", id]);
  if (!known || files.length === 0) return;
  const form = new FormData();
  for (const file of files) form.append("files", file, file.name);
  const words = files.length === 1 ? files[0].name : `${files.length} files`;
  const told = toast.loading(`${words}: being read…`);
  try {
    const path = `/looks/${id}/maps${lane ? `?lane=${encodeURIComponent(lane)}` : ""}`;
    const done = await send<LookWithMaps>("POST", path, form, known.revision);
    client.setQueryData(["look", id], done.look);
    toast(done.brought.map((b) => `${b.file} ${b.words}`).join("\n"), {
      id: told,
      duration: 8000,
      className: "!bg-ink !text-panel !border-0 !rounded-tile !pointer-events-none whitespace-pre-line",
    });
  } catch (error) {
    toast.error((error as Error).message, { id: told, duration: 8000 });
    if (error instanceof Problem && error.status === 412) await client.refetchQueries({ queryKey: ["look", id] });
  }
}

/** Milliseconds between tries while the server does not answer; the last one goes on for as long as it takes. */
const waits = [300, 700, 1500, 3000];

/** What a gateway says for a server that is not there. */
const away = [502, 503, 504];

/**
 * A server that restarts is waited for, however long it takes: what was done while it was away is kept and sent, and
 * leaving the page asks first.
 */
async function retried<T>(call: () => Promise<T>): Promise<T> {
  let told: string | number | undefined;
  const ask = (event: BeforeUnloadEvent) => event.preventDefault();
  try {
    for (let tries = 0; ; tries++) {
      try {
        return await call();
      } catch (error) {
        if (error instanceof Problem && !away.includes(error.status)) throw error;
        if (told === undefined) {
          told = toast("The server does not answer; your edit is kept and sent when it does", { duration: Infinity });
          window.addEventListener("beforeunload", ask);
        }
        await new Promise((done) => setTimeout(done, waits[Math.min(tries, waits.length - 1)]));
      }
    }
  } finally {
    window.removeEventListener("beforeunload", ask);
    if (told !== undefined) toast.dismiss(told);
  }
}
