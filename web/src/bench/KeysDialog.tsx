import { useEffect } from "react";
import { Modal, ModalClose } from "../ui/Modal";
import { benchKeys, benchWords } from "./state/benchKeys";

interface Props {
  open: boolean;
  onOpenChange: (open: boolean) => void;
}

/** The keys and the words of the bench, behind ?. */
export function KeysDialog({ open, onOpenChange }: Props) {
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const typing = e.target instanceof HTMLInputElement || e.target instanceof HTMLTextAreaElement;
      if (e.key !== "?" || typing) return;
      e.preventDefault();
      e.stopImmediatePropagation();
      onOpenChange(true);
    };
    // Before the frame's own listener, which shows the keys of places without keys of their own.
    window.addEventListener("keydown", onKey, true);
    return () => window.removeEventListener("keydown", onKey, true);
  }, [onOpenChange]);
  return (
    <Modal title="Keys and words of the bench" open={open} onOpenChange={onOpenChange} width={640} testid="keys">
      <Rows rows={benchKeys} mono />
      <h3 className="mt-3 mb-1 font-medium">Words</h3>
      <Rows rows={benchWords} />
      <p>
        <ModalClose className="act mt-3">Close</ModalClose>
      </p>
    </Modal>
  );
}

function Rows({ rows, mono }: { rows: [string, string][]; mono?: boolean }) {
  return (
    <table className="w-full text-left">
      <tbody>
        {rows.map(([head, what]) => (
          <tr key={head} className="border-t border-rule">
            <th
              scope="row"
              className={`py-0.5 pr-4 font-normal whitespace-nowrap ${mono ? "font-mono" : "font-medium"}`}
            >
              {head}
            </th>
            <td>{what}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
