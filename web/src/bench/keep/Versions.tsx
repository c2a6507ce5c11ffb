import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { get, ifMatch, post } from "../../api/client";
import { useSession, useVersions } from "../../api/queries";
import type { LookInfo } from "../../api/types";
import { addressWords } from "../document/address";
import { VersionWipe } from "./VersionWipe";
import { Tip } from "../../ui/Tip";
import { Fold } from "../../ui/Fold";
import { nameOf } from "../../ui/names";
import { keys } from "../../api/keys";

interface Props {
  look: LookInfo;
  dialect: string | null;
}

/** Versions of a look: handed in by its artist, published or sent back by a lead, compared with what is on the bench, taken up again. */
export function Versions({ look, dialect }: Props) {
  const client = useQueryClient();
  const session = useSession();
  const versions = useVersions(look.id);
  const [note, setNote] = useState("");
  const [compared, setCompared] = useState<number | null>(null);
  const isLead = session.data?.role === "lead" || session.data?.role === "admin";
  const again = async () => {
    await client.invalidateQueries({ queryKey: keys.versions(look.id) });
    await client.invalidateQueries({ queryKey: keys.looks() });
  };
  const failed = (error: Error) => toast.error(error.message, { duration: 8000 });
  const add = useMutation({
    mutationFn: (publishes: boolean) =>
      post("/api/v1/looks/{id}/versions", {
        params: { path: { id: look.id } },
        body: { note, publishes },
        ...ifMatch(look.revision),
      }),
    onSuccess: (v) => {
      setNote("");
      toast(`Version ${v.number} ${v.state === "published" ? "is published" : "is submitted for review"}`);
      return again();
    },
    onError: failed,
  });
  const judge = useMutation({
    mutationFn: ({ number, publishes, words }: { number: number; publishes: boolean; words: string }) =>
      post("/api/v1/looks/{id}/versions/{number}/judgement", {
        params: { path: { id: look.id, number } },
        body: { publishes, words },
      }),
    onSuccess: again,
    onError: failed,
  });
  const back = useMutation({
    mutationFn: (number: number) =>
      post("/api/v1/looks/{id}/versions/{number}/restore", {
        params: { path: { id: look.id, number } },
        ...ifMatch(look.revision),
      }),
    onSuccess: (info) => {
      client.setQueryData(keys.look(look.id), info);
      toast("The version is restored on the bench; it can be undone.");
    },
    onError: failed,
  });
  return (
    <section>
      <h3 className="mb-1 font-medium">Versions</h3>
      <form
        className="flex gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          add.mutate(isLead);
        }}
      >
        <input
          data-testid="version-note"
          className="entry min-w-0 grow"
          placeholder="What changed"
          aria-label="note of the new version"
          value={note}
          onChange={(e) => setNote(e.target.value)}
        />
        <button data-testid="version-add" className="act" data-main="true" disabled={add.isPending}>
          {isLead ? "Publish" : "Submit for review"}
        </button>
      </form>
      <ul className="mt-1">
        {versions.data?.map((v) => (
          <li key={v.id} className="border-b border-rule py-1" data-version={v.number}>
            <div className="grid grid-cols-[auto_1fr_auto] gap-2">
              <b className="font-mono font-medium">{v.number}</b>
              <span>
                {v.note} <span className="text-small text-soft">{nameOf(v.state)}</span>
                {v.judgement && <span className="block text-small">“{v.judgement}”</span>}
              </span>
              <Tip words={v.hash}>
                <span className="text-right font-mono text-small text-soft">
                  {v.person} · {v.hash.slice(0, 8)}
                  {v.judgedBy && v.judgedBy !== v.person && <span className="block">by {v.judgedBy}</span>}
                </span>
              </Tip>
            </div>
            <p className="mt-0.5 flex flex-wrap gap-1 text-small">
              <button
                data-testid="version-compare"
                className="act"
                aria-expanded={compared === v.number}
                onClick={() => setCompared(compared === v.number ? null : v.number)}
              >
                Compare
              </button>
              <button
                data-testid="version-restore"
                className="act"
                disabled={back.isPending}
                onClick={() => back.mutate(v.number)}
              >
                Restore
              </button>
              {dialect && (
                <a
                  className="act"
                  href={`/api/v1/looks/${look.id}/versions/${v.number}/package?dialect=${dialect}`}
                  download
                >
                  Download
                </a>
              )}
              {isLead && v.state === "in review" && (
                <Judging onWord={(publishes, words) => judge.mutate({ number: v.number, publishes, words })} />
              )}
            </p>
            {compared === v.number && <Changes look={look} number={v.number} />}
          </li>
        ))}
      </ul>
    </section>
  );
}

function Judging({ onWord }: { onWord: (publishes: boolean, words: string) => void }) {
  const [words, setWords] = useState("");
  return (
    <>
      <input
        className="entry w-36"
        placeholder="comment for the artist"
        aria-label="comment for the artist"
        value={words}
        onChange={(e) => setWords(e.target.value)}
      />
      <button data-testid="version-publish" className="act" data-main="true" onClick={() => onWord(true, words)}>
        Publish
      </button>
      <button data-testid="version-return" className="act" onClick={() => onWord(false, words)}>
        Return to the artist
      </button>
    </>
  );
}

/** What on the bench differs from a version, place by place, with both pictures. */
function Changes({ look, number }: { look: LookInfo; number: number }) {
  const changes = useQuery({
    queryKey: keys.versionChanges(look.id, look.revision, number),
    queryFn: () => get("/api/v1/looks/{id}/versions/{number}/changes", { params: { path: { id: look.id, number } } }),
  });
  const difference = useQuery({
    queryKey: keys.versionDifference(look.id, look.revision, number),
    queryFn: () =>
      get("/api/v1/looks/{id}/versions/{number}/difference", { params: { path: { id: look.id, number } } }),
    enabled: (changes.data?.length ?? 0) > 0,
    staleTime: Infinity,
  });
  return (
    <div className="mt-1">
      <VersionWipe look={look} number={number} />
      {(changes.data?.length ?? 0) > 0 && (
        <p className="font-mono text-small" data-testid="version difference">
          {difference.data
            ? `mean ΔE ${difference.data.mean.toFixed(2)}, 95 % ${difference.data.percentile95.toFixed(2)}`
            : "being measured…"}
        </p>
      )}
      {changes.data?.length === 0 && <p className="text-soft">The bench shows exactly this version.</p>}
      <ul>
        {changes.data?.map((c) => (
          <li key={c.place} className="border-t border-rule py-0.5">
            <Fold
              head={
                <>
                  {addressWords(c.place)}{" "}
                  <span className="text-small text-soft">
                    {" "}
                    {c.before == null ? "only in the version" : c.after == null ? "only on the bench" : "differs"}{" "}
                  </span>
                </>
              }
            >
              <div className="grid grid-cols-2 gap-2 font-mono text-small">
                <pre className="overflow-auto">{c.after ?? ""}</pre>
                <pre className="overflow-auto">{c.before ?? ""}</pre>
              </div>
            </Fold>
          </li>
        ))}
      </ul>
    </div>
  );
}
