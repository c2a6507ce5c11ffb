import { useEffect, useMemo } from "react";
import { post } from "../../api/client";
import type { LookEdit } from "../../api/types";
import { useBench, type TriedLanes } from "./benchState";
import type { SentEdit } from "./useEdits";
import { useNewest } from "./useNewest";

/** Milliseconds after which tiles are given up that no answer confirmed. */
const refusedAfter = 900;

/** Tiles and meters of a lane follow while one of its steps moves; what is kept takes their place. */
export function useTriedLane(lane: string, at: number, edit: LookEdit | null) {
  const { id, revision, setTried } = useBench("id", "revision", "setTried");
  const asked = useMemo(() => edit && { lane, from: at, edit: edit as SentEdit }, [lane, at, edit]);
  useNewest(asked, async (body) => {
    const answer = await post("/api/v1/looks/{id}/try-lane", { params: { path: { id } }, body });
    const tried: TriedLanes = { tiles: {}, meters: answer.meters };
    for (const { lane, steps, picture } of answer.tiles)
      tried.tiles[triedTile(lane, steps)] = `data:image/png;base64,${picture}`;
    setTried(tried);
  });
  const moves = edit !== null;
  useEffect(() => {
    if (moves) return;
    const timer = window.setTimeout(() => setTried(null), refusedAfter);
    return () => window.clearTimeout(timer);
  }, [moves, setTried]);
  useEffect(() => () => setTried(null), [revision, lane, at, setTried]);
}

/** The name of a tile: a lane after so many of its steps. */
export const triedTile = (lane: string, steps: number) => `${lane} ${steps}`;
