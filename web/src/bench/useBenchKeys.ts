import { useEffect } from "react";
import type { BenchState } from "./BenchContext";
import { allChains, laneAt, runOf, selectedSteps } from "./lanes/address";
import { bypassing, removal } from "./lanes/runs";

interface Acts {
  undo: () => void;
  redo: () => void;
  blink: (on: boolean) => void;
}

/** The keys of the bench, as the list behind ? tells them. */
export const benchKeys: [string, string][] = [
  ["Ctrl+Z, Ctrl+Shift+Z", "undo, redo"],
  ["Page Down, Page Up", "the next and the previous lane"],
  ["/", "find an input: type, Enter selects it"],
  ["C", "connect the selected lane: choose from the list"],
  ["Home, End", "where the lane begins, its last step"],
  ["[ and ]", "the tile before and after"],
  ["Shift+arrow keys, Shift+click", "several steps of a lane at once"],
  ["Ctrl+C, Ctrl+V", "copy the selected steps; put them after the selected tile of any lane"],
  ["+ or Insert on a gap", "open the gap; type the step's name, Enter puts it in"],
  ["Delete", "take the selected steps out"],
  ["X", "leave the selected steps out, or back in"],
  ["O", "look at the selected tile alone, or not any more"],
  ["hold B", "blink to the other dialect's proof"],
  ["arrow keys on a slot", "exchange its picture"],
  ["arrow keys on the proof", "turn it; with Shift read numbers, Enter pins"],
  ["Escape", "nothing selected: placement and relief"],
];

const isTyping = (e: KeyboardEvent) =>
  e.target instanceof HTMLTextAreaElement ||
  e.target instanceof HTMLSelectElement ||
  (e.target instanceof HTMLInputElement && !["range", "checkbox", "radio"].includes(e.target.type));

export function useBenchKeys(bench: BenchState | null, { undo, redo, blink }: Acts) {
  useEffect(() => {
    if (!bench) return;
    const { look, selection, select, edit, solo, setSolo } = bench;
    const lanes = allChains(look)
      .map((c) => c.address)
      .filter((a) => !a.includes("/"));
    const chain = selection ? laneAt(look, selection.lane)?.chain : null;
    const steps = selectedSteps(look, selection);
    const goLane = (by: number) => {
      const at = selection ? lanes.indexOf(selection.lane) : by > 0 ? -1 : lanes.length;
      const lane = lanes[Math.min(lanes.length - 1, Math.max(0, at + by))];
      if (lane) select({ lane, step: -1 });
      document.querySelector(`[data-lane="${CSS.escape(lane)}"]`)?.scrollIntoView({ block: "nearest" });
    };
    const goTile = (to: number) =>
      selection && chain && select({ lane: selection.lane, step: Math.min(chain.steps.length - 1, Math.max(-1, to)) });
    const acts: Record<string, () => void> = {
      PageDown: () => goLane(1),
      PageUp: () => goLane(-1),
      Home: () => goTile(-1),
      End: () => chain && goTile(chain.steps.length - 1),
      "[": () => selection && goTile(selection.step - 1),
      "]": () => selection && goTile(selection.step + 1),
      Escape: () => select(null),
      "/": () => document.querySelector<HTMLInputElement>('input[aria-label="find an input"]')?.focus(),
      c: () => document.querySelector<HTMLSelectElement>('select[aria-label="connect"]')?.focus(),
    };
    if (selection && chain && steps.length > 0) {
      const extend = (by: number) => {
        const to = Math.min(chain.steps.length - 1, Math.max(0, (selection.to ?? selection.step) + by));
        select({ lane: selection.lane, step: selection.step, to });
      };
      acts.ShiftArrowRight = () => extend(1);
      acts.ShiftArrowLeft = () => extend(-1);
      acts.Delete = () => {
        select({ lane: selection.lane, step: runOf(selection)[0] - 1 });
        void edit(removal(selection.lane, steps));
      };
      acts.x = () => void edit(bypassing(selection.lane, steps));
    }
    if (selection && chain)
      acts.o = () => setSolo(solo?.lane === selection.lane && solo.step === selection.step ? null : selection);
    if (selection && chain)
      acts["+"] = () => {
        const gaps = document.querySelectorAll<HTMLButtonElement>(
          `[data-lane="${CSS.escape(selection.lane)}"] button[aria-label^="add a step"]`,
        );
        gaps[Math.min(gaps.length - 1, selection.step + 1)]?.click();
      };
    const down = (e: KeyboardEvent) => {
      if (isTyping(e)) return;
      if (e.ctrlKey && e.key.toLowerCase() === "z") {
        e.preventDefault();
        (e.shiftKey ? redo : undo)();
      } else if (e.ctrlKey || e.altKey || e.metaKey) return;
      else if (e.key === "b" && !e.repeat) blink(true);
      else if (!(e.target instanceof SVGElement) && !isProof(e)) {
        const act = acts[(e.shiftKey && e.key.startsWith("Arrow") ? "Shift" : "") + e.key];
        if (!act) return;
        e.preventDefault();
        act();
      }
    };
    const up = (e: KeyboardEvent) => e.key === "b" && blink(false);
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
    };
  });
}

/** The proof has keys of its own. */
const isProof = (e: KeyboardEvent) =>
  e.target instanceof HTMLElement && e.target.getAttribute("role") === "application";
