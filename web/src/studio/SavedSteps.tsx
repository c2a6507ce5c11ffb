import { useMutation, useQueryClient } from "@tanstack/react-query";
import { del } from "../api/client";
import { useKeptChains } from "../api/queries";
import { stepKind } from "../api/steps";
import { loose, telling } from "../bench/document/steps";
import { GuideLink } from "../guide/GuideLink";
import { Empty } from "../ui/Empty";
import { StudioHeading } from "./StudioHeading";
import { keys } from "../api/keys";

/** Chains of steps that the studio keeps under names; on the bench they are typed like steps. */
export function SavedSteps() {
  const client = useQueryClient();
  const chains = useKeptChains();
  const remove = useMutation({
    mutationFn: (id: string) => del("/api/v1/chains/{id}", { params: { path: { id } } }),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.chains() }),
  });
  return (
    <div className="max-w-5xl p-6">
      <StudioHeading />
      <p className="mb-4 text-soft">
        Steps that belong together, saved under one name. On the bench, open a gap between two tiles and type the name.
      </p>
      {chains.data?.length === 0 && (
        <Empty title="No saved steps yet">
          Select a step on the bench and choose Save these steps; they can then be used in every look.
          <p className="mt-3">
            <GuideLink chapter="layers">Steps, sources and layers</GuideLink>
          </p>
        </Empty>
      )}
      <ul>
        {chains.data?.map((c) => (
          <li key={c.id} className="flex items-center gap-4 border-b border-rule py-2" data-chain={c.name}>
            <img
              src={`/api/v1/chains/${c.id}/picture`}
              alt={`${c.name} applied to a ramp`}
              className="h-[56px] w-[104px] bg-well"
            />
            <span className="grow">
              <b className="font-medium">{c.name}</b> <span className="text-small text-soft">by {c.madeBy}</span>
              <span className="block text-soft">
                {c.steps.map((s) => `${stepKind(loose(s).kind).label} ${telling(loose(s))}`).join(" → ")}
              </span>
            </span>
            <button className="act text-small" onClick={() => remove.mutate(c.id)}>
              Remove
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}
