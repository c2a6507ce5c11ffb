import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { send } from "../api/client";
import type { Finding, LookEdit } from "../api/types";
import { thumbnailUrl } from "../ui/ReadingChip";
import { SeverityMark } from "../ui/Severity";
import { useBench } from "./BenchContext";
import { laneAt, usersOf } from "./lanes/address";

const severities = ["error", "warning", "advice"] as const;

/** What is probably wrong: counts by severity; open one for its evidence, mend it in one gesture, or accept it with a reason. */
export function FindingsLine() {
  const { board } = useBench();
  const findings = board?.findings ?? [];
  const standing = findings.filter((f) => !f.accepted);
  const accepted = findings.filter((f) => f.accepted);
  const [open, setOpen] = useState(true);
  const [showAccepted, setShowAccepted] = useState(false);
  // Before anything was looked at nothing is said to be in order.
  if (!board)
    return (
      <p role="status" className="border-t border-rule px-3 py-1 text-small text-soft">
        Looking for findings…
      </p>
    );
  if (findings.length === 0) return <p className="border-t border-rule px-3 py-1 text-small text-soft">No findings.</p>;
  return (
    <section aria-label="Findings" className="border-t border-rule">
      <button
        className="flex w-full gap-4 px-3 py-1 text-left text-small"
        onClick={() => setOpen(!open)}
        aria-expanded={open}
      >
        {severities.map((s) => {
          const count = standing.filter((f) => f.severity === s).length;
          return count === 0 ? null : (
            <span key={s} className="flex items-center gap-1">
              <SeverityMark severity={s} /> <b className="font-mono font-medium">{count}</b>
            </span>
          );
        })}
        {standing.length === 0 && <span className="text-soft">nothing open</span>}
        {accepted.length > 0 && (
          <span className="text-soft" role="presentation" onClick={() => setShowAccepted(!showAccepted)}>
            {accepted.length} accepted
          </span>
        )}
      </button>
      {open && (
        <ul className="max-h-64 overflow-auto" tabIndex={0} aria-label="findings one by one">
          {[...standing, ...(showAccepted ? accepted : [])].map((f) => (
            <FindingRow key={f.code + f.subject + f.message} finding={f} />
          ))}
        </ul>
      )}
    </section>
  );
}

function FindingRow({ finding: f }: { finding: Finding }) {
  const { id, look, edit, select } = useBench();
  const client = useQueryClient();
  const [shown, setShown] = useState(false);
  const [reason, setReason] = useState<string | null>(null);
  const again = () => client.invalidateQueries({ queryKey: ["board", id] });
  const accept = useMutation({
    mutationFn: (text: string) =>
      send("PUT", `/looks/${id}/findings/accepted`, { code: f.code, subject: f.subject, reason: text }),
    onSuccess: () => {
      setReason(null);
      return again();
    },
  });
  const takeBack = useMutation({
    mutationFn: () =>
      send("DELETE", `/looks/${id}/findings/accepted?code=${f.code}&subject=${encodeURIComponent(f.subject)}`),
    onSuccess: again,
  });
  const show = () => {
    setShown(!shown);
    const lane = look.slots?.[f.subject] ? usersOf(look, "slot", f.subject)[0] : f.subject;
    if (lane && laneAt(look, lane)) select({ lane, step: -1 });
  };
  return (
    <li className="border-t border-rule bg-raised px-3 py-1" data-finding={f.code}>
      <div className="flex items-center gap-3">
        <SeverityMark severity={f.severity} />
        <button className="grow text-left" onClick={show} aria-expanded={shown}>
          {f.message} <span className="text-small text-soft">{f.evidence}</span>
        </button>
        {f.repair && !f.accepted && (
          <button className="act" onClick={() => void edit(f.repair as unknown as LookEdit)}>
            Fix: {f.fix}
          </button>
        )}
        {f.accepted ? (
          <button className="act" onClick={() => takeBack.mutate()}>
            Open again
          </button>
        ) : reason === null ? (
          <button className="act" onClick={() => setReason("")}>
            Accept…
          </button>
        ) : (
          <input
            autoFocus
            className="entry w-52"
            aria-label="why it is right"
            placeholder="why it is right as it is"
            value={reason}
            onChange={(e) => setReason(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === "Enter" && reason.trim()) accept.mutate(reason);
              if (e.key === "Escape") setReason(null);
            }}
          />
        )}
      </div>
      {f.accepted && (
        <p className="text-small text-soft">
          accepted by {f.accepted.person}: {f.accepted.reason}
        </p>
      )}
      {shown && f.pictures.length > 0 && (
        <div className="mt-1 flex gap-3" data-testid="evidence">
          {f.pictures.map((p) => (
            <figure key={p.words} className="w-36">
              <img
                src={thumbnailUrl(p.content, p.reading, 288, p.reading.kind === "direction" && !p.mark && !p.crop, p)}
                alt={p.words}
                className={`aspect-square w-full bg-well object-cover ${p.crop ? "[image-rendering:pixelated]" : ""}`}
              />
              <figcaption className="text-small text-soft">{p.words}</figcaption>
            </figure>
          ))}
        </div>
      )}
    </li>
  );
}
