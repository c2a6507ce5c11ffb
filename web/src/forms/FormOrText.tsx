import { useState, type ReactNode } from "react";
import { Segments } from "../ui/Segments";
import { TextView, type TextFault } from "./TextView";
import type { Draft } from "./useDraft";

interface Props {
  draft: Draft;
  /** What the text is, for those who hear it. */
  label: string;
  /** What the server found wrong in the text. */
  faults: readonly TextFault[];
  readOnly?: boolean;
  /** What stands over the switch and stays in view with it. */
  head?: ReactNode;
  /** What stands beside the switch. */
  actions?: ReactNode;
  className?: string;
  children: ReactNode;
}

/** One draft, seen as a form or as its text. Both show the same at any time, since the form changes the text. */
export function FormOrText({ draft, label, faults, readOnly, head, actions, className, children }: Props) {
  const [view, setView] = useState<"form" | "text">("form");
  const found = draft.fault ? [draft.fault] : faults;
  return (
    <section aria-label={label}>
      <div className="sticky top-0 z-10 mb-2 space-y-2 border-b border-rule bg-panel py-2" data-sticky>
        {head}
        <div className="flex flex-wrap items-center gap-2">
          <Segments
            label="how it is shown"
            testid="form-or-text"
            value={view}
            options={[
              { value: "form", words: "Form" },
              { value: "text", words: "Text", tip: "the same as JSON, for those who prefer to type" },
            ]}
            onChange={(v) => setView(v as "form" | "text")}
          />
          {actions}
          {draft.undo && (
            <button className="act" data-testid="draft-undo" onClick={draft.undo}>
              Undo
            </button>
          )}
          {draft.isChanged && (
            <button className="act" data-testid="draft-discard" onClick={draft.discard}>
              Discard changes
            </button>
          )}
        </div>
      </div>
      {view === "text" ? (
        <TextView
          label={label}
          text={draft.text}
          faults={found}
          readOnly={readOnly}
          className={className}
          onChange={(text) => draft.write(text, true)}
        />
      ) : draft.fault ? (
        <p role="alert" className="border border-ink px-2 py-1">
          Line {draft.fault.line} of the text cannot be read: {draft.fault.sentence} Mend it under <i>Text</i>, or undo.
        </p>
      ) : (
        <fieldset disabled={readOnly} className="min-w-0">
          <legend className="sr-only">{label}</legend>
          {children}
        </fieldset>
      )}
    </section>
  );
}
