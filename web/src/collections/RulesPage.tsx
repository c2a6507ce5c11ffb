import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { toast } from "sonner";
import { get, send } from "../api/client";
import { useSession } from "../api/queries";
import { momentWords } from "../ui/moments";
import type { RulesRow, RulesVerdict } from "../api/types";
import { keys } from "../api/keys";

const first = `{
  // A rule that is not here asks for nothing.
  "names": "[a-z0-9]+( [a-z0-9]+)*",
  "maps": ["baseColor", "roughness", "normal"],
  "pixels": { "least": 1024, "most": 8192 },
  "leastBits": { "normal": 8 },
  "texelDensity": { "least": 512, "most": 4096 },
  "baseLuminance": { "dielectric": { "least": 0.02, "most": 0.85 }, "metal": { "least": 0.2 } },
  "roughnessSpread": { "most": 0.8 },
  "dialects": ["gltf", "usd_preview"],
  "mostMegabytes": 200
}
`;

/** What a collection asks of its looks: a text that anybody can try and a lead keeps, with what it would change shown first. */
export function RulesPage({ id }: { id: string }) {
  const client = useQueryClient();
  const session = useSession();
  const kept = useQuery({ queryKey: keys.rules(id), queryFn: () => get<RulesRow>(`/collections/${id}/rules`) });
  const [text, setText] = useState<string | null>(null);
  const [name, setName] = useState("");
  const shown = text ?? (kept.data ? kept.data.text || first : "");
  const [asked, setAsked] = useState("");
  useEffect(() => {
    const timer = window.setTimeout(() => setAsked(shown), 350);
    return () => window.clearTimeout(timer);
  }, [shown]);
  const verdict = useQuery({
    queryKey: keys.rulesTried(id, asked, name),
    queryFn: () => send<RulesVerdict>("POST", `/collections/${id}/rules/try`, { text: asked, name }),
    enabled: asked.length > 0,
    placeholderData: (before) => before,
  });
  const keep = useMutation({
    mutationFn: () => send<RulesRow>("PUT", `/collections/${id}/rules`, { text: shown, revision: kept.data!.revision }),
    onSuccess: async (row) => {
      client.setQueryData(keys.rules(id), row);
      setText(null);
      toast(`Rules saved, revision ${row.revision}`);
      await client.invalidateQueries({ queryKey: keys.collectionTable(id) });
    },
    onError: async (error) => {
      toast.error(error.message, { duration: 8000 });
      await client.refetchQueries({ queryKey: keys.rules(id) });
    },
  });
  if (!kept.data) return <p className="text-soft">Opening the rules…</p>;
  const mayKeep = session.data?.role === "lead" || session.data?.role === "admin";
  const isNew = shown !== kept.data.text;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-4">
      <section>
        <p className="mb-1 text-small text-soft">
          {kept.data.revision === 0
            ? "This collection has no rules yet. Below is a text to start from."
            : `Revision ${kept.data.revision}, by ${kept.data.person}, ${momentWords(kept.data.at)}`}
        </p>
        <textarea
          aria-label="rules of the collection"
          className="entry h-[380px] w-full font-mono text-small"
          spellCheck={false}
          value={shown}
          onChange={(e) => setText(e.target.value)}
        />
        {verdict.data?.problem && (
          <p role="alert" className="border border-ink px-2 py-1">
            {verdict.data.problem}
          </p>
        )}
        <p className="mt-2 flex items-center gap-2">
          <button
            className="act"
            data-main="true"
            disabled={!mayKeep || !isNew || !!verdict.data?.problem || keep.isPending}
            onClick={() => keep.mutate()}
          >
            Save the rules
          </button>
          {text !== null && (
            <button className="act" onClick={() => setText(null)}>
              Discard changes
            </button>
          )}
          {!mayKeep && <span className="text-small text-soft">Everyone can try rules; a lead saves them.</span>}
        </p>
      </section>
      <section aria-live="polite">
        <label className="mb-3 flex items-center gap-2">
          Try a name
          <input className="entry grow" value={name} onChange={(e) => setName(e.target.value)} />
          <span className="w-24 text-small">
            {verdict.data?.nameFits == null ? "" : verdict.data.nameFits ? "follows" : "breaks the rule"}
          </span>
        </label>
        {verdict.data && !verdict.data.problem && (
          <>
            <p className="mb-2 font-medium">
              {verdict.data.standing} of {verdict.data.looks} looks satisfy all rules
              {verdict.data.standing === 0 && verdict.data.looks > 0 && ": these rules exclude every look"}.
            </p>
            <p className="mb-1 text-small text-soft">
              {verdict.data.effects.length === 0 ? "Nothing would change." : "Saving would change:"}
            </p>
            <ul className="max-h-[420px] overflow-auto" tabIndex={0} aria-label="what saving the rules would change">
              {verdict.data.effects.map((e) => (
                <li key={e.id} className="border-t border-rule py-1">
                  <Link to={`/looks/${e.id}`} className="font-medium hover:underline">
                    {e.name}
                  </Link>
                  {e.broken.map((s) => (
                    <span key={s} className="block text-small">
                      {s}
                    </span>
                  ))}
                  {e.mended.map((s) => (
                    <s key={s} className="block text-small text-soft">
                      {s}
                    </s>
                  ))}
                </li>
              ))}
            </ul>
          </>
        )}
      </section>
    </div>
  );
}
