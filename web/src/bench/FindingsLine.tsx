import type { Finding, LookEdit } from "../api/types";
import { SeverityMark } from "../ui/Severity";

/** What is probably wrong, with evidence and the fix. */
export function FindingsLine({
  findings,
  onEdit,
  onShow,
}: {
  findings: Finding[];
  onEdit: (edit: LookEdit) => void;
  onShow: (lane: string) => void;
}) {
  if (findings.length === 0) return <p className="border-t border-rule px-3 py-1 text-small text-soft">No findings.</p>;
  return (
    <ul aria-label="Findings" className="max-h-32 overflow-auto border-t border-rule">
      {findings.map((f) => (
        <li key={f.code + f.subject} className="flex items-center gap-3 border-b border-rule bg-raised px-3 py-1">
          <SeverityMark severity={f.severity} />
          <button className="grow text-left" onClick={() => onShow(f.subject)}>
            {f.message} <span className="text-small text-soft">{f.evidence}</span>
          </button>
          {f.repair && (
            <button className="act" onClick={() => onEdit(f.repair as unknown as LookEdit)}>
              Fix: {f.fix}
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}
