import { useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useState, useSyncExternalStore } from "react";
import { toast } from "sonner";
import { ifMatch, post, Problem, sendFile } from "../../api/client";
import { loadSession } from "../../api/queries";
import type { components } from "../../api/schema";
import type { CellChange, LookEdit, LookInfo, LookWithMaps } from "../../api/types";
import type { EditConflict } from "./Conflict";
import { EditQueue, type Act, type Drawn } from "./editQueue";
import { keys } from "../../api/keys";

/**
 * Edits of one look: drawn at once, sent one after another. A second writer gets both sides; while the server is away, edits wait. The
 * parts of what it gives keep their identity as long as the look is the same one.
 */
export function useEdits(id: string, info: LookInfo | undefined) {
  const client = useQueryClient();
  const [conflict, setConflict] = useState<EditConflict | null>(null);
  const isThere = info !== undefined;
  const queue = useMemo(() => {
    const known = client.getQueryData<LookInfo>(keys.look(id));
    return isThere && known ? new EditQueue(known) : null;
  }, [client, id, isThere]);
  useEffect(() => {
    if (info) queue?.receive(info);
  }, [queue, info]);
  const drawn = useSyncExternalStore<Drawn | null>(queue?.subscribe ?? silent, queue?.drawn ?? none);
  const acts = useMemo(() => (queue ? actsOf(client, id, queue, setConflict) : null), [client, id, queue]);
  return {
    drawn,
    acts,
    conflict,
    settle: (again: boolean) => {
      const kept = conflict;
      setConflict(null);
      if (!again || !kept) return;
      // Another tab has signed in by now: its token is needed here as well.
      const ready = kept.isSignedOut ? loadSession().then(() => undefined) : Promise.resolve();
      void ready.then(() => acts?.edit(kept.edit));
    },
  };
}

/** An edit as the document of the server describes it; here each kind of edit is told by its name alone. */
export type SentEdit = components["schemas"]["LookEdit"];

const silent = () => () => undefined;
const none = () => null;

function actsOf(client: QueryClient, id: string, queue: EditQueue, setConflict: (c: EditConflict) => void) {
  // What is equal to what was there keeps its identity, so that only what changed is drawn anew.
  const answered = (look: LookInfo) => client.setQueryData<LookInfo>(keys.look(id), look) ?? look;
  const act = (change: (revision: number) => Promise<LookInfo>, edit: LookEdit | null = null) =>
    queue.push({
      edit,
      send: async (revision) => answered(await retried(() => change(revision))),
      refused: async (error) => {
        if (error instanceof Problem && error.status === 412) {
          await client.refetchQueries({ queryKey: keys.look(id) });
          if (edit) setConflict({ edit, words: error.message });
          else toast.error(error.message, { duration: 8000 });
        } else if (error instanceof Problem && error.status === 401 && edit)
          setConflict({ edit, words: "nothing was written.", isSignedOut: true });
        else toast.error((error as Error).message, { duration: 8000 });
      },
    });
  const of = { path: { id } };
  return {
    edit: (edit: LookEdit) =>
      act(
        (revision) => post("/api/v1/looks/{id}/edits", { params: of, body: edit as SentEdit, ...ifMatch(revision) }),
        edit,
      ),
    undo: () => act((revision) => post("/api/v1/looks/{id}/undo", { params: of, ...ifMatch(revision) })),
    redo: () => act((revision) => post("/api/v1/looks/{id}/redo", { params: of, ...ifMatch(revision) })),
    bring: (files: File[], lane: string | null) => queue.push(bringing(client, id, files, lane)),
    layOn: (look: string, version: number | null) =>
      act((revision) =>
        post("/api/v1/looks/{id}/covers", { params: of, body: { look, version }, ...ifMatch(revision) }),
      ),
    setCells: (cells: CellChange[]) =>
      act((revision) => post("/api/v1/looks/{id}/variants/cells", { params: of, body: cells, ...ifMatch(revision) })),
    restore: (number: number) =>
      act((revision) =>
        post("/api/v1/looks/{id}/history/{number}/restore", {
          params: { path: { id, number } },
          ...ifMatch(revision),
        }),
      ),
  };
}

/** Sends pictures to the look: wired where they were dropped, or sorted first. Says what became of each. */
function bringing(client: QueryClient, id: string, files: File[], lane: string | null): Act {
  const form = new FormData();
  for (const file of files) form.append("files", file, file.name);
  const words = files.length === 1 ? files[0].name : `${files.length} files`;
  const told = files.length > 0 ? toast.loading(`Reading ${words}…`) : undefined;
  return {
    edit: null,
    send: async (revision) => {
      const path = `/looks/${id}/maps${lane ? `?lane=${encodeURIComponent(lane)}` : ""}`;
      const done = await sendFile<LookWithMaps>(path, form, revision);
      const look = client.setQueryData<LookInfo>(keys.look(id), done.look) ?? done.look;
      toast(done.brought.map((b) => `${b.file} ${b.words}`).join("\n"), {
        id: told,
        duration: 8000,
        className: "!bg-ink !text-panel !border-0 !rounded-tile !pointer-events-none whitespace-pre-line",
      });
      return look;
    },
    refused: async (error) => {
      toast.error((error as Error).message, { id: told, duration: 8000 });
      if (error instanceof Problem && error.status === 412) await client.refetchQueries({ queryKey: keys.look(id) });
    },
  };
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
