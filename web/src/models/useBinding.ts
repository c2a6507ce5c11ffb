import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { post, put } from "../api/client";
import { keys } from "../api/keys";
import type { ChosenMaterial, PartSettingsChange } from "../api/types";
import { type Binding, undoing } from "./binding";
import { takingBack } from "./settings";

/** One act of a person: a look put on parts, or what parts have of their own. */
type Act = { bindings: Binding[] } | { settings: PartSettingsChange[] };

const back = (act: Act): Act =>
  "settings" in act ? { settings: takingBack(act.settings) } : { bindings: act.bindings.flatMap(undoing) };

/** Puts looks on parts of a model, sets what parts have of their own, and takes the last such acts back, one by one. */
export function useBinding(model: string) {
  const client = useQueryClient();
  const [done, setDone] = useState<Act[]>([]);
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
      await Promise.all(
        [keys.model(model), keys.models(), keys.modelMaterials(model), keys.modelFindings(model), keys.looks()].map(
          (queryKey) => client.invalidateQueries({ queryKey }),
        ),
      );
    }
  };
  const params = { path: { id: model } };
  const send = (act: Act, then: () => void) =>
    work(async () => {
      if ("settings" in act) await put("/api/v1/models/{id}/settings", { params, body: { parts: act.settings } });
      else for (const body of act.bindings) await put("/api/v1/models/{id}/bindings", { params, body });
    }, then);
  const act = (a: Act) => send(a, () => setDone((all) => [...all, a]));
  const last = done.at(-1);
  return {
    busy,
    bind: (...bindings: Binding[]) => act({ bindings }),
    set: (settings: PartSettingsChange[]) => act({ settings }),
    /** Looks of the studio on parts without one, where names are sure; where they are not, it is asked. */
    byName: () => work(() => post("/api/v1/models/{id}/bindings/by-name", { params })),
    /** Looks made of materials that the model came with, and put on the parts that have these. Undo takes them off; they stay. */
    make: (materials: ChosenMaterial[]) =>
      work(async () => {
        const made = await post("/api/v1/models/{id}/materials/looks", { params, body: { materials } });
        const names = made.looks.map((l) => l.name);
        toast(
          `${names.length === 1 ? "A look was" : `${names.length} looks were`} made: ` +
            names.slice(0, 4).join(", ") +
            (names.length > 4 ? "…" : ""),
        );
        setDone((all) => [
          ...all,
          {
            bindings: made.looks.map((l) => ({
              look: l.look,
              parts: l.parts.map((p) => ({ path: p.path, was: p.was ?? null })),
            })),
          },
        ]);
      }),
    undo: last && (() => send(back(last), () => setDone((all) => all.slice(0, -1)))),
  };
}
