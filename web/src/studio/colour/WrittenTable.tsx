import { useStudio, useWrittenReadings } from "../../api/queries";
import { KindGlyph } from "../../ui/ReadingChip";

/** Role by dialect: exactly what is written of a map's reading. Prints on its own. */
export function WrittenTable() {
  const studio = useStudio();
  const written = useWrittenReadings();
  if (!written.data || !studio.data) return null;
  const dialects = studio.data.dialects;
  return (
    <section aria-labelledby="written" className="mt-8">
      <div className="mb-1 flex items-baseline gap-4">
        <h2 id="written" className="font-medium">
          Exported colour spaces, by role and renderer
        </h2>
        <span className="text-soft">for an 8-bit file with its usual reading</span>
        <span className="grow" />
        <button className="act text-small print:hidden" onClick={() => window.print()}>
          Print
        </button>
      </div>
      <table className="w-full table-fixed text-left">
        <thead className="text-small text-soft">
          <tr>
            <th className="w-[120px] py-1 pr-3 font-normal">role</th>
            {dialects.map((d) => (
              <th key={d.id} className="pr-2 align-bottom font-normal">
                {d.title}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {written.data.map((line) => (
            <tr key={line.role} className="border-t border-rule">
              <td className="py-0.5 pr-2 align-top">
                <KindGlyph kind={line.kind} /> {line.role}
              </td>
              {dialects.map((d) => (
                <td key={d.id} className="pr-2 align-top font-mono text-small wrap-anywhere">
                  {line.dialects[d.id]}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
