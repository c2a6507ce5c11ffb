import { useMutation, useQueryClient } from "@tanstack/react-query";
import { toast } from "sonner";
import { get, put } from "../../api/client";
import { useCollections, useLookTrims, useSession } from "../../api/queries";
import type { Trim } from "../../api/types";
import { saidOfGlossiness } from "./trimWords";
import { Combobox } from "../../ui/Combobox";
import { keys } from "../../api/keys";

interface Props {
  look: string;
  dialect: string;
  /** The look's own, which may be lifted. */
  own: Trim[];
  /** They hold for this look by its collection now, so it needs them no more itself. */
  onLifted: () => void;
}

/** Trims that hold for every look of a collection for as long as they stand. What a look says itself of an input goes before them. */
export function StudioTrims({ look, dialect, own, onLifted }: Props) {
  const client = useQueryClient();
  const session = useSession();
  const collections = useCollections();
  const said = useLookTrims(look).data?.find((t) => t.dialect === dialect);
  const leads = session.data?.role === "lead" || session.data?.role === "admin";
  const set = useMutation({
    mutationFn: async ({ collection, trims }: { collection: string; trims: Trim[] }) => {
      await put("/api/v1/collections/{id}/trims/{dialect}", {
        params: { path: { id: collection, dialect } },
        body: trims,
      });
      return await get("/api/v1/looks/{id}/trims", { params: { path: { id: look } } });
    },
    onSuccess: (now, { collection, trims }) => {
      const name = collections.data?.find((c) => c.id === collection)?.name ?? "the collection";
      if (trims.length > 0 && now.some((t) => t.dialect === dialect && !t.disagree && t.collections.includes(name)))
        onLifted();
      toast(trims.length > 0 ? `All looks of ${name} now have these trims` : `${name} no longer has trims`, {
        duration: 6000,
      });
      void client.invalidateQueries({ queryKey: keys.trims() });
      void client.invalidateQueries({ queryKey: keys.board() });
    },
  });
  const idOf = (name: string) => collections.data?.find((c) => c.name === name)?.id;
  return (
    <section className="space-y-2">
      <h3 className="font-medium">Trims of collections</h3>
      {said?.disagree && (
        <p role="alert">The collections {said.collections.join(" and ")} have different trims, so none applies.</p>
      )}
      {said && !said.disagree && (
        <ul aria-label="studio trims">
          {said.trims.map((trim) => (
            <li key={trim.input + trim.operation} className="border-b border-rule py-0.5">
              <span className="hatched px-1">
                {trim.input.replaceAll("_", " ")}{" "}
                <span className="font-mono">
                  {trim.operation} {trim.value.toFixed(3)}
                </span>{" "}
                <span className="text-small text-soft">{saidOfGlossiness(trim)}</span>
              </span>
              {own.some((t) => t.input === trim.input) && (
                <span className="text-small text-soft"> this look uses its own instead</span>
              )}
            </li>
          ))}
        </ul>
      )}
      {said?.collections.map((name) => (
        <p key={name} className="flex items-center gap-2 text-small text-soft">
          from {name}
          {leads && idOf(name) && (
            <button className="act text-small" onClick={() => set.mutate({ collection: idOf(name)!, trims: [] })}>
              Remove from all its looks
            </button>
          )}
        </p>
      ))}
      {!said && <p className="text-soft">The collections of this look have no trims.</p>}
      {own.length > 0 && leads && (
        <Combobox
          label="make these the studio trims of a collection"
          value=""
          placeholder="Apply this look’s trims to all looks of…"
          options={collections.data?.map((c) => ({ value: c.id, words: c.name })) ?? []}
          onChange={(chosen) => set.mutate({ collection: chosen, trims: own })}
        />
      )}
      {own.length > 0 && !leads && (
        <p className="text-small text-soft">A lead can apply trims to all looks of a collection.</p>
      )}
    </section>
  );
}
