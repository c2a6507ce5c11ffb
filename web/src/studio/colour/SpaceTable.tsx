import { useState } from "react";
import type { ColourInfo } from "../../api/types";

/** The config's spaces: searched by any of their words, each with what it was measured to be. */
export function SpaceTable({ colour }: { colour: ColourInfo }) {
  const [words, setWords] = useState("");
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  const rows = colour.spaces.filter((s) => {
    const text = [s.name, ...s.aliases, s.family, s.encoding, s.sameAs ?? "", s.description].join(" ").toLowerCase();
    return wanted.every((w) => text.includes(w));
  });
  return (
    <section aria-labelledby="spaces">
      <div className="mb-1 flex items-baseline gap-3">
        <h2 id="spaces" className="font-medium">
          Its colour spaces
        </h2>
        <input
          className="entry grow"
          placeholder="name, alias, family, encoding"
          aria-label="search spaces"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
        <span className="font-mono text-small text-soft">
          {rows.length}/{colour.spaces.length}
        </span>
      </div>
      <div className="max-h-[420px] overflow-auto border-y border-rule" tabIndex={0} role="group" aria-label="spaces">
        <table className="w-full text-left">
          <thead className="sticky top-0 bg-panel text-small text-soft">
            <tr>
              <th className="py-1 pr-3 font-normal">name</th>
              <th className="pr-3 font-normal">matches</th>
              <th className="pr-3 font-normal">encoding</th>
              <th className="font-normal">family</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((s) => (
              <tr key={s.name} className="border-t border-rule align-top">
                <td className="py-1 pr-3">
                  {s.name}
                  {s.aliases.length > 0 && (
                    <span className="block font-mono text-small text-soft">{s.aliases.join(", ")}</span>
                  )}
                  {s.fault && <span className="block text-small">▢ not supported: {s.fault}</span>}
                </td>
                <td className="py-1 pr-3 font-mono">{s.isData ? "raw" : (s.sameAs ?? "–")}</td>
                <td className="py-1 pr-3 whitespace-nowrap text-soft">{s.isData ? "data" : s.encoding}</td>
                <td className="py-1 text-soft">{s.isDisplay ? "display" : s.family}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
