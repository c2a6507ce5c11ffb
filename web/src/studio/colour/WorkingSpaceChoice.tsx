import { useMutation, useQueryClient } from "@tanstack/react-query";
import { put } from "../../api/client";
import { useStudio } from "../../api/queries";
import { RadioGroup } from "../../ui/RadioGroup";
import { keys } from "../../api/keys";

const spaces = [
  { id: "acescg", words: "ACEScg", use: "film: lights and mixes keep their colour beyond what a display shows" },
  { id: "lin_rec709", words: "linear Rec.709", use: "product pictures for ordinary displays and gamma workflows" },
];

/** The linear space in which maps are mixed, lit, baked and written; collections may say otherwise. */
export function WorkingSpaceChoice({ admin }: { admin: boolean }) {
  const client = useQueryClient();
  const studio = useStudio();
  const choose = useMutation({
    mutationFn: (id: string) => put("/api/v1/house/working-space", { body: { id } }),
    onSuccess: () =>
      Promise.all([keys.studio(), keys.look(), keys.board()].map((queryKey) => client.invalidateQueries({ queryKey }))),
  });
  return (
    <section aria-labelledby="working-space" className="mt-5">
      <h2 id="working-space" className="font-medium">
        Working space{" "}
        <span className="font-normal text-soft">{studio.data?.working.reason}; a collection may differ</span>
      </h2>
      <RadioGroup
        label="Working space"
        testid="working-space"
        value={studio.data?.working.id ?? ""}
        disabled={!admin || choose.isPending}
        options={spaces.map((s) => ({
          value: s.id,
          words: (
            <>
              {s.words} <span className="text-soft">{s.use}</span>
            </>
          ),
        }))}
        onChange={(id) => choose.mutate(id)}
      />
    </section>
  );
}
