import { useState } from "react";
import { Link } from "react-router";
import { useModelFindings } from "../api/queries";
import type { ModelFinding, ModelPart, PartSettingsChange } from "../api/types";
import { SeverityCounts, SeverityMark } from "../ui/Severity";
import type { Binding } from "./binding";
import { confirming, settingsFor } from "./findings";

interface Props {
  model: string;
  parts: ModelPart[];
  busy: boolean;
  /** Selects the parts that a finding is about. */
  onShow: (paths: string[]) => void;
  /** Shows the materials of the file. */
  onMaterials: () => void;
  /** What mends a finding; null where the person may not change anything. */
  mend: { set: (changes: PartSettingsChange[]) => void; bind: (...bindings: Binding[]) => void } | null;
}

/** What is probably wrong about the model: counts and the gravest sentence in a line, which opens the list. */
export function ModelFindings({ model, parts, ...rest }: Props) {
  const findings = useModelFindings(model).data;
  const [open, setOpen] = useState(false);
  if (!findings || findings.length === 0)
    return (
      <p role="status" className="border-b border-rule px-3 py-1 text-small text-soft">
        {findings ? "No findings." : "Checking the model…"}
      </p>
    );
  return (
    <div className="min-h-0 border-b border-rule">
      <button
        className="flex w-full items-center gap-3 px-3 py-1 text-left text-small hover:bg-raised"
        data-testid="model-findings-line"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        <SeverityCounts findings={findings} />
        <span data-given className="min-w-0 grow truncate">
          {findings[0].message}
        </span>
      </button>
      {open && (
        <ul aria-label="findings" className="max-h-64 overflow-auto border-t border-rule bg-sunken">
          {findings.map((f) => (
            <FindingRow key={f.code + f.parts.join()} finding={f} parts={parts} {...rest} />
          ))}
        </ul>
      )}
    </div>
  );
}

function FindingRow({
  finding,
  parts,
  busy,
  onShow,
  onMaterials,
  mend,
}: { finding: ModelFinding } & Omit<Props, "model">) {
  const kind = finding.repair?.kind;
  const look = parts.find((p) => p.path === finding.parts[0])?.lookId;
  return (
    <li className="border-b border-rule px-3 py-1.5" data-finding={finding.code}>
      <button data-given className="w-full text-left" onClick={() => onShow(finding.parts)}>
        <SeverityMark severity={finding.severity} /> {finding.message}{" "}
        <span className="text-small text-soft">{finding.evidence}</span>
      </button>
      {kind === "look" && look && (
        <Link className="act mt-1 inline-block text-small" to={`/looks/${look}`}>
          {finding.fix}
        </Link>
      )}
      {kind === "materials" && (
        <button className="act mt-1 text-small" onClick={onMaterials}>
          {finding.fix}
        </button>
      )}
      {mend && (kind === "settings" || kind === "confirm") && (
        <button
          data-given
          className="act mt-1 text-small whitespace-normal"
          data-testid="model-finding-fix"
          disabled={busy}
          onClick={() =>
            kind === "settings" ? mend.set(settingsFor(finding, parts)) : mend.bind(...confirming(finding, parts))
          }
        >
          Fix: {finding.fix}
        </button>
      )}
    </li>
  );
}
