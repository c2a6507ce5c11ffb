import { useQuery } from "@tanstack/react-query";
import { Drawer, DrawerClose } from "../../ui/Drawer";
import { useState } from "react";
import { get } from "../../api/client";
import { useHistory } from "../../api/queries";
import { LookPicture } from "../../ui/LookPicture";
import { useBench } from "../state/benchState";
import { differences } from "../document/differences";
import { keys } from "../../api/keys";

interface Props {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  onRestore: (number: number) => void;
}

/** Every edit with who and when. Going back to any of them is an edit of its own, so nothing is lost. */
export function HistoryDrawer({ open, onOpenChange, onRestore }: Props) {
  const { id, revision } = useBench("id", "revision");
  const history = useHistory(id, revision, open);
  const [compared, setCompared] = useState<number | null>(null);
  const rows = history.data ?? [];
  const time = (at: string) => new Date(at).toLocaleString("en-GB", { dateStyle: "short", timeStyle: "medium" });
  return (
    <Drawer title="History" open={open} onOpenChange={onOpenChange} testid="history">
      <p className="text-soft">Newest first. Going back is an edit of its own and can be undone.</p>
      {compared !== null && (
        <>
          <div className="my-2 grid grid-cols-2 gap-2">
            {[
              { words: compared === 0 ? "as first made" : `after edit ${compared}`, at: `&at=${compared}` },
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
        {[...rows, { number: 0, words: "made from its delivery", person: "", at: "", undone: false }].map((h) => (
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
                  data-testid="history-compare"
                  className="act text-small"
                  aria-pressed={compared === h.number}
                  onClick={() => setCompared(h.number)}
                >
                  Compare
                </button>
                <button className="act text-small" onClick={() => onRestore(h.number)}>
                  Restore
                </button>
              </>
            )}
          </li>
        ))}
      </ol>
      <DrawerClose data-testid="drawer-close" className="act mt-3">
        Close
      </DrawerClose>
    </Drawer>
  );
}

/** What has changed since, lane by lane. */
function Differences({ number }: { number: number }) {
  const { id, revision, look } = useBench("id", "revision", "look");
  const then = useQuery({
    queryKey: keys.lookAt(id, number, revision),
    queryFn: () => get("/api/v1/looks/{id}/history/{number}", { params: { path: { id, number } } }),
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
