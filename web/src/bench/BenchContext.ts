import { createContext, useContext } from "react";
import type { Board, Studio, Look, LookEdit } from "../api/types";
import type { Selection } from "./lanes/address";

/** What every part of the bench works with: the look as it is, what the server says of it, what is selected, and how it is changed. */
export interface BenchState {
  id: string;
  revision: number;
  look: Look;
  studio: Studio;
  board: Board | undefined;
  dialect: string | null;
  selection: Selection | null;
  select: (selection: Selection | null) => void;
  solo: Selection | null;
  setSolo: (selection: Selection | null) => void;
  /** Whether lanes are shown low, so that many are seen at once. */
  lowRows: boolean;
  edit: (edit: LookEdit) => Promise<void>;
  /** Pictures for a lane, or for the look as a whole, which sorts them. */
  bring: (files: File[], lane: string | null) => Promise<void>;
  /** Lays another look over this one; a version where it is published. */
  layOn: (look: string, version: number | null) => Promise<void>;
}

export const BenchContext = createContext<BenchState | null>(null);

export function useBench(): BenchState {
  const state = useContext(BenchContext);
  if (!state) throw new Error("This belongs on the bench.");
  return state;
}
