import { useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { toast } from "sonner";
import { send } from "../api/client";
import type { BroughtArchive, WaitingArchive } from "../api/types";

/** An archive of another server: verified, looked at with what stands against it, then brought in. */
export function BringArchive() {
  const client = useQueryClient();
  const [opening, setOpening] = useState(false);
  const [archive, setArchive] = useState<WaitingArchive | null>(null);
  const [copies, setCopies] = useState<string[]>([]);
  const refused = (e: Error) => {
    toast.error(e.message, { duration: 10000 });
  };
  const open = async (file: File) => {
    setOpening(true);
    const opened = await send<WaitingArchive>("POST", "/archives", file).catch(refused);
    setOpening(false);
    setCopies([]);
    if (opened) setArchive(opened);
  };
  const leave = () => {
    if (archive) void send("DELETE", `/archives/${archive.token}`).catch(() => undefined);
    setArchive(null);
  };
  const bring = async () => {
    const done = await send<BroughtArchive>("POST", `/archives/${archive!.token}`, { asCopies: copies }).catch(refused);
    if (!done) return;
    setArchive(null);
    toast(`${done.looks} looks have come into ${done.collection}`);
    void client.invalidateQueries({ queryKey: ["collections"] });
    void client.invalidateQueries({ queryKey: ["looks"] });
  };
  const plan = archive?.plan;
  const count = (state: string) => plan?.looks.filter((l) => l.state === state).length ?? 0;
  const coming = count("new") + copies.length;
  return (
    <>
      <label className="act mt-3 block text-center text-small">
        {opening ? "Being verified…" : "Bring an archive in…"}
        <input
          type="file"
          accept=".zip"
          aria-label="archive of a collection"
          className="sr-only"
          onChange={(e) => {
            const file = e.target.files?.[0];
            e.target.value = "";
            if (file) void open(file);
          }}
        />
      </label>
      <Dialog.Root open={archive !== null} onOpenChange={(on) => !on && leave()}>
        <Dialog.Portal>
          <Dialog.Overlay className="fixed inset-0 z-30 bg-black/25" />
          <Dialog.Content
            aria-describedby={undefined}
            className="fixed top-16 left-1/2 z-40 max-h-[84vh] w-[640px] -translate-x-1/2 overflow-auto border border-rule bg-panel p-4"
          >
            <Dialog.Title className="mb-2 text-large font-medium">{plan?.collection}</Dialog.Title>
            {plan && (
              <>
                <p>
                  {plan.looks.length} looks: {count("new")} new, {count("same")} here already, {count("changed")} here
                  with something else in them. {plan.contents} files are new here, {(plan.bytes / 1048576).toFixed(1)}{" "}
                  MB. Every checksum is right.
                </p>
                {plan.collectionIsHere && <p>They come into the collection of that name that is here.</p>}
                {plan.remarks.map((r) => (
                  <p key={r}>{r}</p>
                ))}
                <ul className="my-2" aria-label="looks of the archive">
                  {plan.looks.map((l) => (
                    <li key={l.id} className="flex items-center gap-3 border-t border-rule py-1">
                      <b className="font-medium">{l.name}</b>
                      <span className="text-small text-soft">
                        {l.edits} edits, {l.versions} versions
                        {l.nameTaken && "; another look here has this name"}
                      </span>
                      <span className="grow" />
                      {l.state === "changed" ? (
                        <label className="text-small">
                          <input
                            type="checkbox"
                            className="accent-glaze"
                            checked={copies.includes(l.id)}
                            onChange={() =>
                              setCopies(copies.includes(l.id) ? copies.filter((c) => c !== l.id) : [...copies, l.id])
                            }
                          />{" "}
                          bring it as a look of its own
                        </label>
                      ) : (
                        <span className="text-small">{l.state === "new" ? "new" : "the same here"}</span>
                      )}
                    </li>
                  ))}
                </ul>
              </>
            )}
            <p className="flex gap-2">
              <button className="act" data-main="true" disabled={coming === 0} onClick={() => void bring()}>
                Bring {coming} look{coming === 1 ? "" : "s"} in
              </button>
              <button className="act" onClick={leave}>
                Leave it
              </button>
            </p>
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
    </>
  );
}
