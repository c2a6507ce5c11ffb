import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { get, post } from "../api/client";
import type { components } from "../api/schema";
import type { MapFile, Reading } from "../api/types";
import { keys } from "../api/keys";

/** A place of a picture: from the left and from the top, 0..1. */
export interface Place {
  u: number;
  v: number;
}

/** One question a pixel of the shown picture at most. */
export function placeOf(e: React.MouseEvent<HTMLElement>, steps = 512): Place {
  const box = e.currentTarget.getBoundingClientRect();
  const part = (value: number) => Math.round(Math.min(0.9999, Math.max(0, value)) * steps) / steps;
  return { u: part((e.clientX - box.left) / box.width), v: part((e.clientY - box.top) / box.height) };
}

/** A map's pixel, from the stored code to the display. */
export function useMapReadout(file: MapFile, reading: Reading, at: Place | null, patch: number, working: string) {
  const y = reading.normalY ? `&normalY=${reading.normalY}` : "";
  return useQuery({
    queryKey: keys.readout(file.content, reading.kind, reading.space, reading.channel, y, at?.u, at?.v, patch, working),
    queryFn: () =>
      get("/api/v1/contents/{hash}/readout", {
        params: {
          path: { hash: file.content },
          query: {
            kind: reading.kind,
            space: reading.space,
            channel: reading.channel,
            ...(reading.normalY && { normalY: reading.normalY }),
            u: at!.u,
            v: at!.v,
            patch,
            working,
          },
        },
      }),
    enabled: at !== null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  }).data;
}

/** A pixel of the newest proof of a viewer; `shown` changes when the picture does. */
export function useProofReadout(viewer: string, shown: string, at: Place | null, patch: number) {
  return useQuery({
    queryKey: keys.proofReadout(viewer, shown, at?.u, at?.v, patch),
    queryFn: () => get("/api/v1/proofs/readout", { params: { query: { viewer, u: at!.u, v: at!.v, patch } } }),
    enabled: at !== null && shown !== "",
    placeholderData: keepPreviousData,
    retry: false,
  }).data;
}

/** Light of a place as a graphics processor drew it, and how it is shown. */
export interface ViewportLight {
  light: readonly [number, number, number];
  working: string;
  view: string;
  exposure: number;
}

/** The numbers of such light. */
export function useLightReadout(of: ViewportLight | null) {
  return useQuery({
    queryKey: keys.viewportReadout(JSON.stringify(of)),
    queryFn: () => {
      const { light, ...rest } = of!;
      const [r, g, b] = light;
      return get("/api/v1/viewport/readout", { params: { query: { r, g, b, ...rest } } });
    },
    enabled: of !== null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    retry: false,
  }).data;
}

type SeenLight = components["schemas"]["SeenLight"];

/** A place of a cell as a graphics processor drew it, and of another beside it. */
export function useDrawnReadout(first: SeenLight | null, second: SeenLight | null) {
  return useQuery({
    queryKey: keys.viewportReadout(JSON.stringify([first, second])),
    queryFn: () => post("/api/v1/viewport/cell-readout", { body: { first: first!, second } }),
    enabled: first !== null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    retry: false,
  }).data;
}

type ProofCell = components["schemas"]["ProofCell"];

/** A place of a proof of a wall, and of another beside it, which both are there. */
export function useCellReadout(first: ProofCell | null, second: ProofCell | null, stamp: string, at: Place | null) {
  return useQuery({
    queryKey: keys.cellReadout(stamp, at?.u, at?.v),
    queryFn: () =>
      post("/api/v1/proofs/cell-readout", { body: { first: first!, second, u: at!.u, v: at!.v, patch: 5 } }),
    enabled: at !== null && first !== null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    retry: false,
  }).data;
}
