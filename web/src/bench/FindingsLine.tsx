import { severities, SeverityCounts } from "../ui/Severity";
import { useBench } from "./state/benchState";

/** What is probably wrong, in one line at the foot of the board: counts by severity and the gravest sentence. Opens the list beside. */
export function FindingsLine() {
  const { board, side, setSide } = useBench("board", "side", "setSide");
  const findings = board?.findings ?? [];
  const standing = findings.filter((f) => !f.accepted);
  const accepted = findings.length - standing.length;
  const first = severities.flatMap((s) => standing.filter((f) => f.severity === s))[0];
  // Before anything was looked at nothing is said to be in order.
  if (!board)
    return (
      <p role="status" className="border-t border-rule px-3 py-1 text-small text-soft">
        Checking the look…
      </p>
    );
  if (findings.length === 0) return <p className="border-t border-rule px-3 py-1 text-small text-soft">No findings.</p>;
  return (
    <button
      className="flex w-full items-center gap-4 border-t border-rule px-3 py-1 text-left text-small hover:bg-raised"
      data-testid="findings-line"
      aria-expanded={side === "findings"}
      onClick={() => setSide(side === "findings" ? "settings" : "findings")}
    >
      <SeverityCounts findings={standing} />
      {standing.length === 0 && <span className="text-soft">nothing open</span>}
      {first && <span className="min-w-0 grow truncate">{first.message}</span>}
      {accepted > 0 && <span className="shrink-0 text-soft">{accepted} accepted</span>}
    </button>
  );
}
