interface Props {
  label: string;
  note?: string;
  name: string;
  kind?: "text" | "password";
  autoComplete: string;
  autoFocus?: boolean;
  value: string;
  onChange: (text: string) => void;
}

/** A line of a form: what it is for above, the entry below. */
export function LabelledEntry({ label, note, name, kind = "text", autoComplete, autoFocus, value, onChange }: Props) {
  return (
    <label className="block">
      {label} {note && <span className="text-small text-soft">{note}</span>}
      <input
        className="entry mt-1 block w-full"
        name={name}
        type={kind}
        autoFocus={autoFocus}
        autoComplete={autoComplete}
        value={value}
        onChange={(e) => onChange(e.target.value)}
      />
    </label>
  );
}
