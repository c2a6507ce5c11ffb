import { ModelsOfDelivery } from "./ModelsOfDelivery";
import { Combobox } from "../ui/Combobox";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { toast } from "sonner";
import { post } from "../api/client";
import { useCollections, useDelivery, useStudio } from "../api/queries";
import type { MapRole, PlacedMap } from "../api/types";
import { useDeliveryProgress } from "../frame/Frame";
import { Analysing } from "./Analysing";
import { missing, ready } from "./columns";
import { filtered, filterWords, type Filter } from "./filters";
import { MapDrawer } from "./MapDrawer";
import { Questions } from "./Questions";
import { ReflectionQuestion } from "./ReflectionQuestion";
import { RuleOfferLine } from "./RuleOfferLine";
import { SetTable } from "./SetTable";
import type { Carried } from "./SetRow";
import { Tray } from "./Tray";
import { useDeliveryActions } from "./useDeliveryActions";
import { useSelection } from "./useSelection";
import { keys } from "../api/keys";

/** Rows are map sets, columns are roles; a map is moved by drag or by keyboard. */
export function SortingTable() {
  const { id = "" } = useParams();
  const navigate = useNavigate();
  const client = useQueryClient();
  const delivery = useDelivery(id);
  const studio = useStudio();
  const collections = useCollections();
  const progress = useDeliveryProgress()[id];
  const { move, answer, settleReflections, makeSurface, offer, dismissOffer } = useDeliveryActions(id);
  const [carried, setCarried] = useState<Carried | null>(null);
  const [open, setOpen] = useState<{ path: string; role: string } | null>(null);
  const [collection, setCollection] = useState("");
  const [filter, setFilter] = useState<Filter>("all");
  const [words, setWords] = useState("");
  const sets = delivery.data?.result?.sets ?? [];
  const rows = filtered(sets, filter, words);
  const selection = useSelection(rows.map((s) => s.name));
  const wire = useMutation({
    mutationFn: (chosen: string[] | null) =>
      post("/api/v1/deliveries/{id}/wire", {
        params: { path: { id } },
        body: {
          collection: collection || null,
          sets: chosen,
        },
      }),
    onSuccess: (looks) => {
      void client.invalidateQueries({ queryKey: keys.looks() });
      void client.invalidateQueries({ queryKey: keys.collections() });
      toast(`${looks.length} look${looks.length === 1 ? "" : "s"} made`);
      void navigate(looks.length === 1 ? `/looks/${looks[0].id}` : "/looks");
    },
  });
  if (!delivery.data || !studio.data)
    return <p className="p-6 text-soft">{delivery.error ? delivery.error.message : "Opening the delivery…"}</p>;
  const d = delivery.data;
  if (!d.result) return <Analysing delivery={d} progress={progress} />;
  const readySets = sets.filter(ready);
  const chosen = sets.filter((s) => selection.chosen.has(s.name)).map((s) => s.name);
  const counts: Record<Filter, number> = {
    all: sets.length,
    ready: readySets.length,
    look: sets.length - readySets.length,
    missing: sets.filter((s) => missing(s).length > 0).length,
    refused: d.result.rejected.length,
  };
  const shown =
    open &&
    sets
      .flatMap((s) => s.maps.map((m) => ({ set: s, map: m })))
      .find((x) => x.map.path === open.path && x.map.role === open.role);
  const place = (map: PlacedMap, set: string, role: MapRole) => {
    move.mutate({ path: map.path, fromRole: map.role, toSet: set, toRole: role });
    setOpen({ path: map.path, role });
  };
  return (
    <div className="grid h-full grid-rows-[auto_auto_minmax(0,1fr)_auto]">
      <div className="flex items-center gap-3 border-b border-rule px-4 py-1.5">
        <Link to="/intake" className="text-small text-soft underline">
          Intake
        </Link>
        <h1 data-given className="text-large font-medium">
          {d.name}
        </h1>
        <span className="text-soft">
          {d.files} files, {(d.bytes / 1048576).toFixed(1)} MB
          {d.result.models && d.result.models.length > 0 && <ModelsOfDelivery delivery={d.id} />}
        </span>
        <span className="grow" />
        {carried ? (
          <span role="status" className="bg-glaze-pale px-2">
            Moving {carried.path.split("/").at(-1)}: click a cell, or choose it by the arrow keys and press Enter;
            Escape cancels
          </span>
        ) : (
          <>
            <input
              className="entry w-40"
              placeholder="Find a surface"
              aria-label="Find a surface"
              value={words}
              onChange={(e) => setWords(e.target.value)}
            />
            <div role="group" aria-label="show" className="flex">
              {(Object.keys(filterWords) as Filter[]).map((f) => (
                <button
                  key={f}
                  className="act -ml-px text-small aria-pressed:bg-glaze-pale"
                  aria-pressed={filter === f}
                  onClick={() => setFilter(f)}
                >
                  {filterWords[f]} <span className="font-mono">{counts[f]}</span>
                </button>
              ))}
            </div>
          </>
        )}
      </div>
      <div>
        <Questions result={d.result} studio={studio.data} onAnswer={(a) => answer.mutate(a)} />
        <ReflectionQuestion
          result={d.result}
          studio={studio.data}
          onAnswer={(meaning) => settleReflections.mutate(meaning)}
        />
        {offer && <RuleOfferLine key={offer.words} offer={offer} onDone={dismissOffer} />}
      </div>
      <SetTable
        sets={rows}
        studio={studio.data}
        carried={carried}
        selected={selection.chosen}
        onSelect={selection.toggle}
        onSelectAll={selection.setAll}
        onCarry={setCarried}
        onDrop={(what, toSet, toRole) => {
          setCarried(null);
          move.mutate({ path: what.path, fromRole: what.role, toSet, toRole });
        }}
        onOpen={(map) => setOpen({ path: map.path, role: map.role })}
        onBegin={(what, role) => {
          setCarried(null);
          makeSurface.mutate({ paths: [what.path], role });
        }}
      >
        {sets.length === 0 && (
          <p className="p-6 text-soft">
            No surface was found in this delivery. The tray shows what is known of each file: select files there and
            make a surface of them.
          </p>
        )}
        {sets.length > 0 && rows.length === 0 && filter !== "refused" && (
          <p className="p-6 text-soft">No surface here is {filterWords[filter]}.</p>
        )}
        <Tray
          result={d.result}
          onCarry={setCarried}
          onMake={(name, paths) => makeSurface.mutate({ name, paths })}
          refusedOnly={filter === "refused"}
        />
      </SetTable>
      <footer className="flex items-center gap-4 border-t border-rule bg-sunken px-4 py-2">
        <span>
          <b className="font-mono">{counts.ready}</b> ready · <b className="font-mono">{counts.look}</b> need a look ·{" "}
          <b className="font-mono">{counts.missing}</b> with maps missing ·{" "}
          <b className="font-mono">{counts.refused}</b> refused
        </span>
        <span className="grow" />
        <span className="flex items-center gap-1.5">
          into{" "}
          <Combobox
            label="collection"
            testid="collection"
            className="w-44"
            placeholder="no collection"
            value={collection}
            options={[
              { value: "", words: "no collection" },
              ...(collections.data ?? []).map((c) => ({ value: c.name, words: c.name })),
            ]}
            creates="New collection"
            onChange={setCollection}
          />
        </span>
        {chosen.length > 0 && (
          <button
            className="act"
            data-testid="wire-selected"
            disabled={wire.isPending}
            onClick={() => wire.mutate(chosen)}
          >
            Wire the {chosen.length} selected
          </button>
        )}
        <button
          className="act px-5 py-1"
          data-testid="wire"
          data-main="true"
          disabled={readySets.length === 0 || wire.isPending}
          onClick={() => wire.mutate(null)}
        >
          Wire all ready ({readySets.length})
        </button>
      </footer>
      {shown && (
        <MapDrawer
          map={shown.map}
          set={shown.set}
          studio={studio.data}
          onClose={() => setOpen(null)}
          onRole={(role) => place(shown.map, shown.set.name, role)}
          onPacked={(channels) => {
            move.mutate({
              path: shown.map.path,
              fromRole: shown.map.role,
              toSet: shown.set.name,
              toRole: null,
              channels,
            });
            setOpen(null);
          }}
          onTakeOut={() => {
            move.mutate({ path: shown.map.path, fromRole: shown.map.role, toSet: null, toRole: null });
            setOpen(null);
          }}
          onAlternate={(map) => place(map, shown.set.name, map.role)}
        />
      )}
    </div>
  );
}
