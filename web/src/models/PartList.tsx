import { useState } from "react";
import type { LookSummary, ModelPart } from "../api/types";
import { Checkbox } from "../ui/Checkbox";
import { classes } from "../ui/classes";
import { LookPicture } from "../ui/LookPicture";
import { Tip } from "../ui/Tip";
import { grouped, sizeWords, stateOf } from "./binding";
import { draggedLook } from "./LookShelf";
import { ownWords } from "./settings";

interface Props {
  parts: ModelPart[];
  looks: LookSummary[];
  chosen: ReadonlySet<string>;
  onToggle: (path: string, extend: boolean) => void;
  /** Null where the person may not change anything. */
  onPut: ((parts: ModelPart[], look: string | null) => void) | null;
  only: string | null;
  onOnly: (path: string | null) => void;
}

/** The parts of a model: what lies on each, and how that came about. A look dropped on one lies on it, or on all that are selected. */
export function PartList({ parts, looks, chosen, onToggle, onPut, only, onOnly }: Props) {
  const [over, setOver] = useState<string | null>(null);
  const together = (part: ModelPart) => (chosen.has(part.path) ? parts.filter((p) => chosen.has(p.path)) : [part]);
  return (
    <ul aria-label="parts" data-testid="parts">
      {parts.map((part) => {
        const state = stateOf(part);
        const own = ownWords(part);
        return (
          <li
            key={part.path}
            data-part={part.name}
            data-look={part.lookName ?? ""}
            className={classes(
              "grid grid-cols-[auto_44px_minmax(0,1fr)_auto] items-center gap-2 border-b border-rule px-2 py-1",
              chosen.has(part.path) && "bg-glaze-pale",
              over === part.path && "outline-2 -outline-offset-2 outline-glaze",
            )}
            onDragOver={(e) => {
              if (!onPut || !e.dataTransfer.types.includes(draggedLook)) return;
              e.preventDefault();
              setOver(part.path);
            }}
            onDragLeave={() => setOver(null)}
            onDrop={(e) => {
              setOver(null);
              const look = e.dataTransfer.getData(draggedLook);
              if (look && onPut) onPut(together(part), look);
            }}
          >
            <span data-given className="contents">
              <Checkbox
                label={`select ${part.name}`}
                checked={chosen.has(part.path)}
                onChange={() => undefined}
                onClick={(e) => onToggle(part.path, e.shiftKey)}
              />
            </span>
            {part.lookId ? (
              <LookPicture
                look={part.lookId}
                size={96}
                asked={`&r=${looks.find((l) => l.id === part.lookId)?.revision ?? 0}`}
                alt=""
                className="size-11 bg-well"
              />
            ) : (
              <span className="hatched size-11" />
            )}
            <span className="min-w-0">
              <span className="flex items-baseline gap-2">
                <b data-given className="truncate font-medium">
                  {part.name}
                </b>
                <Tip words={`${part.path}\n${sizeWords(part.size)}, ${grouped(part.triangles)} triangles`}>
                  <button type="button" className="cursor-help shrink-0 font-mono text-small text-soft">
                    {grouped(part.triangles)}
                  </button>
                </Tip>
                {part.uvSets.length === 0 && !part.projection && (
                  <Tip words="The file has no UVs for this part. Maps lie on it from six sides, as large as their look says.">
                    <button type="button" className="cursor-help shrink-0 text-small font-medium">
                      no UVs
                    </button>
                  </Tip>
                )}
              </span>
              <span className="block truncate text-small">
                {part.lookName && <span data-given>{part.lookName} · </span>}
                <Tip words={state.reasons}>
                  <span className={state.asks ? "font-medium" : "text-soft"}>{state.words}</span>
                </Tip>
              </span>
              {own && <span className="block truncate text-small">{own}</span>}
              {state.asks && onPut && <Question part={part} looks={looks} onPut={(look) => onPut([part], look)} />}
            </span>
            <button
              data-given
              className="act text-small"
              aria-pressed={only === part.path}
              aria-label={`show only ${part.name}`}
              onClick={() => onOnly(only === part.path ? null : part.path)}
            >
              Only
            </button>
          </li>
        );
      })}
    </ul>
  );
}

/** The looks that a part's name could mean, each with its picture: one click says which. */
function Question({ part, looks, onPut }: { part: ModelPart; looks: LookSummary[]; onPut: (look: string) => void }) {
  return (
    <span className="mt-1 flex flex-wrap gap-1">
      {part.candidates.map((id) => {
        const look = looks.find((l) => l.id === id);
        return (
          <button
            key={id}
            className="act flex items-center gap-1 p-0 pr-1.5 text-small"
            data-candidate={look?.name}
            onClick={() => onPut(id)}
          >
            <LookPicture look={id} size={96} asked={`&r=${look?.revision ?? 0}`} alt="" className="size-9 bg-well" />
            {look?.name ?? "a look"}
          </button>
        );
      })}
    </span>
  );
}
