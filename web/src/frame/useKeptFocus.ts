import { useEffect } from "react";

const focusable = 'button:not(:disabled), a[href], input:not(:disabled):not(.sr-only), textarea, [tabindex="0"]';

/** How long dialogs and menus have to give the focus back themselves, in milliseconds. */
const patience = 80;

/**
 * Whoever works by keyboard keeps their place: when what has the focus is gone (a finding is fixed, a step removed, a view left), the
 * focus goes to what is nearest of what stood around it.
 */
export function useKeptFocus() {
  useEffect(() => {
    let trail: Element[] = [];
    let timer = 0;
    const remember = (e: FocusEvent) => {
      trail = [];
      for (let at = e.target as Element | null; at && at !== document.body; at = at.parentElement) trail.push(at);
    };
    const mend = () => {
      if (document.activeElement && document.activeElement !== document.body) return;
      if (trail.length === 0 || trail[0].isConnected) return;
      for (const place of [...trail.filter((e) => e.isConnected), document.querySelector("main")]) {
        const next = place?.querySelector<HTMLElement>(focusable);
        if (next) return next.focus();
      }
    };
    const observer = new MutationObserver(() => {
      if (trail.length === 0 || trail[0].isConnected) return;
      window.clearTimeout(timer);
      timer = window.setTimeout(mend, patience);
    });
    document.addEventListener("focusin", remember);
    observer.observe(document.body, { subtree: true, childList: true });
    return () => {
      window.clearTimeout(timer);
      document.removeEventListener("focusin", remember);
      observer.disconnect();
    };
  }, []);
}
