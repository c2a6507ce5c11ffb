import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { del, post } from "../api/client";
import { useServerFolders } from "../api/queries";
import { keys } from "../api/keys";

/** Folders of the server from which deliveries are taken without sending them. Only an admin adds them. */
export function ServerFolders({ admin }: { admin: boolean }) {
  const client = useQueryClient();
  const folders = useServerFolders();
  const [path, setPath] = useState("");
  const again = () => void client.invalidateQueries({ queryKey: keys.serverFolders() });
  const add = useMutation({
    mutationFn: () => post("/api/v1/server-folders", { body: { path: path.trim(), name: null } }),
    onSuccess: () => {
      setPath("");
      again();
    },
  });
  const remove = useMutation({
    mutationFn: (id: string) => del("/api/v1/server-folders/{id}", { params: { path: { id } } }),
    onSuccess: again,
  });
  return (
    <section aria-labelledby="folders">
      <h2 id="folders" className="mb-1 font-medium">
        Folders of the server
      </h2>
      {folders.data?.length === 0 && (
        <p className="text-soft">
          None yet. {admin ? "Add a folder from which everybody can import deliveries." : "An administrator adds them."}
        </p>
      )}
      <ul>
        {folders.data?.map((f) => (
          <li key={f.id} className="flex items-baseline gap-2 border-b border-rule py-1">
            <span className="grow">
              {f.name} <span className="font-mono text-small break-all text-soft">{f.path}</span>
            </span>
            {admin && (
              <button className="act text-small" onClick={() => remove.mutate(f.id)}>
                Remove
              </button>
            )}
          </li>
        ))}
      </ul>
      {admin && (
        <form
          className="mt-2 flex gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            add.mutate();
          }}
        >
          <input
            className="entry grow font-mono"
            placeholder="/full/path/on/the/server"
            aria-label="folder on the server"
            value={path}
            onChange={(e) => setPath(e.target.value)}
          />
          <button className="act" disabled={path.trim() === ""}>
            Add
          </button>
        </form>
      )}
    </section>
  );
}
