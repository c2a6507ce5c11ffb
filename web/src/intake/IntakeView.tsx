import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { send } from "../api/client";
import { useDeliveries } from "../api/queries";
import { useDeliveryProgress } from "../frame/Frame";
import { droppedFiles, useUpload } from "./useUpload";

const megabytes = (bytes: number) => `${(bytes / 1048576).toFixed(1)} MB`;
const stateWords: Record<string, string> = {
  receiving: "arriving",
  analysing: "being looked at",
  ready: "sorted",
  failed: "not finished",
  cancelled: "cancelled",
};

/** Drop a delivery, and see those that came before. */
export function IntakeView() {
  const navigate = useNavigate();
  const client = useQueryClient();
  const deliveries = useDeliveries();
  const progress = useDeliveryProgress();
  const { state, start, cancel } = useUpload((id) => void navigate(`/intake/${id}`));
  const [over, setOver] = useState(false);
  const files = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const stop = useMutation({
    mutationFn: (id: string) => send("POST", `/deliveries/${id}/cancel`),
    onSettled: () => client.invalidateQueries({ queryKey: ["deliveries"] }),
  });
  const picked = (list: FileList | null) =>
    void start([...(list ?? [])].map((file) => ({ path: file.webkitRelativePath || file.name, file })));
  return (
    <div className="mx-auto max-w-4xl p-6">
      <h1 className="mb-3 text-title font-medium">Intake</h1>
      <section
        aria-label="Drop a delivery"
        data-over={over}
        className="border-2 border-dashed border-rule bg-raised px-6 py-8 text-center data-[over=true]:border-glaze"
        onDragOver={(e) => {
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(e) => {
          e.preventDefault();
          setOver(false);
          void droppedFiles(e.dataTransfer).then(start);
        }}
      >
        {state ? (
          <div role="status">
            <p>
              Sending <b>{state.name}</b>:{" "}
              <span className="font-mono">
                {megabytes(state.sent)} of {megabytes(state.total)}
              </span>
            </p>
            <progress
              className="my-2 w-80 accent-glaze"
              value={state.sent}
              max={Math.max(1, state.total)}
              aria-label="sent"
            />
            <p className="font-mono text-small text-soft">{state.file}</p>
            <button className="act mt-2" onClick={cancel}>
              Cancel
            </button>
          </div>
        ) : (
          <>
            <p className="mb-3 text-large">Drop a zip, a folder or loose maps here</p>
            <input
              ref={files}
              type="file"
              multiple
              hidden
              data-testid="files"
              onChange={(e) => picked(e.target.files)}
            />
            <input
              ref={folder}
              type="file"
              hidden
              onChange={(e) => picked(e.target.files)}
              {...{ webkitdirectory: "" }}
            />
            <button className="act" data-main="true" onClick={() => files.current?.click()}>
              Choose files
            </button>{" "}
            <button className="act" onClick={() => folder.current?.click()}>
              Choose a folder
            </button>
            <p className="mt-3 text-small text-soft">
              PNG, JPEG, TIFF, OpenEXR, Radiance HDR and WebP are read. Nothing is kept until all of it is understood.
            </p>
          </>
        )}
      </section>
      <h2 className="mt-6 mb-1 font-medium">Deliveries</h2>
      <table className="w-full border-collapse">
        <thead className="text-left text-small text-soft">
          <tr className="border-b border-rule">
            <th className="py-1 font-normal">name</th>
            <th className="font-normal">state</th>
            <th className="text-right font-normal">files</th>
            <th className="text-right font-normal">size</th>
            <th className="text-right font-normal">arrived</th>
          </tr>
        </thead>
        <tbody>
          {deliveries.data?.map((d) => {
            const p = d.state === "analysing" ? progress[d.id] : undefined;
            return (
              <tr key={d.id} className="border-b border-rule">
                <td className="py-1.5">
                  {d.state === "ready" || d.state === "analysing" ? (
                    <Link
                      className="underline decoration-rule underline-offset-2 hover:decoration-ink"
                      to={`/intake/${d.id}`}
                    >
                      {d.name}
                    </Link>
                  ) : (
                    d.name
                  )}
                  {d.message && <p className="text-small text-soft">{d.message}</p>}
                </td>
                <td>
                  {stateWords[d.state] ?? d.state}{" "}
                  {p && p.total > 0 && (
                    <span className="font-mono text-small">
                      {p.done}/{p.total}
                    </span>
                  )}{" "}
                  {(d.state === "analysing" || d.state === "receiving") && (
                    <button className="act text-small" onClick={() => stop.mutate(d.id)}>
                      Cancel
                    </button>
                  )}
                </td>
                <td className="text-right font-mono">{d.files || ""}</td>
                <td className="text-right font-mono">{d.bytes ? megabytes(d.bytes) : ""}</td>
                <td className="text-right font-mono text-small">
                  {new Date(d.created).toLocaleString("en-GB", { dateStyle: "short", timeStyle: "short" })}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {deliveries.data?.length === 0 && (
        <p className="mt-3 text-soft">Nothing has come in yet. The demo deliveries lie under var/demo after ./start.</p>
      )}
    </div>
  );
}
