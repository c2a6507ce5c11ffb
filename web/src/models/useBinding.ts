import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { post, put } from "../api/client";
import { keys } from "../api/keys";
import { type Binding, undoing } from "./binding";

/** Puts looks on parts of a model, and takes the last such changes back, one by one. */
export function useBinding(model: string) {
  const client = useQueryClient();
  const [done, setDone] = useState<Binding[]>([]);
  const [busy, setBusy] = useState(false);
  const work = async (ask: () => Promise<unknown>, then?: () => void) => {
    setBusy(true);
    try {
      await ask();
      then?.();
    } catch (e) {
      toast.error(e instanceof Error ? e.message : "It was not done.", { duration: 8000 });
    } finally {
      setBusy(false);
      await Promise.all([keys.model(model), keys.models()].map((queryKey) => client.invalidateQueries({ queryKey })));
    }
  };
  const send = (bindings: Binding[], then: () => void) =>
    work(async () => {
      for (const body of bindings) await put("/api/v1/models/{id}/bindings", { params: { path: { id: model } }, body });
    }, then);
  const last = done.at(-1);
  return {
    busy,
    bind: (binding: Binding) => send([binding], () => setDone((all) => [...all, binding])),
    /** Looks of the studio on parts without one, where names are sure; where they are not, it is asked. */
    byName: () => work(() => post("/api/v1/models/{id}/bindings/by-name", { params: { path: { id: model } } })),
    undo: last && (() => send(undoing(last), () => setDone((all) => all.slice(0, -1)))),
  };
}
