import { useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { toast } from "sonner";
import { send } from "../api/client";
import type { SheetAnswer } from "../api/types";

/** A table as CSV comes in: first it is said what it would do, line by line where it cannot be taken. */
export function TakeSheet({ id, revision }: { id: string; revision: number }) {
  const client = useQueryClient();
  const [sheet, setSheet] = useState<{ file: File; answer: SheetAnswer } | null>(null);
  const refused = (e: Error) => {
    toast.error(e.message, { duration: 8000 });
  };
  const tryIt = async (file: File) => {
    const answer = await send<SheetAnswer>("POST", `/looks/${id}/variants/sheet?tries=true`, file).catch(refused);
    if (answer) setSheet({ file, answer });
  };
  const take = async (file: File) => {
    const answer = await send<SheetAnswer>("POST", `/looks/${id}/variants/sheet`, file, revision).catch(refused);
    if (answer?.look) client.setQueryData(["look", id], answer.look);
    setSheet(null);
  };
  return (
    <>
      <label className="act">
        Take a sheet…
        <input
          type="file"
          accept=".csv,text/csv"
          aria-label="sheet of variants, CSV"
          className="sr-only"
          onChange={(e) => {
            const file = e.target.files?.[0];
            e.target.value = "";
            if (file) void tryIt(file);
          }}
        />
      </label>
      <Dialog.Root open={sheet !== null} onOpenChange={(open) => !open && setSheet(null)}>
        <Dialog.Portal>
          <Dialog.Overlay className="fixed inset-0 z-30 bg-black/25" />
          <Dialog.Content
            aria-describedby={undefined}
            className="fixed top-16 left-1/2 z-40 max-h-[80vh] w-[560px] -translate-x-1/2 overflow-auto border border-rule bg-panel p-4 shadow-lg"
          >
            <Dialog.Title className="text-large font-medium">{sheet?.file.name}</Dialog.Title>
            {sheet && <Answer answer={sheet.answer} />}
            <p className="mt-3 flex gap-2">
              {sheet &&
                sheet.answer.faults.length === 0 &&
                sheet.answer.added.length + sheet.answer.changed.length > 0 && (
                  <button className="act" data-main="true" onClick={() => void take(sheet.file)}>
                    Take it
                  </button>
                )}
              <Dialog.Close className="act">Leave it</Dialog.Close>
            </p>
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
    </>
  );
}

function Answer({ answer }: { answer: SheetAnswer }) {
  if (answer.faults.length > 0)
    return (
      <>
        <p className="my-2">Nothing of it is taken until this is right:</p>
        <ul aria-label="faults of the sheet">
          {answer.faults.map((f, i) => (
            <li key={i} className="border-b border-rule py-1">
              {f.line > 0 && <b className="font-medium">line {f.line}</b>} {f.column && <i>{f.column}</i>} {f.sentence}
            </li>
          ))}
        </ul>
      </>
    );
  const named = (names: string[]) => names.slice(0, 12).join(", ") + (names.length > 12 ? "…" : "");
  return (
    <>
      {answer.added.length > 0 && (
        <p className="my-2">
          {answer.added.length} new: {named(answer.added)}
        </p>
      )}
      {answer.changed.length > 0 && (
        <p className="my-2">
          {answer.changed.length} changed: {named(answer.changed)}
        </p>
      )}
      {answer.added.length + answer.changed.length === 0 && <p className="my-2">All of it is so already.</p>}
    </>
  );
}
