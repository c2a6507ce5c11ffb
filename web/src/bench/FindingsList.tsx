import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { del, put } from "../api/client";
import type { Finding, LookEdit } from "../api/types";
import { thumbnailUrl } from "../ui/ReadingChip";
import { severities, SeverityMark } from "../ui/Severity";
import { laneAt, usersOf } from "./document/address";
import { useBench } from "./state/benchState";
import { keys } from "../api/keys";

/** The findings one by one: open one for its evidence, fix it in one gesture, or accept it with a reason. */
export function FindingsList() {
  const { board } = useBench("board");
  if (!board) return <p className="p-3 text-soft">Checking the look…</p>;
  const standing = board.findings.filter((f) => !f.accepted);
  const accepted = board.findings.filter((f) => f.accepted);
  const sorted = severities.flatMap((s) => standing.filter((f) => f.severity === s));
  if (board.findings.length === 0) return <p className="p-3 text-soft">Nothing looks wrong.</p>;
  return (
    <ul aria-label="findings" data-testid="findings">
      {[...sorted, ...accepted].map((f) => (
        <FindingRow key={f.code + f.subject + f.message} finding={f} />
      ))}
    </ul>
  );
}

function FindingRow({ finding: f }: { finding: Finding }) {
  const { id, look, edit, select, setSide } = useBench("id", "look", "edit", "select", "setSide");
  const client = useQueryClient();
  const [shown, setShown] = useState(false);
  const [reason, setReason] = useState<string | null>(null);
  const again = () => client.invalidateQueries({ queryKey: keys.board(id) });
  const accept = useMutation({
    mutationFn: (text: string) =>
      put("/api/v1/looks/{id}/findings/accepted", {
        params: { path: { id } },
        body: { code: f.code, subject: f.subject, reason: text },
      }),
    onSuccess: () => {
      setReason(null);
      return again();
    },
  });
  const reopen = useMutation({
    mutationFn: () =>
      del("/api/v1/looks/{id}/findings/accepted", {
        params: { path: { id }, query: { code: f.code, subject: f.subject } },
      }),
    onSuccess: again,
  });
  const show = () => {
    setShown(!shown);
    const lane = look.slots?.[f.subject] ? usersOf(look, "slot", f.subject)[0] : f.subject;
    if (!lane || !laneAt(look, lane)) return;
    select({ lane, step: -1 });
    // The tile is marked; what is read stays open.
    setSide("findings");
  };
  return (
    <li className="border-b border-rule px-3 py-1.5" data-finding={f.code}>
      <button className="w-full text-left" onClick={show} aria-expanded={shown} data-testid="finding-open">
        <SeverityMark severity={f.severity} /> <span className={f.accepted ? "text-soft" : ""}>{f.message}</span>{" "}
        <span className="text-small text-soft">{f.evidence}</span>
      </button>
      <div className="mt-1 flex flex-wrap items-center gap-2">
        {f.repair && !f.accepted && (
          <button
            className="act text-small whitespace-normal"
            data-testid="finding-fix"
            onClick={() => void edit(f.repair as unknown as LookEdit)}
          >
            Fix: {f.fix}
          </button>
        )}
        {f.accepted ? (
          <button className="act text-small" data-testid="finding-reopen" onClick={() => reopen.mutate()}>
            Open again
          </button>
        ) : reason === null ? (
          <button className="act text-small" data-testid="finding-accept" onClick={() => setReason("")}>
            Accept…
          </button>
        ) : (
          <input
            // The person has just asked for it.
            ref={(field) => field?.focus()}
            className="entry w-52"
            aria-label="why it is right"
            placeholder="Why it is right as it is"
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
        <div className="mt-1 flex flex-wrap gap-3" data-testid="evidence">
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
