import { useMutation, useQueryClient } from "@tanstack/react-query";
import { toast } from "sonner";
import { send } from "../api/client";
import type { RuleEffect } from "../api/types";
import { RuleEffectList } from "../studio/RuleEffectList";
import type { RuleOffer } from "./useDeliveryActions";

/** After a correction: the rule by which the next delivery would be sorted like this, with what else it would change. */
export function RuleOfferLine({ offer, onDone }: { offer: RuleOffer; onDone: () => void }) {
  const client = useQueryClient();
  const effect = useMutation({ mutationFn: () => send<RuleEffect>("POST", "/naming/effect", offer.rule) });
  const keep = useMutation({
    mutationFn: () => send("POST", "/naming/rules", { rule: offer.rule, reason: offer.because }),
    onSuccess: () => {
      void client.invalidateQueries({ queryKey: ["naming-rules"] });
      toast("Kept; the next delivery is read by it. Studio has all rules.");
      onDone();
    },
  });
  return (
    <section aria-label="Offered rule" className="border-b border-rule bg-glaze-pale px-4 py-1.5">
      <div className="flex flex-wrap items-center gap-3">
        <span>
          Always so? <b className="font-medium">{offer.words}</b>
        </span>
        <button className="act" onClick={() => effect.mutate()} disabled={effect.isPending}>
          What else would it change?
        </button>
        <button className="act" onClick={() => keep.mutate()} disabled={keep.isPending}>
          Make it a rule
        </button>
        <button className="text-small underline" onClick={onDone}>
          Only this once
        </button>
      </div>
      {effect.data && <RuleEffectList effect={effect.data} />}
    </section>
  );
}
