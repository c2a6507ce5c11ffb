import type { ReactNode } from "react";

interface Props {
  label: string;
  /** What the field is, and what a change of it changes. */
  about?: string;
  unit?: string;
  /** What it does now: "2 looks break it". */
  effect?: ReactNode;
  problems?: readonly string[];
  testid?: string;
  children: ReactNode;
}

/** A field of a form: its label and unit, the control, what it means and what it does; what is wrong with it stands under it. */
export function FieldRow({ label, about, unit, effect, problems = [], testid, children }: Props) {
  return (
    <div
      role="group"
      aria-label={unit ? `${label} in ${unit}` : label}
      data-testid={testid}
      className="grid grid-cols-[minmax(120px,28%)_minmax(0,1fr)_auto] gap-x-3 border-t border-rule py-1.5"
    >
      <span>
        {label}
        {unit && <span className="text-small text-soft"> ({unit})</span>}
      </span>
      <div className="flex min-w-0 flex-wrap items-center gap-x-3 gap-y-1">{children}</div>
      <span className="w-max text-right text-small">{effect}</span>
      {about && <p className="col-span-2 col-start-2 text-small text-soft">{about}</p>}
      {problems.map((sentence) => (
        <p key={sentence} role="alert" className="col-span-2 col-start-2 border-l-2 border-ink pl-2 text-small">
          {sentence}
        </p>
      ))}
    </div>
  );
}
