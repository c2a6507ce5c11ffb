import { useMutation, useQueryClient } from "@tanstack/react-query";
import { send } from "../../api/client";
import { useStudio } from "../../api/queries";

const spaces = [
  { id: "acescg", words: "ACEScg", use: "film: lights and mixes keep their colour beyond what a display shows" },
  { id: "lin_rec709", words: "linear Rec.709", use: "product pictures for ordinary displays and gamma workflows" },
];

/** The linear space in which maps are mixed, lit, baked and written; collections may say otherwise. */
export function WorkingSpaceChoice({ admin }: { admin: boolean }) {
  const client = useQueryClient();
  const studio = useStudio();
  const choose = useMutation({
    mutationFn: (id: string) => send("PUT", "/house/working-space", { id }),
    onSuccess: () =>
      Promise.all(["studio", "look", "board"].map((key) => client.invalidateQueries({ queryKey: [key] }))),
  });
  return (
    <section aria-labelledby="working-space" className="mt-5">
      <h2 id="working-space" className="font-medium">
        Working space{" "}
        <span className="font-normal text-soft">{studio.data?.working.reason}; a collection may differ</span>
      </h2>
      <div role="radiogroup" aria-labelledby="working-space" className="mt-1 flex flex-wrap gap-x-6">
        {spaces.map((s) => (
          <label key={s.id}>
            <input
              type="radio"
              name="working-space"
              className="accent-glaze"
              checked={studio.data?.working.id === s.id}
              disabled={!admin || choose.isPending}
              onChange={() => choose.mutate(s.id)}
            />{" "}
            {s.words} <span className="text-soft">{s.use}</span>
          </label>
        ))}
      </div>
    </section>
  );
}
