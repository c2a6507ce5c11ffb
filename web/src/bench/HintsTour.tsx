import { autoUpdate, flip, offset, shift, useFloating } from "@floating-ui/react-dom";
import { X } from "lucide-react";
import { useEffect, useState } from "react";
import { useGuide } from "../guide/guideState";

const key = "kiln.benchHints";

/** What one should know on the first bench, one thing at a time, each at the thing itself. */
export const hints: { place: string; at: string; side: "bottom" | "right" | "top"; says: string }[] = [
  {
    place: "Maps",
    at: "[aria-label=maps]",
    side: "bottom",
    says: "The look’s files by role. Drag one onto a lane to connect it; its menu replaces or shares it.",
  },
  {
    place: "Lanes",
    at: "[data-lane]",
    // Over the picture, so that no lane is covered.
    side: "right",
    says: "One row for each input: a map, then steps, then the range that comes out. Click a tile to set it, + to add a step.",
  },
  {
    place: "Renderer",
    at: "[data-testid=renderer]",
    side: "bottom",
    says: "The same look as a renderer gets it: what is approximated, and what is lost.",
  },
  {
    place: "Findings",
    at: "[data-testid=findings-line]",
    side: "top",
    says: "What is probably wrong, with its evidence and a fix. Ctrl+K finds everything, ? shows the keys.",
  },
];

/** On the first bench, until they are read or closed; remembered on this machine. They take no key and no click of the bench. */
export function HintsTour() {
  const [at, setAt] = useState(() => (localStorage.getItem(key) === "read" ? hints.length : 0));
  const showGuide = useGuide((s) => s.show);
  const guideIsOpen = useGuide((s) => s.open !== null);
  const close = () => {
    localStorage.setItem(key, "read");
    setAt(hints.length);
  };
  const hint = hints[at];
  const anchor = useElement(hint?.at);
  // One help at a time.
  if (!hint || guideIsOpen) return null;
  const next = () => (at + 1 < hints.length ? setAt(at + 1) : close());
  return (
    <Hint
      key={at}
      hint={hint}
      anchor={anchor}
      at={at}
      onNext={next}
      onClose={close}
      onGuide={() => {
        close();
        showGuide("first-look");
      }}
    />
  );
}

interface HintProps {
  hint: (typeof hints)[number];
  anchor: Element | null;
  at: number;
  onNext: () => void;
  onClose: () => void;
  onGuide: () => void;
}

/** One hint beside the thing itself. It is a note in the page's order, not a dialog: the Tab key passes through it. */
function Hint({ hint, anchor, at, onNext, onClose, onGuide }: HintProps) {
  const { refs, floatingStyles } = useFloating({
    elements: { reference: anchor },
    placement: hint.side === "right" ? "right" : `${hint.side}-start`,
    strategy: "fixed",
    middleware: [offset(6), flip(), shift({ padding: 8 })],
    whileElementsMounted: autoUpdate,
  });
  if (!anchor) return null;
  return (
    <div
      ref={refs.setFloating}
      role="note"
      aria-label={`Hint: ${hint.place}`}
      data-testid="hint"
      className="z-20 w-72 border-2 border-glaze bg-panel p-3 shadow-lg"
      style={floatingStyles}
    >
      <p className="mb-1 flex items-baseline gap-2">
        <b className="grow font-medium">{hint.place}</b>
        <span className="font-mono text-small text-soft">
          {at + 1}/{hints.length}
        </span>
        <button aria-label="Close the hints" data-testid="hint-close" onClick={onClose}>
          <X size={13} aria-hidden="true" />
        </button>
      </p>
      <p className="mb-2 text-small">{hint.says}</p>
      <button className="act text-small" data-testid="hint-next" onClick={onNext}>
        {at + 1 < hints.length ? "Next" : "Done"}
      </button>{" "}
      <button className="act text-small" onClick={onGuide}>
        Show the guide
      </button>
    </div>
  );
}

const patience = 250;

/** The first element that a selector finds, waited for; null while there is none. */
function useElement(selector: string | undefined): Element | null {
  const [found, setFound] = useState<{ selector: string; element: Element } | null>(null);
  useEffect(() => {
    if (!selector) return;
    const look = () => {
      const element = document.querySelector(selector);
      setFound(element && { selector, element });
      return element !== null;
    };
    if (look()) return;
    const timer = window.setInterval(() => look() && window.clearInterval(timer), patience);
    return () => window.clearInterval(timer);
  }, [selector]);
  return found !== null && found.selector === selector ? found.element : null;
}
