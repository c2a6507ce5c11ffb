import { useMutation, useQueryClient } from "@tanstack/react-query";
import { toast } from "sonner";
import { post } from "../api/client";
import { RuleEffectList } from "../studio/naming/RuleEffectList";
import type { RuleOffer } from "./useDeliveryActions";
import { keys } from "../api/keys";

/** After a correction: the rule by which the next delivery would be sorted like this, with what else it would change. */
export function RuleOfferLine({ offer, onDone }: { offer: RuleOffer; onDone: () => void }) {
  const client = useQueryClient();
  const effect = useMutation({ mutationFn: () => post("/api/v1/naming/effect", { body: offer.rule }) });
  const keep = useMutation({
    mutationFn: () => post("/api/v1/naming/rules", { body: { rule: offer.rule, reason: offer.because } }),
    onSuccess: () => {
      void client.invalidateQueries({ queryKey: keys.namingRules() });
      void client.invalidateQueries({ queryKey: keys.namingText() });
      toast("Saved; the next delivery follows it. All rules are in Studio.");
      onDone();
    },
  });
  return (
    <section aria-label="Offered rule" className="border-b border-rule bg-glaze-pale px-4 py-1.5">
      <div className="flex flex-wrap items-center gap-3">
        <span>
          Do this always? <b className="font-medium">{offer.words}</b>
        </span>
        <button data-testid="rule-preview" className="act" onClick={() => effect.mutate()} disabled={effect.isPending}>
          What else would change?
        </button>
        <button data-testid="rule-keep" className="act" onClick={() => keep.mutate()} disabled={keep.isPending}>
          Make it a rule
        </button>
        <button className="text-small underline" onClick={onDone}>
          Only here
        </button>
      </div>
      {effect.data && <RuleEffectList effect={effect.data} />}
    </section>
  );
}
