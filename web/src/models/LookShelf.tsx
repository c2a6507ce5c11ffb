import { useState } from "react";
import { useFoundLooks } from "../api/queries";
import { LookPicture } from "../ui/LookPicture";

/** What is carried when a look is dragged. */
export const draggedLook = "application/x-kiln-look";

/** Looks of the studio in a row: drag one on a part, or click one for all parts that are selected. */
export function LookShelf({ selected, onPut }: { selected: number; onPut: (look: string) => void }) {
  const [words, setWords] = useState("");
  const looks = useFoundLooks({ words });
  const all = looks.data?.pages.flat() ?? [];
  return (
    <section aria-label="looks" className="border-t border-rule px-3 py-2">
      <div className="mb-1 flex items-center gap-3">
        <input
          className="entry w-48"
          placeholder="Find a look"
          aria-label="Find a look"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
        <span className="text-small text-soft">
          {selected > 0
            ? `A click puts a look on ${selected === 1 ? "the selected part" : `${selected} selected parts`}.`
            : "Drag a look on a part, or select parts first."}
        </span>
      </div>
      <ul className="flex gap-1 overflow-x-auto pb-1">
        {all.map((l) => (
          <li key={l.id} className="w-20 shrink-0">
            <button
              data-shelf={l.name}
              draggable
              aria-disabled={selected === 0}
              onDragStart={(e) => e.dataTransfer.setData(draggedLook, l.id)}
              onClick={() => selected > 0 && onPut(l.id)}
              className="block w-full border border-rule bg-raised text-left hover:border-ink"
            >
              <LookPicture
                look={l.id}
                size={96}
                asked={`&r=${l.revision}`}
                alt=""
                className="aspect-square w-full bg-well"
              />
              <span className="block truncate px-1 text-small">{l.name}</span>
            </button>
          </li>
        ))}
        {looks.hasNextPage && (
          <li className="shrink-0 self-center">
            <button className="act text-small" onClick={() => void looks.fetchNextPage()}>
              More
            </button>
          </li>
        )}
        {looks.data && all.length === 0 && (
          <li className="text-soft">{words === "" ? "There are no looks yet." : "No looks match."}</li>
        )}
      </ul>
    </section>
  );
}
