import { useQueryClient } from "@tanstack/react-query";
import { Modal, ModalActions } from "../ui/Modal";
import { counted } from "../ui/numbers";
import { useState } from "react";
import { toast } from "sonner";
import { del, post, sendFile } from "../api/client";
import type { WaitingArchive } from "../api/types";
import { Checkbox } from "../ui/Checkbox";
import { keys } from "../api/keys";

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
    const opened = await sendFile<WaitingArchive>("/archives", file).catch(refused);
    setOpening(false);
    setCopies([]);
    if (opened) setArchive(opened);
  };
  const leave = () => {
    if (archive)
      void del("/api/v1/archives/{token}", { params: { path: { token: archive.token } } }).catch(() => undefined);
    setArchive(null);
  };
  const bring = async () => {
    const done = await post("/api/v1/archives/{token}", {
      params: { path: { token: archive!.token } },
      body: { asCopies: copies },
    }).catch(refused);
    if (!done) return;
    setArchive(null);
    toast(`${done.looks} looks imported into ${done.collection}`);
    void client.invalidateQueries({ queryKey: keys.collections() });
    void client.invalidateQueries({ queryKey: keys.looks() });
  };
  const plan = archive?.plan;
  const count = (state: string) => plan?.looks.filter((l) => l.state === state).length ?? 0;
  const coming = count("new") + copies.length;
  return (
    <>
      <label className="act mt-3 block text-center text-small">
        {opening ? "Verifying…" : "Import an archive…"}
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
      <Modal title={`${plan?.collection}`} open={archive !== null} onOpenChange={(on) => !on && leave()} width={640}>
        {plan && (
          <>
            <p>
              {plan.looks.length} looks: {count("new")} new, {count("same")} already here, {count("changed")} here with
              different content. {plan.contents} files are new here, {(plan.bytes / 1048576).toFixed(1)} MB. All
              checksums match.
            </p>
            {plan.collectionIsHere && <p>They are added to the collection of that name.</p>}
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
                      <Checkbox
                        checked={copies.includes(l.id)}
                        onChange={() =>
                          setCopies(copies.includes(l.id) ? copies.filter((c) => c !== l.id) : [...copies, l.id])
                        }
                      />{" "}
                      import it as a separate look
                    </label>
                  ) : (
                    <span className="text-small">{l.state === "new" ? "new" : "already up to date"}</span>
                  )}
                </li>
              ))}
            </ul>
          </>
        )}
        <ModalActions words={`Import ${counted(coming, "look")}`} disabled={coming === 0} onDo={() => void bring()} />
      </Modal>
    </>
  );
}
