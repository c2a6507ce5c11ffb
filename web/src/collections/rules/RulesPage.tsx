import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { toast } from "sonner";
import { get, post, put } from "../../api/client";
import { keys } from "../../api/keys";
import { useSession } from "../../api/queries";
import type { RuleFieldFacts, RulesRow } from "../../api/types";
import { FormOrText } from "../../forms/FormOrText";
import { useDraft } from "../../forms/useDraft";
import { useSettled } from "../../forms/useSettled";
import { momentWords } from "../../ui/moments";
import { RuleForm } from "./RuleForm";
import { RulesEffect } from "./RulesEffect";

const none = "{\n}\n";

/** Limits that many collections have, to start from. Common practice, no source. */
const usual = `{
  "maps": ["baseColor", "roughness", "normal"],
  "pixels": { "least": 1024, "most": 8192 },
  "leastBits": { "height": 16 },
  "texelDensity": { "least": 512 },
  "baseLuminance": { "dielectric": { "least": 0.02, "most": 0.85 }, "metal": { "least": 0.2 } },
  "roughnessSpread": { "most": 0.8 }
}
`;

/** What a collection asks of its looks: anybody tries rules, a lead saves them, and what saving would change is shown first. */
export function RulesPage({ id }: { id: string }) {
  const kept = useQuery({
    queryKey: keys.rules(id),
    queryFn: () => get("/api/v1/collections/{id}/rules", { params: { path: { id } } }),
  });
  const fields = useQuery({
    queryKey: keys.ruleFields(id),
    queryFn: () => get("/api/v1/collections/{id}/rules/fields", { params: { path: { id } } }),
  });
  const trouble = kept.error ?? fields.error;
  if (trouble) return <p role="alert">{trouble.message}</p>;
  if (!kept.data || !fields.data) return <p className="text-soft">Opening the rules…</p>;
  return <Rules id={id} kept={kept.data} fields={fields.data} />;
}

function Rules({ id, kept, fields }: { id: string; kept: RulesRow; fields: RuleFieldFacts[] }) {
  const client = useQueryClient();
  const session = useSession();
  const draft = useDraft(kept.text || none);
  const [name, setName] = useState("");
  const asked = useSettled(draft.text);
  const verdict = useQuery({
    queryKey: keys.rulesTried(id, asked, name),
    queryFn: () =>
      post("/api/v1/collections/{id}/rules/try", { params: { path: { id } }, body: { text: asked, name } }),
    placeholderData: (before) => before,
    // What is being measured is asked for again until it is known.
    refetchInterval: (q) => ((q.state.data?.pending ?? 0) > 0 ? 1500 : false),
  });
  const pending = verdict.data?.pending ?? 0;
  useEffect(() => void client.invalidateQueries({ queryKey: keys.ruleFields(id) }), [client, id, pending]);
  const keep = useMutation({
    mutationFn: () =>
      put("/api/v1/collections/{id}/rules", {
        params: { path: { id } },
        body: { text: draft.text, revision: kept.revision },
      }),
    onSuccess: async (row) => {
      client.setQueryData(keys.rules(id), row);
      draft.discard();
      toast(`Rules saved, revision ${row.revision}`);
      await client.invalidateQueries({ queryKey: keys.collectionTable(id) });
    },
    onError: async (error) => {
      toast.error(error.message, { duration: 8000 });
      await client.refetchQueries({ queryKey: keys.rules(id) });
    },
  });
  const mayKeep = session.data?.role === "lead" || session.data?.role === "admin";
  const problem = draft.fault ? null : verdict.data?.problem;
  return (
    <div className="grid grid-cols-[minmax(0,3fr)_minmax(260px,2fr)] gap-6">
      <div>
        <p className="mb-1 text-small text-soft">
          {kept.revision === 0
            ? "This collection has no rules yet. A field that is left open asks for nothing."
            : `Revision ${kept.revision}, by ${kept.person}, ${momentWords(kept.at)}`}
        </p>
        {problem && (
          <p role="alert" className="mb-2 border border-ink px-2 py-1">
            {problem}
          </p>
        )}
        <FormOrText
          draft={draft}
          label="rules of the collection"
          faults={[]}
          actions={
            <>
              <button
                className="act"
                data-main="true"
                data-testid="rules-save"
                disabled={!mayKeep || !draft.isChanged || !!draft.fault || !!problem || keep.isPending}
                onClick={() => keep.mutate()}
              >
                Save the rules
              </button>
              {kept.revision === 0 && !draft.isChanged && (
                <button className="act" data-testid="rules-usual" onClick={() => draft.write(usual)}>
                  Start from usual limits
                </button>
              )}
            </>
          }
        >
          <RuleForm fields={fields} draft={draft} verdict={verdict.data} />
        </FormOrText>
        {!mayKeep && <p className="text-small text-soft">Everyone can try rules; a lead saves them.</p>}
      </div>
      <section aria-live="polite">
        <label className="mb-3 flex items-center gap-2">
          Try a name
          <input className="entry min-w-0 grow" value={name} onChange={(e) => setName(e.target.value)} />
          <span className="w-24 text-small">
            {verdict.data?.nameFits == null ? "" : verdict.data.nameFits ? "follows" : "breaks the rule"}
          </span>
        </label>
        {verdict.data && !problem && !draft.fault && <RulesEffect verdict={verdict.data} />}
      </section>
    </div>
  );
}
