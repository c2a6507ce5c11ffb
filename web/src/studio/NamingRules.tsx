import { useMutation, useQueryClient } from "@tanstack/react-query";
import { toast } from "sonner";
import { send } from "../api/client";
import { useStudio, useNamingRules } from "../api/queries";
import type { KeptNamingRule } from "../api/types";
import { NewRule } from "./NewRule";
import { ruleWords } from "./ruleWords";
import { Checkbox } from "../ui/Checkbox";
import { keys } from "../api/keys";

/** The rules of the studio about names: who made them and why; each can be switched off or removed. */
export function NamingRules() {
  const client = useQueryClient();
  const studio = useStudio();
  const rules = useNamingRules();
  const again = () => void client.invalidateQueries({ queryKey: keys.namingRules() });
  const turn = useMutation({
    mutationFn: (r: KeptNamingRule) => send("POST", `/naming/rules/${r.id}/switch`, { enabled: !r.enabled }),
    onSuccess: again,
  });
  const remove = useMutation({
    mutationFn: (r: KeptNamingRule) => send("DELETE", `/naming/rules/${r.id}`),
    onSuccess: () => {
      again();
      toast("The rule was removed");
    },
  });
  const file = () => {
    const text = JSON.stringify(
      rules.data?.filter((r) => r.enabled).map((r) => r.rule),
      null,
      2,
    );
    const link = document.createElement("a");
    link.href = URL.createObjectURL(new Blob([text], { type: "application/json" }));
    link.download = "naming-rules.json";
    link.click();
    URL.revokeObjectURL(link.href);
  };
  return (
    <section aria-labelledby="naming">
      <div className="mb-1 flex items-baseline gap-3">
        <h2 id="naming" className="font-medium">
          Naming rules for intake
        </h2>
        {rules.data && rules.data.length > 0 && (
          <button className="text-small underline" onClick={file}>
            Export for the command line
          </button>
        )}
      </div>
      {rules.data?.length === 0 && (
        <p className="mb-3 text-soft">
          No rules yet. Correct a map on the sorting table and a rule is offered, or add one here.
        </p>
      )}
      <ul className="mb-4">
        {rules.data?.map((r) => (
          <li key={r.id} className="border-b border-rule py-1.5" data-rule={r.rule.phrase}>
            <div className="flex items-baseline gap-2">
              <label className="flex grow items-baseline gap-2">
                <Checkbox label={`${r.rule.phrase} in force`} checked={r.enabled} onChange={() => turn.mutate(r)} />
                <span className={r.enabled ? "" : "text-soft line-through"}>
                  <b className="font-mono font-normal">{r.rule.phrase}</b> {ruleWords(r.rule, studio.data)}
                </span>
              </label>
              <button className="act text-small" onClick={() => remove.mutate(r)}>
                Remove
              </button>
            </div>
            <p className="pl-6 text-small text-soft">
              {r.author}, {new Date(r.created).toLocaleDateString("en-GB")}
              {r.reason && `: ${r.reason}`}
            </p>
          </li>
        ))}
      </ul>
      <NewRule onAdded={again} />
    </section>
  );
}
