/** Severity by shape and word: filled square error, half square warning, outline advice. */
export function SeverityMark({ severity }: { severity: string }) {
  return (
    <span className="inline-flex items-center gap-1.5">
      <svg width="10" height="10" viewBox="0 0 10 10" aria-hidden="true">
        <rect
          x="1"
          y="1"
          width="8"
          height="8"
          fill={severity === "error" ? "currentColor" : "none"}
          stroke="currentColor"
          strokeWidth="1.4"
        />
        {severity === "warning" && <path d="M1 1h8L1 9z" fill="currentColor" />}
      </svg>
      {severity}
    </span>
  );
}

/** From the gravest on. */
export const severities = ["error", "warning", "advice"] as const;

/** How many findings there are of each severity. */
export function SeverityCounts({ findings }: { findings: readonly { severity: string }[] }) {
  return severities.map((s) => {
    const count = findings.filter((f) => f.severity === s).length;
    return count === 0 ? null : (
      <span key={s} className="flex shrink-0 items-center gap-1">
        <SeverityMark severity={s} /> <b className="font-mono font-medium">{count}</b>
      </span>
    );
  });
}
