import { useQueryClient } from "@tanstack/react-query";
import { Modal, ModalClose } from "../ui/Modal";
import { useState } from "react";
import { toast } from "sonner";
import { sendFile } from "../api/client";
import type { SheetAnswer } from "../api/types";
import { keys } from "../api/keys";

/** A table as CSV comes in: first it is said what it would do, line by line where it cannot be taken. */
export function TakeSheet({ id, revision }: { id: string; revision: number }) {
  const client = useQueryClient();
  const [sheet, setSheet] = useState<{ file: File; answer: SheetAnswer } | null>(null);
  const refused = (e: Error) => {
    toast.error(e.message, { duration: 8000 });
  };
  const tryIt = async (file: File) => {
    const answer = await sendFile<SheetAnswer>(`/looks/${id}/variants/sheet?tries=true`, file).catch(refused);
    if (answer) setSheet({ file, answer });
  };
  const take = async (file: File) => {
    const answer = await sendFile<SheetAnswer>(`/looks/${id}/variants/sheet`, file, revision).catch(refused);
    if (answer?.look) client.setQueryData(keys.look(id), answer.look);
    setSheet(null);
  };
  return (
    <>
      <label className="act">
        Import CSV…
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
      <Modal
        title={`${sheet?.file.name}`}
        open={sheet !== null}
        onOpenChange={(open) => !open && setSheet(null)}
        width={560}
      >
        {sheet && <Answer answer={sheet.answer} />}
        <p className="mt-3 flex gap-2">
          {sheet && sheet.answer.faults.length === 0 && sheet.answer.added.length + sheet.answer.changed.length > 0 && (
            <button data-testid="sheet-import" className="act" data-main="true" onClick={() => void take(sheet.file)}>
              Import
            </button>
          )}
          <ModalClose data-testid="sheet-cancel" className="act">
            Cancel
          </ModalClose>
        </p>
      </Modal>
    </>
  );
}

function Answer({ answer }: { answer: SheetAnswer }) {
  if (answer.faults.length > 0)
    return (
      <>
        <p className="my-2">Nothing is imported until these lines are corrected:</p>
        <ul aria-label="problems in the file">
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
      {answer.added.length + answer.changed.length === 0 && <p className="my-2">Already up to date.</p>}
    </>
  );
}
