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
