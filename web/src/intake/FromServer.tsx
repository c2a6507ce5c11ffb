import { useMutation } from "@tanstack/react-query";
import { Modal, ModalClose } from "../ui/Modal";
import { useState } from "react";
import { post } from "../api/client";
import { useFolderEntries, useServerFolders } from "../api/queries";
import { Select } from "../ui/Select";

/** Takes a folder or a zip that lies on the server already. */
export function FromServer({ onTaken }: { onTaken: (id: string) => void }) {
  const folders = useServerFolders();
  const [folder, setFolder] = useState<string | null>(null);
  const [path, setPath] = useState("");
  const here = folder ?? folders.data?.[0]?.id ?? null;
  const entries = useFolderEntries(here, path);
  const take = useMutation({
    mutationFn: (p: string) => post("/api/v1/deliveries/from-folder", { body: { folder: here ?? "", path: p } }),
    onSuccess: (d) => onTaken(d.id),
  });
  if (!folders.data || folders.data.length === 0) return null;
  return (
    <Modal
      title="Import from the server"
      trigger={<button className="act">Import from the server…</button>}
      width={560}
    >
      <label className="mb-2 flex items-center gap-2">
        folder
        <Select
          label="folder"
          className="grow"
          value={here ?? ""}
          options={folders.data.map((f) => ({ value: f.id, words: f.name }))}
          onChange={(chosen) => {
            setFolder(chosen);
            setPath("");
          }}
        />
      </label>
      <div className="flex items-center gap-2 border-b border-rule pb-1">
        <span className="grow font-mono text-small">/{path}</span>
        {path !== "" && (
          <button className="act text-small" onClick={() => setPath(path.split("/").slice(0, -1).join("/"))}>
            Up
          </button>
        )}
        <button className="act text-small" data-main="true" disabled={take.isPending} onClick={() => take.mutate(path)}>
          Import this folder
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
              Import
            </button>
          </li>
        ))}
      </ul>
      {entries.data?.length === 0 && <p className="mt-2 text-soft">No folders or zips here.</p>}
      <ModalClose className="act mt-3">Close</ModalClose>
    </Modal>
  );
}
