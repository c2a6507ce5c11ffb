import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { del, get, post } from "../api/client";
import { useStudio, type Wanted } from "../api/queries";
import { Combobox } from "../ui/Combobox";
import { Slider } from "../ui/Slider";
import { Select } from "../ui/Select";
import { Checkbox } from "../ui/Checkbox";
import { findingName } from "../ui/names";
import { keys } from "../api/keys";

interface Props {
  wanted: Wanted;
  onWanted: (wanted: Wanted) => void;
}

const states = [
  ["any state", ""],
  ["drafts", "draft"],
  ["submitted for review", "in review"],
  ["published", "published"],
] as const;

const conditions = ["tag", "role", "author", "since", "dialect", "finding", "colour"] as const;

/** What looks are looked for by, and what was looked for before. */
export function Filters({ wanted, onWanted }: Props) {
  const studio = useStudio();
  const [open, setOpen] = useState(conditions.some((c) => wanted[c]));
  const codes = useQuery({
    queryKey: keys.findingCodes(),
    queryFn: () => get("/api/v1/looks/finding-codes"),
    enabled: open,
  });
  const set = (part: Partial<Wanted>) => onWanted({ ...wanted, ...part });
  const field = (name: "tag" | "author", words: string) => (
    <label>
      {words}{" "}
      <input
        className="entry w-24"
        defaultValue={wanted[name] ?? ""}
        key={wanted[name] ?? ""}
        onKeyDown={(e) => e.key === "Enter" && set({ [name]: e.currentTarget.value })}
        onBlur={(e) => set({ [name]: e.target.value })}
      />
    </label>
  );
  return (
    <>
      <div className="mb-2 flex flex-wrap items-baseline gap-3">
        <input
          className="entry w-56"
          type="search"
          aria-label="find looks by name or tag"
          placeholder="Name or tag"
          value={wanted.words ?? ""}
          onChange={(e) => set({ words: e.target.value })}
        />
        <Select
          label="state"
          value={wanted.state ?? ""}
          options={states.map(([shown, own]) => ({ value: own, words: shown }))}
          onChange={(chosen) => set({ state: chosen })}
        />
        <label className="text-small">
          <Checkbox checked={wanted.archived ?? false} onChange={(on) => set({ archived: on })} /> archived
        </label>
        <button className="text-small underline" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? "Fewer filters" : "More filters…"}
        </button>
        <SavedFilters wanted={wanted} onWanted={onWanted} />
      </div>
      {open && (
        <div className="mb-2 flex flex-wrap items-center gap-3 text-small" role="group" aria-label="more filters">
          {field("tag", "tag")}
          <label>
            has a map of{" "}
            <Select
              label="has a map of"
              value={wanted.role ?? ""}
              options={[
                { value: "", words: "any role" },
                ...(studio.data?.roles.map((r) => ({ value: r.id, words: r.words })) ?? []),
              ]}
              onChange={(chosen) => set({ role: chosen })}
            />
          </label>
          {field("author", "by")}
          <label>
            changed since{" "}
            <input
              type="date"
              className="entry"
              value={wanted.since ?? ""}
              onChange={(e) => set({ since: e.target.value })}
            />
          </label>
          <label>
            complete in{" "}
            <Select
              label="complete in"
              value={wanted.dialect ?? ""}
              options={[
                { value: "", words: "any renderer" },
                ...(studio.data?.dialects.map((d) => ({ value: d.id, words: d.title })) ?? []),
              ]}
              onChange={(chosen) => set({ dialect: chosen })}
            />
          </label>
          <label>
            with the finding{" "}
            <Combobox
              label="with the finding"
              value={wanted.finding ?? ""}
              options={[
                { value: "", words: "any or none" },
                ...(codes.data?.map((c) => ({ value: c, words: findingName(c) })) ?? []),
              ]}
              onChange={(chosen) => set({ finding: chosen })}
            />
          </label>
          <span className="flex items-center gap-1">
            base colour near
            <input
              type="color"
              aria-label="base colour"
              className="h-6 w-9 border border-rule bg-raised"
              value={wanted.colour || "#808080"}
              onChange={(e) => set({ colour: e.target.value })}
            />
            {wanted.colour && (
              <>
                within ΔE
                <Slider
                  label="within ΔE"
                  className="w-24"
                  low={2}
                  high={60}
                  step={1}
                  value={Number(wanted.within ?? "15")}
                  onMove={(v) => set({ within: String(v) })}
                />
                <span className="font-mono">{wanted.within ?? "15"}</span>
                <button className="underline" onClick={() => set({ colour: "", within: "" })}>
                  any
                </button>
              </>
            )}
          </span>
        </div>
      )}
    </>
  );
}

/** Filters a person has kept, and keeping the one that is set. */
function SavedFilters({ wanted, onWanted }: Props) {
  const client = useQueryClient();
  const [name, setName] = useState<string | null>(null);
  const filters = useQuery({ queryKey: keys.filters(), queryFn: () => get("/api/v1/filters") });
  const asked = Object.fromEntries(
    Object.entries(wanted)
      .filter(([, v]) => v)
      .map(([k, v]) => [k, String(v)]),
  );
  const shown = filters.data?.find((f) => JSON.stringify(sorted(f.query)) === JSON.stringify(sorted(asked)));
  const keep = useMutation({
    mutationFn: () => post("/api/v1/filters", { body: { name: name ?? "", query: asked } }),
    onSuccess: (all) => {
      setName(null);
      client.setQueryData(keys.filters(), all);
    },
    onError: (e) => toast.error(e.message, { duration: 8000 }),
  });
  const remove = useMutation({
    mutationFn: (id: string) => del("/api/v1/filters/{id}", { params: { path: { id } } }),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.filters() }),
  });
  return (
    <span className="flex items-baseline gap-2 text-small">
      {filters.data && filters.data.length > 0 && (
        <Select
          label="saved filters"
          value={shown?.id ?? ""}
          options={[
            { value: "", words: "saved filters…" },
            ...filters.data.map((f) => ({ value: f.id, words: f.name })),
          ]}
          onChange={(chosen) => {
            const filter = filters.data.find((f) => f.id === chosen);
            if (filter) onWanted({ ...filter.query, archived: filter.query.archived === "true" });
          }}
        />
      )}
      {shown ? (
        <button data-testid="filter-remove" className="underline" onClick={() => remove.mutate(shown.id)}>
          Remove this filter
        </button>
      ) : Object.keys(asked).length === 0 ? null : name === null ? (
        <button data-testid="filter-save" className="underline" onClick={() => setName("")}>
          Save this filter
        </button>
      ) : (
        <input
          data-testid="filter-name"
          autoFocus
          className="entry w-36"
          aria-label="name of the filter"
          placeholder="Name, then Enter"
          value={name}
          onChange={(e) => setName(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === "Enter" && name.trim()) keep.mutate();
            if (e.key === "Escape") setName(null);
          }}
        />
      )}
    </span>
  );
}

const sorted = (query: Record<string, string>) => Object.entries(query).sort(([a], [b]) => a.localeCompare(b));
