import { Armchair, BookMarked, Columns2, Inbox, Layers, ScrollText } from "lucide-react";

/** The rail's entries; only views that exist have one. */
export const rail = [
  { to: "/intake", words: "Intake", Glyph: Inbox },
  { to: "/looks", words: "Looks", Glyph: Layers },
  { to: "/models", words: "Models", Glyph: Armchair },
  { to: "/compare", words: "Compare", Glyph: Columns2 },
  { to: "/collections", words: "Collections", Glyph: BookMarked },
  { to: "/studio", words: "Studio", Glyph: ScrollText },
];

/** What the command list leads to besides. */
export const studioPages = [
  { to: "/studio", words: "Naming rules" },
  { to: "/studio/colour", words: "Colour" },
  { to: "/studio/renderers", words: "Renderers" },
  { to: "/studio/steps", words: "Saved steps" },
  { to: "/studio/people", words: "People" },
];
