import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { post } from "../../../api/client";
import type { Step } from "../../../api/types";
import { keys } from "../../../api/keys";

/** Keeps the steps of a lane under a name, for any lane of any look in the studio. */
export function SaveSteps({ steps }: { steps: Step[] }) {
  const client = useQueryClient();
  const [name, setName] = useState<string | null>(null);
  const keep = useMutation({
    mutationFn: (text: string) => post("/api/v1/chains", { body: { name: text, words: "", steps } }),
    onSuccess: (kept) => {
      setName(null);
      toast(`Saved as “${kept.name}”: type its name in a gap between two tiles`);
      void client.invalidateQueries({ queryKey: keys.chains() });
    },
  });
  if (name === null)
    return (
      <button className="act" onClick={() => setName("")} disabled={steps.length === 0}>
        Save these steps…
      </button>
    );
  return (
    <input
      autoFocus
      className="entry w-40"
      aria-label="name of the saved steps"
      placeholder="worn edge roughness"
      value={name}
      onChange={(e) => setName(e.target.value)}
      onKeyDown={(e) => {
        if (e.key === "Enter" && name.trim()) keep.mutate(name);
        if (e.key === "Escape") setName(null);
      }}
    />
  );
}
