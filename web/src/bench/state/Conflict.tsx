import type { LookEdit } from "../../api/types";
import { addressWords } from "../document/address";
import { editWords } from "../document/editWords";

export interface EditConflict {
  edit: LookEdit;
  words: string;
  /** Nobody else was faster: the person is signed out. */
  isSignedOut?: boolean;
}

/** Somebody else was faster: what was meant is still here, beside what they did, and can be done again on the newest state. */
export function Conflict({
  conflict,
  onSettle,
}: {
  conflict: EditConflict | null;
  onSettle: (again: boolean) => void;
}) {
  if (!conflict) return null;
  const lane = typeof conflict.edit.lane === "string" ? ` in ${addressWords(conflict.edit.lane)}` : "";
  return (
    <div
      role="alert"
      className="flex items-center gap-3 border-b border-ink bg-raised px-3 py-1.5"
      data-testid="conflict"
    >
      <p className="grow">
        <b className="font-medium">{conflict.isSignedOut ? "Signed out:" : "Changed by somebody else:"}</b>{" "}
        {conflict.words} <b className="ml-2 font-medium">Your edit, kept:</b> {editWords(conflict.edit.edit)}
        {lane}.{" "}
        {conflict.isSignedOut ? "Sign in again in another tab, then apply it." : "The lanes show the newest state."}
      </p>
      <button className="act" data-main="true" data-testid="conflict-apply" onClick={() => onSettle(true)}>
        {conflict.isSignedOut ? "Apply mine now" : "Apply mine on top"}
      </button>
      <button className="act" onClick={() => onSettle(false)}>
        Discard mine
      </button>
    </div>
  );
}
