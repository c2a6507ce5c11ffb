import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { send } from "../../api/client";
import type { KeptChain, Step } from "../../api/types";

/** Keeps the steps of a lane under a name, for any lane of any look in the studio. */
export function KeepChain({ steps }: { steps: Step[] }) {
  const client = useQueryClient();
  const [name, setName] = useState<string | null>(null);
  const keep = useMutation({
    mutationFn: (text: string) => send<KeptChain>("POST", "/chains", { name: text, words: "", steps }),
    onSuccess: (kept) => {
      setName(null);
      toast(`Kept as “${kept.name}”: type its name between two tiles`);
      void client.invalidateQueries({ queryKey: ["chains"] });
    },
  });
  if (name === null)
    return (
      <button className="act" onClick={() => setName("")} disabled={steps.length === 0}>
        Keep the chain…
      </button>
    );
  return (
    <input
      autoFocus
      className="entry w-40"
      aria-label="name of the kept chain"
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
