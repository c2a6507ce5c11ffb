import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { toast } from "sonner";
import { send } from "../api/client";
import { useCollections, useDelivery, useHouse } from "../api/queries";
import type { Delivery, MapRole, PlacedMap } from "../api/types";
import { useDeliveryProgress } from "../frame/Frame";
import { columns, missing, ready } from "./columns";
import { MapDrawer } from "./MapDrawer";
import { SetRow, type Carried } from "./SetRow";
import { Tray } from "./Tray";

interface Move {
  path: string;
  fromRole: string | null;
  toSet: string | null;
  toRole: MapRole | null;
}

/** Rows are map sets, columns are roles; a map is moved by drag or by keyboard. */
export function SortingTable() {
  const { id = "" } = useParams();
  const navigate = useNavigate();
  const client = useQueryClient();
  const delivery = useDelivery(id);
  const house = useHouse();
  const collections = useCollections();
  const progress = useDeliveryProgress()[id];
  const [carried, setCarried] = useState<Carried | null>(null);
  const [open, setOpen] = useState<{ path: string; role: string } | null>(null);
  const [collection, setCollection] = useState("");
  const move = useMutation({
    mutationFn: (m: Move) => send<Delivery>("POST", `/deliveries/${id}/move`, m),
    onSuccess: (changed, m) => {
      client.setQueryData(["delivery", id], changed);
      toast(m.toSet ? `${m.path.split("/").at(-1)} is now ${m.toRole} of ${m.toSet}` : "Taken out to the tray");
    },
  });
  const wire = useMutation({
    mutationFn: () =>
      send<{ id: string; name: string }[]>("POST", `/deliveries/${id}/wire`, { collection: collection || null }),
    onSuccess: (looks) => {
      void client.invalidateQueries({ queryKey: ["looks"] });
      void client.invalidateQueries({ queryKey: ["collections"] });
      toast(`${looks.length} look${looks.length === 1 ? "" : "s"} wired`);
      void navigate(looks.length === 1 ? `/looks/${looks[0].id}` : "/looks");
    },
  });
  const drop = (what: Carried, toSet: string, toRole: MapRole) => {
    setCarried(null);
    move.mutate({ path: what.path, fromRole: what.role, toSet, toRole });
  };

  if (!delivery.data || !house.data)
    return <p className="p-6 text-soft">{delivery.error ? delivery.error.message : "Opening the delivery…"}</p>;
  const d = delivery.data;
  if (!d.result)
    return (
      <div className="p-6" role="status">
        <h1 className="mb-2 text-title font-medium">{d.name}</h1>
        {d.state === "analysing" ? (
          <>
            <p>
              {progress?.stage ?? "waiting for its turn"}{" "}
              <span className="font-mono">
                {progress && progress.total > 0 ? `${progress.done} of ${progress.total}` : ""}
              </span>
            </p>
            <progress
              className="my-2 w-80 accent-glaze"
              value={progress?.done ?? 0}
              max={progress?.total || 1}
              aria-label="analysed"
            />
            <p>
              <button
                className="act"
                onClick={() => void send("POST", `/deliveries/${id}/cancel`).then(() => navigate("/intake"))}
              >
                Cancel
              </button>
            </p>
          </>
        ) : (
          <p>{d.message ?? d.state}</p>
        )}
      </div>
    );
  const sets = d.result.sets;
  const readySets = sets.filter(ready);
  const shown =
    open &&
    sets
      .flatMap((s) => s.maps.map((m) => ({ set: s, map: m })))
      .find((x) => x.map.path === open.path && x.map.role === open.role);
  const place = (map: PlacedMap, set: string, role: MapRole) =>
    move.mutate({ path: map.path, fromRole: map.role, toSet: set, toRole: role });
  return (
    <div className="grid h-full grid-rows-[auto_minmax(0,1fr)_auto]">
      <div className="flex items-baseline gap-3 border-b border-rule px-4 py-2">
        <Link to="/intake" className="text-small text-soft underline">
          Intake
        </Link>
        <h1 className="text-large font-medium">{d.name}</h1>
        <span className="text-soft">
          {d.files} files, {(d.bytes / 1048576).toFixed(1)} MB
        </span>
        {carried && (
          <span role="status" className="ml-auto bg-glaze-pale px-2">
            Carrying {carried.path.split("/").at(-1)}: arrow keys choose the cell, Enter puts it down, Esc leaves it
          </span>
        )}
      </div>
      <div className="overflow-auto">
        <table className="w-full border-collapse">
          <thead className="sticky top-0 z-10 bg-panel text-left text-small text-soft">
            <tr>
              <th className="border-b border-rule px-3 py-1 font-normal">surface</th>
              {columns.map((c) => (
                <th key={c.id} className="border-b border-rule px-1 font-normal">
                  {c.word}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {sets.map((set) => (
              <SetRow
                key={set.name}
                set={set}
                house={house.data}
                sets={sets}
                carried={carried}
                onCarry={setCarried}
                onDrop={drop}
                onOpen={(map) => setOpen({ path: map.path, role: map.role })}
              />
            ))}
          </tbody>
        </table>
        {sets.length === 0 && (
          <p className="p-6 text-soft">
            No surface was found in this delivery. The tray says what is known of each file.
          </p>
        )}
        <Tray result={d.result} onCarry={setCarried} />
      </div>
      <footer className="flex items-center gap-4 border-t border-rule bg-sunken px-4 py-2">
        <span>
          <b className="font-mono">{readySets.length}</b> ready ·{" "}
          <b className="font-mono">{sets.length - readySets.length}</b> need a look ·{" "}
          <b className="font-mono">{sets.filter((s) => missing(s).length > 0).length}</b> with maps missing ·{" "}
          <b className="font-mono">{d.result.rejected.length}</b> refused
        </span>
        <span className="grow" />
        <label>
          into{" "}
          <input
            className="entry w-44"
            list="collection-names"
            placeholder="no collection"
            value={collection}
            onChange={(e) => setCollection(e.target.value)}
            aria-label="collection"
          />
          <datalist id="collection-names">
            {collections.data?.map((c) => (
              <option key={c.id} value={c.name} />
            ))}
          </datalist>
        </label>
        <button
          className="act px-5 py-1"
          data-main="true"
          disabled={readySets.length === 0 || wire.isPending}
          onClick={() => wire.mutate()}
        >
          Wire all ready ({readySets.length})
        </button>
      </footer>
      {shown && (
        <MapDrawer
          map={shown.map}
          set={shown.set}
          house={house.data}
          onClose={() => setOpen(null)}
          onRole={(role) => {
            place(shown.map, shown.set.name, role as MapRole);
            setOpen({ path: shown.map.path, role });
          }}
          onTakeOut={() => {
            move.mutate({ path: shown.map.path, fromRole: shown.map.role, toSet: null, toRole: null });
            setOpen(null);
          }}
          onAlternate={(map) => {
            place(map, shown.set.name, map.role);
            setOpen({ path: map.path, role: map.role });
          }}
        />
      )}
    </div>
  );
}
