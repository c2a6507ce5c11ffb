import { create } from "zustand";

/** Which part of the guide is open; null while it is closed. */
interface GuideState {
  /** Chapter and section; an empty chapter means the one about the open view. */
  open: { chapter: string; section?: string } | null;
  show: (chapter?: string, section?: string) => void;
  close: () => void;
}

export const useGuide = create<GuideState>((set) => ({
  open: null,
  show: (chapter = "", section) => set({ open: { chapter, section } }),
  close: () => set({ open: null }),
}));
