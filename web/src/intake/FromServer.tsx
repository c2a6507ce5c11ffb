import { useMutation } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { send } from "../api/client";
import { useFolderEntries, useServerFolders } from "../api/queries";
import type { Delivery } from "../api/types";

/** Takes a folder or a zip that lies on the server already. */
export function FromServer({ onTaken }: { onTaken: (id: string) => void }) {
  const folders = useServerFolders();
  const [folder, setFolder] = useState<string | null>(null);
  const [path, setPath] = useState("");
  const here = folder ?? folders.data?.[0]?.id ?? null;
  const entries = useFolderEntries(here, path);
  const take = useMutation({
    mutationFn: (p: string) => send<Delivery>("POST", "/deliveries/from-folder", { folder: here, path: p }),
    onSuccess: (d) => onTaken(d.id),
  });
  if (!folders.data || folders.data.length === 0) return null;
  return (
    <Dialog.Root>
      <Dialog.Trigger className="act">From the server</Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 bg-ink/20" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-24 left-1/2 max-h-[70vh] w-[560px] -translate-x-1/2 overflow-auto border border-rule bg-panel p-4"
        >
          <Dialog.Title className="mb-2 text-large font-medium">Take a delivery from the server</Dialog.Title>
          <label className="mb-2 flex items-center gap-2">
            folder
            <select
              className="entry grow"
              value={here ?? ""}
              onChange={(e) => {
                setFolder(e.target.value);
                setPath("");
              }}
            >
              {folders.data.map((f) => (
                <option key={f.id} value={f.id}>
                  {f.name}
                </option>
              ))}
            </select>
          </label>
          <div className="flex items-center gap-2 border-b border-rule pb-1">
            <span className="grow font-mono text-small">/{path}</span>
            {path !== "" && (
              <button className="act text-small" onClick={() => setPath(path.split("/").slice(0, -1).join("/"))}>
                Up
              </button>
            )}
            <button
              className="act text-small"
              data-main="true"
              disabled={take.isPending}
              onClick={() => take.mutate(path)}
            >
              Take all of this
            </button>
          </div>
          <ul>
            {entries.data?.map((e) => (
              <li key={e.path} className="flex items-center gap-2 border-b border-rule py-1">
                {e.isArchive ? (
                  <span className="grow break-all">{e.name}</span>
                ) : (
                  <button className="grow text-left break-all underline" onClick={() => setPath(e.path)}>
                    {e.name}
                  </button>
                )}
                <span className="font-mono text-small text-soft">{e.isArchive ? "zip" : `${e.files} files`}</span>
                <button className="act text-small" disabled={take.isPending} onClick={() => take.mutate(e.path)}>
                  Take
                </button>
              </li>
            ))}
          </ul>
          {entries.data?.length === 0 && <p className="mt-2 text-soft">No folder and no zip in here.</p>}
          <Dialog.Close className="act mt-3">Close</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
