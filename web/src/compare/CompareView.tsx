import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams, useSearchParams } from "react-router";
import { get } from "../api/client";
import { useStudio, useLooks } from "../api/queries";
import type { Comparison, Studio, LookSummary, Wall } from "../api/types";
import { useChosenLooks } from "../looks/chosenLooks";
import { PairPanel } from "./PairPanel";
import { DifferenceTable } from "./DifferenceTable";
import { Panels } from "../ui/Panels";
import { useRoom } from "../ui/useRoom";
import { useDifferences } from "./useDifferences";
import { keepPictures, keptPictures, useWallDrawer } from "./cells/useWallDrawer";
import { cellSource, emptyWall, revisionOf, samePlace, type Place } from "./wall";
import { SavedWalls } from "./SavedWalls";
import { WallSettings } from "./WallSettings";
import { WallTable } from "./WallTable";
import { keys } from "../api/keys";

/** A wall of proofs: looks, dialects or times in rows, forms and lights in columns; two of them side by side with their difference. */
export function CompareView() {
  const { id } = useParams();
  const [search] = useSearchParams();
  const { chosen } = useChosenLooks();
  const studio = useStudio();
  const looks = useLooks();
  const saved = useQuery({
    queryKey: keys.comparison(id),
    queryFn: () => get("/api/v1/comparisons/{id}", { params: { path: { id: id ?? "" } } }),
    enabled: !!id,
  });
  if (!studio.data || !looks.data || (id && saved.isPending)) return <p className="p-6 text-soft">Opening the wall…</p>;
  if (saved.error) return <p className="p-6">{saved.error.message}</p>;
  const start = saved.data?.wall ?? {
    ...emptyWall,
    rows: search.has("chosen") ? chosen.map((look) => ({ look, dialect: null, at: null })) : [],
  };
  return (
    <Compare
      key={`${id}/${saved.data?.revision}`}
      start={start}
      saved={saved.data}
      studio={studio.data}
      looks={looks.data}
    />
  );
}

interface Props {
  start: Wall;
  saved?: Comparison;
  studio: Studio;
  looks: LookSummary[];
}

function Compare({ start, saved, studio, looks }: Props) {
  const [wall, setWall] = useState(start);
  const [first, setFirst] = useState<Place | null>(null);
  const [second, setSecond] = useState<Place | null>(null);
  const [pictures, setPictures] = useState(keptPictures);
  const { drawer, trouble } = useWallDrawer(pictures);
  const { place, room } = useRoom<HTMLDivElement>();
  const [shown, setShown] = useState<ReadonlySet<string>>(new Set());
  const source = (row: number, column: number) => cellSource(wall, { row, column }, revisionOf(wall.rows[row], looks));
  const differences = useDifferences(
    wall,
    (row, column) => shown.has(source(row, column)) && shown.has(source(0, column)),
    source,
  );
  const change = (part: Partial<Wall>) => {
    setWall((w) => ({ ...w, ...part }));
    if (part.rows || part.columns) {
      setFirst(null);
      setSecond(null);
    }
  };
  // A click chooses the first, then the second; a third one begins anew.
  const choose = (at: Place) => {
    if (samePlace(at, first)) setFirst(null);
    else if (samePlace(at, second)) setSecond(null);
    else if (!first) setFirst(at);
    else if (!second) setSecond(at);
    else {
      setFirst(at);
      setSecond(null);
    }
  };
  return (
    <Panels
      id="compare"
      direction="horizontal"
      label="wall and pair"
      share={32}
      least={[480, 320]}
      first={
        <section className="flex h-full min-h-0 flex-col" aria-label="Wall">
          <SavedWalls wall={wall} saved={saved} />
          <div ref={place} className="min-h-0 grow overflow-auto px-3 pb-4">
            <WallTable
              room={room}
              wall={wall}
              studio={studio}
              looks={looks}
              first={first}
              second={second}
              differences={differences}
              drawer={drawer}
              onShown={(cell) => setShown((s) => new Set(s).add(cell))}
              onChange={change}
              onChoose={choose}
            />
          </div>
        </section>
      }
      second={
        <aside className="h-full min-h-0 overflow-auto" aria-label="Two pictures compared">
          <PairPanel wall={wall} first={first} second={second} studio={studio} looks={looks} />
          <WallSettings
            wall={wall}
            studio={studio}
            pictures={pictures}
            trouble={trouble}
            onPictures={(p) => {
              keepPictures(p);
              setPictures(p);
            }}
            onChange={change}
          />
          {drawer ? (
            <p className="border-t border-rule p-2 text-soft">
              ΔE of the wall is measured on proofs, which are not made while the viewport is shown.
            </p>
          ) : (
            <DifferenceTable
              wall={wall}
              studio={studio}
              looks={looks}
              differences={differences}
              onChoose={(at) => {
                setFirst({ row: 0, column: at.column });
                setSecond(at);
              }}
            />
          )}
        </aside>
      }
    />
  );
}
