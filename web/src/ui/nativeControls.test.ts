import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import ts from "typescript";
import { describe, expect, it } from "vitest";

/** Tests run in web/. */
const root = join(process.cwd(), "src");

const sources = readdirSync(root, { recursive: true, encoding: "utf8" }).filter(
  (f) => f.endsWith(".tsx") && !f.endsWith(".test.tsx"),
);

/** Native elements for which there is a primitive in this folder, and title tooltips. */
function natives(name: string, text: string): string[] {
  const file = ts.createSourceFile(name, text, ts.ScriptTarget.Latest, true, ts.ScriptKind.TSX);
  const found: string[] = [];
  const visit = (node: ts.Node) => {
    if (ts.isJsxOpeningElement(node) || ts.isJsxSelfClosingElement(node)) {
      const tag = node.tagName.getText(file);
      const attributes = Object.fromEntries(
        node.attributes.properties
          .filter(ts.isJsxAttribute)
          .map((a) => [a.name.getText(file), a.initializer?.getText(file) ?? ""]),
      );
      const at = `${name}:${file.getLineAndCharacterOfPosition(node.getStart(file)).line + 1}`;
      if (/^(select|details|progress|meter)$/.test(tag)) found.push(`${at} <${tag}>`);
      if (tag === "input" && /checkbox|radio|range/.test(attributes.type ?? ""))
        found.push(`${at} <input type=${attributes.type}>`);
      if (/^[a-z]/.test(tag) && "title" in attributes) found.push(`${at} <${tag} title>`);
    }
    ts.forEachChild(node, visit);
  };
  visit(file);
  return found;
}

describe("controls", () => {
  it("are our own everywhere: no native select, checkbox, radio, range, details or title tooltip", () => {
    expect(sources.length).toBeGreaterThan(100);
    expect(sources.flatMap((f) => natives(f, readFileSync(join(root, f), "utf8")))).toEqual([]);
  });

  it("of the other kind would be found", () => {
    const text = `<><select /><input type="checkbox" /><input type="range" /><b title="x" /><Part title="x" /><input type="text" /></>`;
    expect(natives("x.tsx", text).map((f) => f.split(" ").slice(1).join(" "))).toEqual([
      "<select>",
      '<input type="checkbox">',
      '<input type="range">',
      "<b title>",
    ]);
  });
});
