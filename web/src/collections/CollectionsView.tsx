import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { NavLink, useParams, useSearchParams } from "react-router";
import { toast } from "sonner";
import { post, put } from "../api/client";
import { useCollections, useFoundLooks, useStudio, useSession } from "../api/queries";
import { useChosenLooks } from "../looks/chosenLooks";
import { LookWall, MoreLooks } from "../looks/LooksView";
import { GuideLink } from "../guide/GuideLink";
import { DemoOffer } from "../intake/DemoOffer";
import { Empty } from "../ui/Empty";
import { Batches } from "./Batches";
import { BringArchive } from "./BringArchive";
import { Duplicates } from "./Duplicates";
import { MeasureTable } from "./MeasureTable";
import { RulesPage } from "./rules/RulesPage";
import { Sheets } from "./Sheets";
import { Select } from "../ui/Select";
import { keys } from "../api/keys";
import { classes } from "../ui/classes";

/** Collections at the left, the contact sheet of one at the right: same light, form and camera for all. */
export function CollectionsView() {
  const { id } = useParams();
  const client = useQueryClient();
  const collections = useCollections();
  const shown = id ?? collections.data?.[0]?.id;
  const row = collections.data?.find((c) => c.id === shown);
  const [name, setName] = useState("");
  const role = useSession().data?.role;
  const create = useMutation({
    mutationFn: () => post("/api/v1/collections", { body: { name } }),
    onSuccess: () => {
      setName("");
      void client.invalidateQueries({ queryKey: keys.collections() });
    },
  });
  return (
    <div className="grid h-full grid-cols-[220px_minmax(0,1fr)]">
      <aside className="border-r border-rule p-3">
        <h1 className="mb-2 text-large font-medium">Collections</h1>
        <ul>
          {collections.data?.map((c) => (
            <li key={c.id}>
              <NavLink
                to={`/collections/${c.id}`}
                data-shown={c.id === shown}
                className={classes(
                  "flex justify-between border-l-3 border-transparent px-2 py-1",
                  "data-[shown=true]:border-glaze data-[shown=true]:bg-raised",
                )}
              >
                {c.name} <span className="font-mono text-soft">{c.looks}</span>
              </NavLink>
            </li>
          ))}
        </ul>
        <form
          className="mt-3 flex gap-1"
          onSubmit={(e) => {
            e.preventDefault();
            if (name.trim()) create.mutate();
          }}
        >
          <input
            className="entry min-w-0 grow"
            placeholder="New collection"
            aria-label="Name of a new collection"
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
          <button className="act">Add</button>
        </form>
        {(role === "lead" || role === "admin") && <BringArchive />}
      </aside>
      {shown ? (
        <Sheet key={shown} id={shown} name={row?.name ?? ""} working={row?.workingSpace ?? null} />
      ) : (
        <Empty title="No collection yet">
          A collection keeps looks that belong together. Name one at the left, or wire a delivery into one.
          <p className="mt-3">
            <DemoOffer /> <GuideLink chapter="collections">Collections and rules</GuideLink>
          </p>
        </Empty>
      )}
    </div>
  );
}

const views = ["Contact sheet", "Table", "Rules"] as const;

