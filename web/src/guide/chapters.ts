/** The guide: what is in docs/guide, in its order. Loaded when it is opened or searched. */
import type { Chapter } from "../../plugins/guide";

export type { Chapter };

export const chapters: Chapter[] = Object.values(
  import.meta.glob<Chapter>("../../../docs/guide/*.md", { eager: true, import: "default" }),
).sort((a, b) => a.order - b.order);

/** Our own words with a line each. */
export const words: [string, string][] = chapters.flatMap((c) => c.words);

/** Sections in which every part of what is typed occurs; those that have it in their title first. */
export function sectionsWith(typed: string): { chapter: Chapter; section: Chapter["sections"][number] }[] {
  const parts = typed.toLowerCase().split(/\s+/).filter(Boolean);
  if (parts.length === 0) return [];
  return chapters
    .flatMap((chapter) => chapter.sections.map((section) => ({ chapter, section })))
    .map((found) => {
      const title = found.section.title.toLowerCase();
      const all = `${title} ${found.chapter.title.toLowerCase()} ${found.section.text.toLowerCase()}`;
      if (!parts.every((p) => all.includes(p))) return { found, score: 0 };
      return { found, score: parts.every((p) => title.includes(p)) ? 2 : 1 };
    })
    .filter((f) => f.score > 0)
    .sort((a, b) => b.score - a.score)
    .map((f) => f.found);
}

/** The chapter about a view, by the first part of its address; the first one where there is none. */
export const chapterFor = (view: string): Chapter => chapters.find((c) => c.views.includes(view)) ?? chapters[0];
