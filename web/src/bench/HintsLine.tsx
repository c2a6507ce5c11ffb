import { X } from "lucide-react";
import { useState } from "react";
import { Tip } from "../ui/Tip";

const key = "kiln.benchHints";

/** What one should know on the first bench, one thing at a time. */
export const hints: { place: string; says: string }[] = [
  {
    place: "Maps",
    says: "The look’s files by role. Drag one onto a lane to connect it; its menu replaces or shares it.",
  },
  {
    place: "Lanes",
    says: "One row for each input: a map, then steps, then the range that comes out. Click a tile to set it, + to add a step.",
  },
  {
    place: "Renderer",
    says: "The switch at the top shows the same look as a renderer gets it, what is approximated, and what is lost.",
  },
  {
    place: "Findings",
    says: "What is probably wrong stands in the line below, with its evidence and a fix. Ctrl+K finds everything, ? shows the keys.",
  },
];

/** On the first bench, until they are read or closed; remembered on this machine. */
export function HintsLine() {
  const [at, setAt] = useState(() => (localStorage.getItem(key) === "read" ? hints.length : 0));
  const close = () => {
    localStorage.setItem(key, "read");
    setAt(hints.length);
  };
  const hint = hints[at];
  if (!hint) return null;
  const next = () => (at + 1 < hints.length ? setAt(at + 1) : close());
  return (
    <div role="note" data-testid="hint" className="flex items-center gap-3 border-t border-rule bg-raised px-3 py-1">
      <span className="font-mono text-small text-soft">
        {at + 1}/{hints.length}
      </span>
      <p className="min-w-0 grow text-small">
        <b className="font-medium">{hint.place}:</b> {hint.says}
      </p>
      <button className="act text-small" data-testid="hint-next" onClick={next}>
        {at + 1 < hints.length ? "Next" : "Done"}
      </button>
      <Tip words="Close the hints">
        <button aria-label="Close the hints" data-testid="hint-close" onClick={close}>
          <X size={13} aria-hidden="true" />
        </button>
      </Tip>
    </div>
  );
}
