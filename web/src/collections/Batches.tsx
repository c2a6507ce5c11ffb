import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Modal, ModalClose } from "../ui/Modal";
import { useState } from "react";
import { toast } from "sonner";
import { del, get, post } from "../api/client";
import { useStudio } from "../api/queries";
import { Checkbox } from "../ui/Checkbox";
import { keys } from "../api/keys";

interface Props {
  collection: string;
  name: string;
}

/** A whole collection written for a dialect: ordered, followed look by look, fetched in one file. */
export function Batches({ collection, name }: Props) {
  const client = useQueryClient();
  const studio = useStudio();
  const [open, setOpen] = useState(false);
  const [drafts, setDrafts] = useState(false);
  const batches = useQuery({
    queryKey: keys.batches(),
    queryFn: () => get("/api/v1/batches"),
    enabled: open,
    refetchInterval: (q) => (q.state.data?.some((b) => b.state === "waiting" || b.state === "running") ? 700 : false),
  });
  const again = () => client.invalidateQueries({ queryKey: keys.batches() });
  const failed = (error: Error) => toast.error(error.message, { duration: 8000 });
  const order = useMutation({
    mutationFn: (dialect: string) =>
      post("/api/v1/collections/{id}/batches", { params: { path: { id: collection }, query: { dialect, drafts } } }),
    onSuccess: again,
    onError: failed,
  });
  const rerun = useMutation({
    mutationFn: (id: string) => post("/api/v1/batches/{id}/again", { params: { path: { id } } }),
    onSuccess: again,
    onError: failed,
  });
  const remove = useMutation({
    mutationFn: (id: string) => del("/api/v1/batches/{id}", { params: { path: { id } } }),
    onSuccess: again,
  });
  const title = (id: string) => studio.data?.dialects.find((d) => d.id === id)?.title ?? id;
  return (
    <Modal
      title={`${name}for a renderer`}
      trigger={
        <button data-testid="export-collection" className="act text-small">
          Export for a renderer…
        </button>
      }
      open={open}
      onOpenChange={setOpen}
      width={860}
    >
      <label className="mb-2 flex items-center gap-2 text-small">
        <Checkbox testid="drafts" checked={drafts} onChange={(on) => setDrafts(on)} />
        Drafts: looks as they are now. Otherwise the newest published version of each is exported.
      </label>
      <div className="mb-3 flex flex-wrap gap-2">
        {studio.data?.dialects.map((d) => (
          <button
            data-testid={`export-${d.id}`}
            key={d.id}
            className="act"
            disabled={order.isPending}
            onClick={() => order.mutate(d.id)}
            aria-label={`export ${name} for ${d.title}`}
          >
            {d.title}
          </button>
        ))}
      </div>
      {batches.data?.map((b) => (
        <section key={b.id} className="mb-4 border-t border-rule pt-2" data-batch={b.state}>
          <h3 className="mb-1 flex items-center gap-3">
            <b className="font-medium">
              {b.collection} for {title(b.dialect)}
            </b>
            <span className="font-mono text-small text-soft">
              {b.looks.filter((l) => l.state === "done").length} of {b.looks.length} written
              {b.state === "cancelled" && ", stopped"}
            </span>
            <span className="grow" />
            {(b.state === "cancelled" || b.looks.some((l) => l.state === "failed")) && (
              <button className="act text-small" onClick={() => rerun.mutate(b.id)}>
                Go on
              </button>
            )}
            {b.looks.some((l) => l.state === "done") && (
              <a data-testid="batch-download" className="act text-small" href={`/api/v1/batches/${b.id}/file`} download>
                Download
              </a>
            )}
            <button className="act text-small" onClick={() => remove.mutate(b.id)}>
              {b.state === "waiting" || b.state === "running" ? "Stop" : "Remove"}
            </button>
          </h3>
          <table className="w-full text-small">
            <thead className="text-left text-soft">
              <tr>
                <th className="font-normal">look</th>
                {["exact", "approximated", "baked", "lost", "MB", "s"].map((h) => (
                  <th key={h} className="text-right font-normal">
                    {h}
                  </th>
                ))}
                <th className="pl-3 font-normal">state</th>
              </tr>
            </thead>
            <tbody>
              {b.looks.map((l) => (
                <tr key={l.position} className="border-t border-rule">
                  <td>
                    {l.name}{" "}
                    <span className="text-soft">
                      {l.version ? `version ${l.version}` : l.state === "failed" ? "" : "draft"}
                    </span>
                  </td>
                  {l.state === "done"
                    ? [
                        l.exact,
                        l.approximated,
                        l.baked,
                        l.lost,
                        (l.bytes / 1048576).toFixed(1),
                        l.seconds.toFixed(1),
                      ].map((n, i) => (
                        <td key={i} className="text-right font-mono">
                          {n}
                        </td>
                      ))
                    : Array.from({ length: 6 }, (_, i) => <td key={i} />)}
                  <td className="pl-3">{l.message ?? l.state}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      ))}
      {batches.data?.length === 0 && (
        <p className="text-soft">
          No exports yet. Looks are exported as they are at that moment; one that cannot be exported does not hold the
          others back.
        </p>
      )}
      <ModalClose className="act mt-1">Close</ModalClose>
    </Modal>
  );
}
