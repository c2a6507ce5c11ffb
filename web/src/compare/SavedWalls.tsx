import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { toast } from "sonner";
import { del, get, ifMatch, post, put } from "../api/client";
import type { Comparison, Wall } from "../api/types";
import { Select } from "../ui/Select";
import { keys } from "../api/keys";

/** The name of the wall, saving it, and the walls that were saved; a saved one has a link of its own. */
export function SavedWalls({ wall, saved }: { wall: Wall; saved?: Comparison }) {
  const client = useQueryClient();
  const go = useNavigate();
  const [name, setName] = useState(saved?.name ?? "");
  const list = useQuery({ queryKey: keys.comparisons(), queryFn: () => get("/api/v1/comparisons") });
  const settled = (made: Comparison) => {
    client.setQueryData(keys.comparison(made.id), made);
    void client.invalidateQueries({ queryKey: keys.comparisons() });
    toast(`Saved as ${made.name}.`);
    void go(`/compare/${made.id}`);
  };
  const save = useMutation({
    mutationFn: () =>
      saved && saved.name === name.trim()
        ? put("/api/v1/comparisons/{id}", {
            params: { path: { id: saved.id } },
            body: { name, wall },
            ...ifMatch(saved.revision),
          })
        : post("/api/v1/comparisons", { body: { name, wall } }),
    onSuccess: settled,
  });
  const remove = useMutation({
    mutationFn: () => del("/api/v1/comparisons/{id}", { params: { path: { id: saved!.id } } }),
    onSuccess: () => {
      void client.invalidateQueries({ queryKey: keys.comparisons() });
      void go("/compare");
    },
  });
  return (
    <form
      className="flex items-center gap-2 px-3 py-2"
      onSubmit={(e) => {
        e.preventDefault();
        save.mutate();
      }}
    >
      <h1 className="text-title font-medium">Compare</h1>
      <Select
        label="saved comparisons"
        className="max-w-48"
        value={saved?.id ?? ""}
        options={[
          { value: "", words: "New comparison" },
          ...(list.data?.map((c) => ({ value: c.id, words: `${c.name} (${c.madeBy})` })) ?? []),
        ]}
        onChange={(chosen) => void go(chosen ? `/compare/${chosen}` : "/compare")}
      />
      <span className="grow" />
      <input
        className="entry w-48"
        aria-label="name of this comparison"
        placeholder="Name"
        value={name}
        maxLength={80}
        onChange={(e) => setName(e.target.value)}
      />
      <button
        data-testid="wall-save"
        className="act"
        disabled={!name.trim() || wall.rows.length === 0 || save.isPending}
      >
        {saved && saved.name === name.trim() ? "Save" : "Save as"}
      </button>
      {saved && (
        <button type="button" className="act" onClick={() => remove.mutate()} disabled={remove.isPending}>
          Remove
        </button>
      )}
    </form>
  );
}
