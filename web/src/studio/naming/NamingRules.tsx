import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { get, post, put } from "../../api/client";
import { keys } from "../../api/keys";
import { useNamingRules } from "../../api/queries";
import type { NamingText, NamingTextVerdict } from "../../api/types";
import { FormOrText } from "../../forms/FormOrText";
import { useDraft, type Draft } from "../../forms/useDraft";
import { useSettled } from "../../forms/useSettled";
import { saveFile } from "../../ui/saveFile";
import { NamingEffect } from "./NamingEffect";
import { NamingRow } from "./NamingRow";
import { writtenRules } from "./writtenRule";

/** The rules of the studio about names: who made them and why, and what a change would do to past deliveries, before it is saved. */
export function NamingRules({ mayKeep }: { mayKeep: boolean }) {
  const kept = useQuery({ queryKey: keys.namingText(), queryFn: () => get("/api/v1/naming/rules/text") });
  return (
    <section aria-labelledby="naming">
      <h2 id="naming" className="mb-1 font-medium">
        Naming rules for intake
      </h2>
      {kept.error ? (
        <p role="alert">{kept.error.message}</p>
      ) : kept.data ? (
        <Rules kept={kept.data} mayKeep={mayKeep} />
      ) : (
        <p className="text-soft">Opening the rules…</p>
      )}
    </section>
  );
}

function Rules({ kept, mayKeep }: { kept: NamingText; mayKeep: boolean }) {
  const client = useQueryClient();
  const draft = useDraft(kept.text);
  const asked = useSettled(draft.text);
  const verdict = useQuery({
    queryKey: keys.namingTried(kept.stamp, asked),
    queryFn: () => post("/api/v1/naming/rules/try", { body: { text: asked } }),
    enabled: asked !== kept.text,
  });
  const keep = useMutation({
    mutationFn: () => put("/api/v1/naming/rules/text", { body: { text: draft.text, stamp: kept.stamp } }),
    onSuccess: async (text) => {
      client.setQueryData(keys.namingText(), text);
      draft.discard();
      toast("Naming rules saved; they apply to every delivery from now on");
      await client.invalidateQueries({ queryKey: keys.namingRules() });
      await client.invalidateQueries({ queryKey: keys.tryName() });
    },
    onError: async (error) => {
      toast.error(error.message, { duration: 8000 });
      await client.refetchQueries({ queryKey: keys.namingText() });
    },
  });
  const problems = draft.isChanged ? (verdict.data?.problems ?? []) : [];
  const isSettled = asked === draft.text && !!verdict.data;
  return (
    <>
      <FormOrText
        draft={draft}
        label="naming rules"
        faults={problems}
        readOnly={!mayKeep}
        className="h-[300px]"
        actions={
          <>
            <button
              className="act"
              data-main="true"
              data-testid="naming-save"
              disabled={!draft.isChanged || !!draft.fault || !isSettled || problems.length > 0 || keep.isPending}
              onClick={() => keep.mutate()}
            >
              Save the rules
            </button>
            <button className="act" onClick={() => saveFile("naming-rules.json", draft.text)}>
              Export for the command line
            </button>
          </>
        }
      >
        <List draft={draft} problems={problems} />
      </FormOrText>
      {draft.isChanged && verdict.data && problems.length === 0 && <NamingEffect verdict={verdict.data} />}
    </>
  );
}

function List({ draft, problems }: { draft: Draft; problems: NamingTextVerdict["problems"] }) {
  const known = useNamingRules();
  const [edited, setEdited] = useState<number | null>(null);
  const rules = writtenRules(draft.value);
  return (
    <>
      {rules.length === 0 && (
        <p className="mb-3 text-soft">
          No rules yet. Correct a map on the sorting table and a rule is offered, or add one here.
        </p>
      )}
      <ul className="mb-2">
        {rules.map((rule, i) => (
          <NamingRow
            key={i}
            rule={rule}
            place={i}
            draft={draft}
            known={known.data?.find((k) => k.rule.phrase === rule?.phrase && k.rule.kind === rule.kind)}
            problems={problems.filter((p) => p.path === String(i)).map((p) => p.sentence)}
            isOpen={edited === i}
            onOpen={(open) => setEdited(open ? i : null)}
          />
        ))}
      </ul>
      <button
        type="button"
        className="act"
        data-testid="naming-add"
        onClick={() => {
          draft.add([], { phrase: "", kind: "role", role: "roughness", enabled: true });
          setEdited(rules.length);
        }}
      >
        Add a rule
      </button>
    </>
  );
}
