import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { get } from "../api/client";
import { useHistory } from "../api/queries";
import type { Look } from "../api/types";
import { LookPicture } from "../ui/LookPicture";
import { useBench } from "./BenchContext";
import { differences } from "./differences";

/** Every edit with who and when. Jump back to any of them: that is an edit of its own, so nothing is lost. */
export function HistoryDrawer({ onRestore }: { onRestore: (number: number) => void }) {
  const { id, revision } = useBench();
  const history = useHistory(id, revision);
  const [compared, setCompared] = useState<number | null>(null);
  const rows = history.data ?? [];
  const time = (at: string) => new Date(at).toLocaleString("en-GB", { dateStyle: "short", timeStyle: "medium" });
  return (
    <Dialog.Root modal={false}>
      <Dialog.Trigger className="act text-small">History</Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-[34px] right-0 bottom-0 z-20 w-[420px] overflow-auto border-l border-rule bg-panel p-4"
        >
          <Dialog.Title className="text-large font-medium">History</Dialog.Title>
          <p className="text-soft">Newest first. Going back is an edit of its own and can be undone.</p>
          {compared !== null && (
            <>
              <div className="my-2 grid grid-cols-2 gap-2">
                {[
                  { words: compared === 0 ? "as wired" : `after edit ${compared}`, at: `&at=${compared}` },
                  { words: "now", at: `&revision=${revision}` },
                ].map((side) => (
                  <figure key={side.words}>
                    <LookPicture
                      look={id}
                      size={180}
                      asked={side.at}
                      alt={side.words}
                      className="aspect-square w-full bg-well"
                    />
                    <figcaption className="text-small text-soft">{side.words}</figcaption>
                  </figure>
                ))}
              </div>
              <Differences number={compared} />
            </>
          )}
          <ol className="mt-2">
            {[...rows, { number: 0, words: "wired from its delivery", person: "", at: "", undone: false }].map((h) => (
              <li key={h.number} className="flex items-center gap-2 border-b border-rule py-1" data-history={h.number}>
                <span className={`grow ${h.undone ? "text-soft line-through" : ""}`}>
                  {h.words}
                  <span className="block text-small text-soft">
                    {h.person} {h.at && time(h.at)}
                  </span>
                </span>
                {!h.undone && (
                  <>
                    <button
                      className="act text-small"
                      aria-pressed={compared === h.number}
                      onClick={() => setCompared(h.number)}
                    >
                      Compare
                    </button>
                    <button className="act text-small" onClick={() => onRestore(h.number)}>
                      Go back here
                    </button>
                  </>
                )}
              </li>
            ))}
          </ol>
          <Dialog.Close className="act mt-3">Close</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** What has changed since, lane by lane. */
function Differences({ number }: { number: number }) {
  const { id, revision, look } = useBench();
  const then = useQuery({
    queryKey: ["look-at", id, number, revision],
    queryFn: () => get<Look>(`/looks/${id}/history/${number}`),
  });
  if (!then.data) return <p className="text-small text-soft">{then.error ? then.error.message : "Comparing…"}</p>;
  const found = differences(then.data, look);
  return (
    <section aria-label="what has changed since" className="mb-2 border border-rule bg-raised p-2">
      <h3 className="text-small text-soft">changed since then</h3>
      {found.length === 0 ? (
        <p>nothing</p>
      ) : (
        <ul className="max-h-40 overflow-auto">
          {found.map((words) => (
            <li key={words}>{words}</li>
          ))}
        </ul>
      )}
    </section>
  );
}
