import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Modal, ModalClose } from "../ui/Modal";
import { useState } from "react";
import { toast } from "sonner";
import { del, get, post } from "../api/client";
import { useChosenLooks } from "../looks/chosenLooks";
import { Checkbox } from "../ui/Checkbox";
import { keys } from "../api/keys";

const kinds = [
  { kind: "contact", words: "Contact sheet", about: "every look under one light, as HTML to print and as PNG" },
  {
    kind: "looks",
    words: "Look sheets",
    about: "a page each: pictures under the standard lights, lanes, values, maps, variants, versions, rules",
  },
];

/** Sheets to hand round: ordered, made by a job, opened to be printed or saved. */
export function Sheets({ collection, name }: { collection: string; name: string }) {
  const client = useQueryClient();
  const { chosen } = useChosenLooks();
  const [open, setOpen] = useState(false);
  const [onlyChosen, setOnlyChosen] = useState(false);
  const sheets = useQuery({
    queryKey: keys.sheets(),
    queryFn: () => get("/api/v1/sheets"),
    enabled: open,
    refetchInterval: (q) => (q.state.data?.some((s) => s.state === "waiting") ? 700 : false),
  });
  const again = () => client.invalidateQueries({ queryKey: keys.sheets() });
  const order = useMutation({
    mutationFn: (kind: string) =>
      post("/api/v1/sheets", { body: { kind, collection, looks: onlyChosen ? chosen : null } }),
    onSuccess: again,
    onError: (error) => toast.error(error.message, { duration: 8000 }),
  });
  const remove = useMutation({
    mutationFn: (id: string) => del("/api/v1/sheets/{id}", { params: { path: { id } } }),
    onSuccess: again,
  });
  return (
    <Modal
      title={`Sheets of ${name}`}
      trigger={
        <button data-testid="sheets" className="act text-small">
          Sheets…
        </button>
      }
      open={open}
      onOpenChange={setOpen}
      width={720}
    >
      {kinds.map((k) => (
        <p key={k.kind} className="mb-2 flex items-baseline gap-3">
          <button
            data-testid={`sheet-${k.kind}`}
            className="act w-32"
            disabled={order.isPending}
            onClick={() => order.mutate(k.kind)}
          >
            {k.words}
          </button>
          <span className="text-soft">{k.about}</span>
        </p>
      ))}
      {chosen.length > 0 && (
        <label className="mb-3 block">
          <Checkbox checked={onlyChosen} onChange={(on) => setOnlyChosen(on)} /> only the {chosen.length} chosen looks
        </label>
      )}
      <ul aria-label="sheets">
        {sheets.data?.map((s) => (
          <li key={s.id} className="flex items-center gap-3 border-t border-rule py-1.5" data-sheet={s.state}>
            <b className="font-medium">
              {kinds.find((k) => k.kind === s.kind)?.words}, {s.title}
            </b>
            <span className="font-mono text-small text-soft">
              {s.message ?? (s.state === "done" ? `${s.of} looks` : `${s.done} of ${s.of}`)}
            </span>
            <span className="grow" />
            {s.files
              .filter((f) => f.endsWith(".html"))
              .map((f) => (
                <a
                  data-testid="sheet-open"
                  key={f}
                  className="act text-small"
                  href={`/api/v1/sheets/${s.id}/file/${f}`}
                  target="_blank"
                  rel="noreferrer"
                >
                  Open for printing
                </a>
              ))}
            {s.state === "done" && (
              <a className="act text-small" href={`/api/v1/sheets/${s.id}/all`} download>
                Download with {s.files.length - 1} PNG
              </a>
            )}
            <button className="act text-small" onClick={() => remove.mutate(s.id)}>
              {s.state === "waiting" ? "Stop" : "Remove"}
            </button>
          </li>
        ))}
      </ul>
      <ModalClose className="act mt-2">Close</ModalClose>
    </Modal>
  );
}