function Sheet({ id, name, working }: { id: string; name: string; working: string | null }) {
  const client = useQueryClient();
  const studio = useStudio();
  const choose = useMutation({
    mutationFn: (space: string | null) =>
      put("/api/v1/collections/{id}/working-space", { params: { path: { id } }, body: { id: space } }),
    onSuccess: () =>
      Promise.all(
        [keys.collections(), keys.look(), keys.board()].map((queryKey) => client.invalidateQueries({ queryKey })),
      ),
  });
  const looks = useFoundLooks({ collection: id });
  const [tag, setTag] = useState("");
  // In the address, so that a link leads there.
  const [search, setSearch] = useSearchParams();
  const view = views.find((v) => v === search.get("view")) ?? "Contact sheet";
  const setView = (v: (typeof views)[number]) => setSearch(v === "Contact sheet" ? {} : { view: v });
  const all = looks.data?.pages.flat() ?? [];
  const tags = [...new Set(all.flatMap((l) => l.tags))].sort();
  const chosen = tag ? all.filter((l) => l.tags.includes(tag)) : all;
  const sections = [...new Set(chosen.map((l) => l.section ?? ""))].sort(
    // What is in none comes last; a number before a name orders as a number.
    (a, b) => Number(a === "") - Number(b === "") || a.localeCompare(b, "en", { numeric: true }),
  );
  return (
    <section className="overflow-auto p-4">
      <div className="mb-3 flex flex-wrap items-baseline gap-3">
        <h2 className="text-title font-medium whitespace-nowrap">{name}</h2>
        <span className="grow" />
        <Duplicates collection={id} name={name} />
        <Sheets collection={id} name={name} />
        <Batches collection={id} name={name} />
        <a className="act text-small" href={`/api/v1/collections/${id}/archive`} download>
          Download an archive
        </a>
        <label className="text-small">
          working space{" "}
          <Select
            label="working space"
            disabled={choose.isPending}
            value={working ?? ""}
            options={[
              { value: "", words: `as the studio${studio.data ? ` (${studio.data.working.words})` : ""}` },
              { value: "acescg", words: "ACEScg" },
              { value: "lin_rec709", words: "Linear Rec.709" },
            ]}
            onChange={(chosen) => choose.mutate(chosen || null)}
          />
        </label>
        <label className="text-small">
          tag{" "}
          <Select
            label="tag"
            value={tag}
            options={[{ value: "", words: "all" }, ...tags.map((t) => ({ value: t, words: t }))]}
            onChange={(chosen) => setTag(chosen)}
          />
        </label>
      </div>
      <div className="mb-3 flex flex-wrap items-baseline gap-3">
        <div role="group" aria-label="how the collection is shown" className="flex pl-px">
          {views.map((v) => (
            <button
              key={v}
              data-testid={`collection-${v}`}
              className="act -ml-px rounded-none"
              aria-pressed={view === v}
              onClick={() => setView(v)}
            >
              {v}
            </button>
          ))}
        </div>
        {view === "Contact sheet" && (
          <span className="text-small text-soft">Vessel under the softbox, ACES 1 SDR, the same for every look</span>
        )}
      </div>
      {view === "Table" ? (
        <MeasureTable id={id} />
      ) : view === "Rules" ? (
        <RulesPage id={id} />
      ) : looks.data && all.length === 0 ? (
        <Empty title="Nothing in here yet">
          Open a look and add it to {name}, or choose it when you wire a delivery.
        </Empty>
      ) : (
        <>
          <SectionLine collection={id} />
          {sections.map((section) => (
            <section key={section} aria-label={section || "in no section"}>
              {sections.length > 1 && (
                <h3 className="mt-4 mb-2 border-b border-rule text-large font-medium">
                  {section || "in no section"}{" "}
                  <span className="font-mono text-small text-soft">
                    {chosen.filter((l) => (l.section ?? "") === section).length}
                  </span>
                </h3>
              )}
              <LookWall looks={chosen.filter((l) => (l.section ?? "") === section)} />
            </section>
          ))}
          <MoreLooks query={looks} />
        </>
      )}
    </section>
  );
}

/** Puts the chosen looks of a collection into a section of it. */
function SectionLine({ collection }: { collection: string }) {
  const client = useQueryClient();
  const { chosen } = useChosenLooks();
  const [section, setSection] = useState("");
  const move = useMutation({
    mutationFn: () =>
      put("/api/v1/collections/{id}/sections", {
        params: { path: { id: collection } },
        body: { section, looks: chosen },
      }),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.looks() }),
    onError: (e) => toast.error(e.message, { duration: 8000 }),
  });
  if (chosen.length === 0) return null;
  return (
    <form
      className="mb-2 flex items-baseline gap-2 text-small"
      onSubmit={(e) => {
        e.preventDefault();
        move.mutate();
      }}
    >
      {chosen.length} chosen; section for those in this collection
      <input
        className="entry w-44"
        aria-label="name of the section"
        placeholder="none"
        value={section}
        onChange={(e) => setSection(e.target.value)}
      />
      <button className="act text-small">Put</button>
    </form>
  );
}
