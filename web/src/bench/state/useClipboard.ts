import { useEffect } from "react";
import { toast } from "sonner";
import type { LookEdit, Step } from "../../api/types";
import type { BenchStore } from "./benchState";
import { addressWords, laneAt, runOf, selectedSteps } from "../document/address";
import { refreshed } from "../document/steps";

const typing = (e: Event) =>
  e.target instanceof HTMLInputElement || e.target instanceof HTMLTextAreaElement || !!getSelection()?.toString();

/**
 * Copied steps travel as text, to any lane of any look; a look document that is pasted takes the place of this one,
 * as an edit that can be undone.
 */
export function useClipboard(store: BenchStore) {
  useEffect(() => {
    const copy = (e: ClipboardEvent) => {
      const { look, selection } = store.getState();
      const steps = selectedSteps(look, selection);
      if (typing(e) || steps.length === 0) return;
      e.preventDefault();
      e.clipboardData?.setData("text/plain", JSON.stringify({ kilnSteps: steps }, null, 1));
      toast(`${steps.length} step${steps.length === 1 ? "" : "s"} copied`);
    };
    const paste = (e: ClipboardEvent) => {
      const { look, selection, edit, select } = store.getState();
      if (typing(e)) return;
      const text = e.clipboardData?.getData("text/plain") ?? "";
      if (!text.trimStart().startsWith("{")) return;
      e.preventDefault();
      const made = read(text);
      if (typeof made === "string") {
        toast.error(made, { duration: 8000 });
        return;
      }
      if ("look" in made) {
        void edit({ edit: "restore", document: made.look, to: "a pasted document" });
        return;
      }
      const lane = selection?.lane;
      const chain = lane ? laneAt(look, lane)?.chain : undefined;
      if (!lane || !chain) {
        toast.error("Select a tile of a lane first: steps go after it.");
        return;
      }
      const at = runOf(selection)[1] + 1;
      const steps = refreshed(made.steps, chain);
      const edits: LookEdit[] = steps.map((step, i) => ({ edit: "stepInsert", lane, at: at + i, step }));
      void edit(
        edits.length === 1
          ? edits[0]
          : { edit: "batch", name: `${edits.length} steps inserted into ${addressWords(lane)}`, edits },
      );
      select({ lane, step: at, to: at + steps.length - 1 });
    };
    document.addEventListener("copy", copy);
    document.addEventListener("paste", paste);
    return () => {
      document.removeEventListener("copy", copy);
      document.removeEventListener("paste", paste);
    };
  }, [store]);
}

/** Steps, a whole look, or a sentence that says what is wrong with the text. */
function read(text: string): { steps: Step[] } | { look: object } | string {
  try {
    const value = JSON.parse(text) as { kilnSteps?: Step[]; schema?: number; lanes?: object };
    if (Array.isArray(value.kilnSteps) && value.kilnSteps.length > 0) return { steps: value.kilnSteps };
    if (typeof value.schema === "number" && typeof value.lanes === "object") return { look: value };
    return "What was pasted holds neither steps nor a look document; nothing was changed.";
  } catch (error) {
    return `What was pasted is damaged and cannot be read (${(error as Error).message}); nothing was changed.`;
  }
}
