/** Chapters of docs/guide as modules: Markdown is made HTML when the application is built, so that none of it is worked out in a browser. */
import { Marked } from "marked";
import type { Plugin } from "vite";

interface Section {
  id: string;
  title: string;
  html: string;
  /** Without marks, for the search. */
  text: string;
}

export interface Chapter {
  id: string;
  title: string;
  /** The first parts of the addresses of the views that the chapter is about. */
  views: string[];
  order: number;
  sections: Section[];
  /** Of a chapter that is a table of words: each with its meaning. */
  words: [string, string][];
}

export const slug = (title: string) =>
  title
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "");

/** @throws When the chapter lacks its head, or a part of it. */
export function chapterOf(source: string, id: string): { chapter: Chapter; pictures: string[] } {
  const head = /^---\n([\s\S]*?)\n---\n/.exec(source);
  const field = (name: string) => {
    const value = head && new RegExp(`^${name}: (.+)$`, "m").exec(head[1])?.[1];
    if (!value) throw new Error(`docs/guide/${id}.md has no '${name}' in its head.`);
    return value;
  };
  const pictures: string[] = [];
  const marked = new Marked({
    async: false,
    renderer: {
      // A click shows a picture as large as it is.
      image({ href, text }) {
        if (!pictures.includes(href)) pictures.push(href);
        const at = `%%${pictures.indexOf(href)}%%`;
        return `<a href="${at}" target="_blank" rel="noreferrer"><img src="${at}" alt="${text}" loading="lazy"></a>`;
      },
    },
  });
  const title = field("title");
  const parts = source.slice(head![0].length).split(/^## /m);
  const sections = parts.flatMap((part, i) => {
    if (part.trim() === "") return [];
    const name = i === 0 ? title : part.slice(0, part.indexOf("\n")).trim();
    const body = i === 0 ? part : part.slice(part.indexOf("\n"));
    const html = marked.parse(body) as string;
    return [
      {
        id: slug(name),
        title: name,
        html,
        text: html
          .replace(/<[^>]+>/g, " ")
          .replace(/\s+/g, " ")
          .trim(),
      },
    ];
  });
  const words = [...source.matchAll(/^\| ([^|]+) \| ([^|]+) \|$/gm)]
    .map((m): [string, string] => [m[1], m[2]])
    .filter(([word]) => word !== "word");
  return {
    chapter: {
      id,
      title,
      views: field("views")
        .split(",")
        .map((v) => v.trim()),
      order: Number(field("order")),
      sections,
      words,
    },
    pictures,
  };
}

export const guide: Plugin = {
  name: "guide",
  transform(source, file) {
    const name = /\/docs\/guide\/([a-z-]+)\.md$/.exec(file)?.[1];
    if (!name) return null;
    const { chapter, pictures } = chapterOf(source, name);
    const imports = pictures.map((p, i) => `import p${i} from ${JSON.stringify(`./${p}`)};`);
    // The addresses of pictures are known to the module only.
    const text = JSON.stringify(JSON.stringify(chapter));
    const addresses = `[${pictures.map((_, i) => `p${i}`).join(", ")}]`;
    return {
      code: `${imports.join("\n")}
const pictures = ${addresses};
export default JSON.parse(${text}.replace(/%%(\\d+)%%/g, (_, i) => pictures[i]));`,
      map: null,
    };
  },
};
