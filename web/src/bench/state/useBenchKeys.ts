import { useEffect, useRef } from "react";
import type { BenchStore } from "./benchState";
import { allChains, laneAt, runOf, selectedSteps } from "../document/address";
import { bypassing, removal } from "../document/runs";

interface Acts {
  undo: () => void;
  redo: () => void;
  blink: (on: boolean) => void;
}

const isTyping = (e: KeyboardEvent) => e.target instanceof HTMLTextAreaElement || e.target instanceof HTMLInputElement;

export function useBenchKeys(store: BenchStore, { undo, redo, blink }: Acts) {
  const acts = useRef({ undo, redo, blink });
  useEffect(() => {
    acts.current = { undo, redo, blink };
  });
  useEffect(() => {
    const down = (e: KeyboardEvent) => {
      if (isTyping(e)) return;
      if (e.ctrlKey && e.key.toLowerCase() === "z") {
        e.preventDefault();
        acts.current[e.shiftKey ? "redo" : "undo"]();
      } else if (e.ctrlKey || e.altKey || e.metaKey) return;
      else if (e.key === "b" && !e.repeat) acts.current.blink(true);
      else if (!hasOwnKeys(e)) {
        const act = actsOf(store)[(e.shiftKey && e.key.startsWith("Arrow") ? "Shift" : "") + e.key];
        if (!act) return;
        e.preventDefault();
        act();
      }
    };
    const up = (e: KeyboardEvent) => e.key === "b" && acts.current.blink(false);
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
    };
  }, [store]);
}

/** What each key does now. */
function actsOf(store: BenchStore): Record<string, () => void> {
  const { look, selection, select, edit, solo, setSolo } = store.getState();
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
    "/": () => document.querySelector<HTMLInputElement>('[data-testid="find-input"]')?.focus(),
    c: () => document.querySelector<HTMLButtonElement>('[data-testid="connect"]')?.click(),
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
        `[data-lane="${CSS.escape(selection.lane)}"] [data-testid="gap"]`,
      );
      gaps[Math.min(gaps.length - 1, selection.step + 1)]?.click();
    };
  return acts;
}

/** Controls that use these keys themselves; all others are the bench's. */
const moves = /^(Arrow|Home|End|Page| |Enter)/;

/** Things with keys of their own: lists that are open and the proof take all, sliders and choices those that move them. */
const hasOwnKeys = (e: KeyboardEvent) => {
  if (e.target instanceof SVGElement) return true;
  if (!(e.target instanceof HTMLElement)) return false;
  if (e.target.closest('[role="menu"], [role="listbox"], [role="dialog"]')) return true;
  if (e.target.closest('[role="application"]')) return e.key !== "Escape";
  return moves.test(e.key) && !!e.target.closest('[role="slider"], [role="radiogroup"], [role="tablist"]');
};
