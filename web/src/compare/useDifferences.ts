import { useQueries } from "@tanstack/react-query";
import { post } from "../api/client";
import type { CellDifference, Wall } from "../api/types";
import { cellOf } from "./wall";
import { keys } from "../api/keys";

/** How far every cell is from the first row's in its column, once both are there. */
export function useDifferences(
  wall: Wall,
  ready: (row: number, column: number) => boolean,
  source: (row: number, column: number) => string,
): Map<string, CellDifference> {
  const places = wall.rows.flatMap((_, row) => (row === 0 ? [] : wall.columns.map((__, column) => ({ row, column }))));
  const results = useQueries({
    queries: places.map(({ row, column }) => ({
      queryKey: keys.difference(source(0, column), source(row, column)),
      queryFn: () =>
        post("/api/v1/proofs/difference", {
          body: {
            first: cellOf(wall, { row: 0, column }),
            second: cellOf(wall, { row, column }),
          },
        }),
      enabled: ready(row, column),
      staleTime: Infinity,
    })),
  });
  const found = new Map<string, CellDifference>();
  places.forEach(({ row, column }, i) => {
    const data = results[i].data;
    if (data) found.set(`${row}/${column}`, data);
  });
  return found;
}
