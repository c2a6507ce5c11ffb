import { toast } from "sonner";
import { post } from "../api/client";
import type { EditedLook } from "../api/types";

const longEnough = 12000;

/** Says what became of an edit of several looks: each refusal with its reason, and one way to take all of it back. */
export function tellManyDone(done: EditedLook[], words: (count: number) => string, refresh: () => Promise<unknown>) {
  const kept = done.filter((d) => !d.refused);
  tellRefused(done);
  const takeBack = async () => {
    const at = kept.map((k) => ({ id: k.id, revision: k.revision }));
    try {
      tellRefused(await post("/api/v1/looks/undo", { body: at }));
    } catch (error) {
      toast.error((error as Error).message, { duration: longEnough });
    }
    await refresh();
  };
  toast(words(kept.length), {
    duration: longEnough,
    action: { label: "Undo in all of them", onClick: () => void takeBack() },
  });
  void refresh();
}

function tellRefused(looks: EditedLook[]) {
  for (const r of looks.filter((l) => l.refused)) toast.error(`${r.name}: ${r.refused}`, { duration: longEnough });
}
