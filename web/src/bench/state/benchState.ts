import { createContext, useContext } from "react";
import { useStore } from "zustand";
import { useShallow } from "zustand/react/shallow";
import { createStore, type StoreApi } from "zustand/vanilla";
import type { Board, Look, LookEdit, Studio } from "../../api/types";
import { parseAddress, type Selection } from "../document/address";
import { rememberCompactRows } from "./compactRows";

/** What stands beside the lanes, under the proof. */
export type Side = "settings" | "view" | "findings";

/** Which layer's lanes are shown: the base layer, one layer by its number, or all together. */
export type ShownLayer = "base" | "all" | number;

/** What every part of the bench works with: the look as it is, what the server says of it, what is selected, and how it is changed. */
export interface BenchData {
  id: string;
  /** The server's number of the look as it was last answered. */
  revision: number;
  /** The look as it is drawn: the server's, with the edits that are on their way. */
  look: Look;
  /** The look as the server has it: what can be asked for pictures and numbers. */
  known: Look;
  studio: Studio;
  board: Board | undefined;
  dialect: string | null;
  selection: Selection | null;
  solo: Selection | null;
  layer: ShownLayer;
  side: Side;
  /** Whether lanes are shown in compact rows, so that many are seen at once. */
  compactRows: boolean;
  edit: (edit: LookEdit) => Promise<void>;
  /** Pictures for a lane, or for the look as a whole, which sorts them. */
  bring: (files: File[], lane: string | null) => Promise<void>;
  /** Lays another look over this one; a version where it is published. */
  layOn: (look: string, version: number | null) => Promise<void>;
}

/** Numbers as a control shows them while it moves, by the names that the viewport's shader has for them. */
export type LiveNumbers = Record<string, readonly number[]>;

/** Fields that are not kept yet. */
export interface DraftedFields {
  lane: string;
  step: string;
  fields: Record<string, unknown>;
}

/** Tiles, as addresses of pictures, and meters of lanes as they are while a step of theirs moves. */
export interface TriedLanes {
  tiles: Record<string, string>;
  meters: Board["meters"];
}

export interface BenchState extends BenchData {
  /** What moves at the moment; null while nothing does. */
  live: LiveNumbers | null;
  setLive: (live: LiveNumbers | null) => void;
  /** Fields of a step as a control of its settings has them while it moves; null while none does. */
  drafted: DraftedFields | null;
  setDrafted: (drafted: DraftedFields | null) => void;
  /** What the board shows of what moves; null while nothing does. */
  tried: TriedLanes | null;
  setTried: (tried: TriedLanes | null) => void;
  /** Shows the settings of a tile, and the layer it stands in; of the look itself with null. */
  select: (selection: Selection | null) => void;
  setSolo: (solo: Selection | null) => void;
  setLayer: (layer: ShownLayer) => void;
  setSide: (side: Side) => void;
  setCompactRows: (on: boolean) => void;
}

export type BenchStore = StoreApi<BenchState>;

export const makeBenchStore = (data: BenchData): BenchStore =>
  createStore((set, get) => ({
    ...data,
    live: null,
    setLive: (live) => set({ live }),
    drafted: null,
    setDrafted: (drafted) => set({ drafted }),
    tried: null,
    setTried: (tried) => set({ tried }),
    select: (selection) => {
      const { layer } = get();
      const own = selection && (parseAddress(selection.lane)?.layer ?? null);
      const shown =
        own !== null && layer !== "all" ? own : selection && own === null && layer !== "all" ? "base" : layer;
      set({ selection, side: "settings", layer: shown });
    },
    setSolo: (solo) => set({ solo }),
    setLayer: (layer) => set({ layer }),
    setSide: (side) => set({ side }),
    setCompactRows: (compactRows) => {
      rememberCompactRows(compactRows);
      set({ compactRows });
    },
  }));

/** What moves of one step; null while none of its fields does. */
export const draftedOf = (lane: string, step: string) => (state: BenchState) =>
  state.drafted?.lane === lane && state.drafted.step === step ? state.drafted.fields : null;

export const BenchContext = createContext<BenchStore | null>(null);

export function useBenchStore(): BenchStore {
  const store = useContext(BenchContext);
  if (!store) throw new Error("This belongs on the bench.");
  return store;
}

/** These parts of the bench's state; whoever asks is drawn again only when one of them changes. */
export function useBench<K extends keyof BenchState>(...parts: K[]): Pick<BenchState, K> {
  return useStore(
    useBenchStore(),
    useShallow((state) => Object.fromEntries(parts.map((p) => [p, state[p]])) as Pick<BenchState, K>),
  );
}

/** Something made of the bench's state; drawn again only when it is another value. */
export const useBenchValue = <T>(of: (state: BenchState) => T): T => useStore(useBenchStore(), of);
