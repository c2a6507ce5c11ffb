import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { get, send } from "../api/client";
import { useStudio, type Wanted } from "../api/queries";
import type { FilterInfo } from "../api/types";

interface Props {
  wanted: Wanted;
  onWanted: (wanted: Wanted) => void;
}

const states = [
  ["any state", ""],
  ["drafts", "draft"],
  ["waiting for a lead", "in review"],
  ["published", "published"],
] as const;

const conditions = ["tag", "role", "author", "since", "dialect", "finding", "colour"] as const;

/** What looks are looked for by, and what was looked for before. */
export function Filters({ wanted, onWanted }: Props) {
  const studio = useStudio();
  const [open, setOpen] = useState(conditions.some((c) => wanted[c]));
  const codes = useQuery({
    queryKey: ["finding-codes"],
    queryFn: () => get<string[]>("/looks/finding-codes"),
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
          aria-label="find looks by words of their names and tags"
          placeholder="words of names and tags"
          value={wanted.words ?? ""}
          onChange={(e) => set({ words: e.target.value })}
        />
        <select
          className="entry"
          aria-label="state"
          value={wanted.state ?? ""}
          onChange={(e) => set({ state: e.target.value })}
        >
          {states.map(([shown, own]) => (
            <option key={own} value={own}>
              {shown}
            </option>
          ))}
        </select>
        <label className="text-small">
          <input
            type="checkbox"
            className="accent-glaze"
            checked={wanted.archived ?? false}
            onChange={(e) => set({ archived: e.target.checked })}
          />{" "}
          put away
        </label>
        <button className="text-small underline" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? "fewer conditions" : "more conditions…"}
        </button>
        <SavedFilters wanted={wanted} onWanted={onWanted} />
      </div>
      {open && (
        <div className="mb-2 flex flex-wrap items-center gap-3 text-small" role="group" aria-label="more conditions">
          {field("tag", "tag")}
          <label>
            has a map of{" "}
            <select className="entry" value={wanted.role ?? ""} onChange={(e) => set({ role: e.target.value })}>
              <option value="">any role</option>
              {studio.data?.roles.map((r) => (
                <option key={r.id} value={r.id}>
                  {r.words}
                </option>
              ))}
            </select>
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
            nothing lost in{" "}
            <select className="entry" value={wanted.dialect ?? ""} onChange={(e) => set({ dialect: e.target.value })}>
              <option value="">any dialect</option>
              {studio.data?.dialects.map((d) => (
                <option key={d.id} value={d.id}>
                  {d.title}
                </option>
              ))}
            </select>
          </label>
          <label>
            with the finding{" "}
            <select className="entry" value={wanted.finding ?? ""} onChange={(e) => set({ finding: e.target.value })}>
              <option value="">any or none</option>
              {codes.data?.map((c) => (
                <option key={c} value={c}>
                  {c}
                </option>
              ))}
            </select>
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
                <label>
                  within ΔE{" "}
                  <input
                    type="range"
                    className="w-24 accent-glaze"
                    min={2}
                    max={60}
                    value={wanted.within ?? "15"}
                    onChange={(e) => set({ within: e.target.value })}
                  />{" "}
                  <span className="font-mono">{wanted.within ?? "15"}</span>
                </label>
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
  const filters = useQuery({ queryKey: ["filters"], queryFn: () => get<FilterInfo[]>("/filters") });
  const asked = Object.fromEntries(
    Object.entries(wanted)
      .filter(([, v]) => v)
      .map(([k, v]) => [k, String(v)]),
  );
  const shown = filters.data?.find((f) => JSON.stringify(sorted(f.query)) === JSON.stringify(sorted(asked)));
  const keep = useMutation({
    mutationFn: () => send<FilterInfo[]>("POST", "/filters", { name, query: asked }),
    onSuccess: (all) => {
      setName(null);
      client.setQueryData(["filters"], all);
    },
    onError: (e) => toast.error(e.message, { duration: 8000 }),
  });
  const remove = useMutation({
    mutationFn: (id: string) => send("DELETE", `/filters/${id}`),
    onSuccess: () => client.invalidateQueries({ queryKey: ["filters"] }),
  });
  return (
    <span className="flex items-baseline gap-2 text-small">
      {filters.data && filters.data.length > 0 && (
        <select
          className="entry"
          aria-label="kept filters"
          value={shown?.id ?? ""}
          onChange={(e) => {
            const filter = filters.data.find((f) => f.id === e.target.value);
            if (filter) onWanted({ ...filter.query, archived: filter.query.archived === "true" });
          }}
        >
          <option value="">kept filters…</option>
          {filters.data.map((f) => (
            <option key={f.id} value={f.id}>
              {f.name}
            </option>
          ))}
        </select>
      )}
      {shown ? (
        <button className="underline" onClick={() => remove.mutate(shown.id)}>
          forget this filter
        </button>
      ) : Object.keys(asked).length === 0 ? null : name === null ? (
        <button className="underline" onClick={() => setName("")}>
          keep this filter
        </button>
      ) : (
        <input
          autoFocus
          className="entry w-36"
          aria-label="name of the filter"
          placeholder="its name, then Enter"
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
