import { Progress } from "radix-ui";

/** How far long work is; the numbers stand beside it in words. */
export function ProgressBar({
  label,
  done,
  of,
  className = "",
}: {
  label: string;
  done: number;
  of: number;
  className?: string;
}) {
  const share = of > 0 ? Math.min(1, done / of) : 0;
  return (
    <Progress.Root
      aria-label={label}
      value={Math.round(share * 100)}
      className={`h-1.5 overflow-hidden rounded-full bg-rule ${className}`}
    >
      <Progress.Indicator className="h-full bg-ink" style={{ width: `${share * 100}%` }} />
    </Progress.Root>
  );
}
