import type { IntakeResult } from "../api/types";
import { thumbnailUrl } from "../ui/ReadingChip";
import type { Carried } from "./SetRow";

interface Props {
  result: IntakeResult;
  onCarry: (what: Carried) => void;
  refusedOnly?: boolean;
}

/** Files that fit nowhere, were set aside or were refused, each with what is known of it. */
export function Tray({ result, onCarry, refusedOnly = false }: Props) {
  const { rejected } = result;
  const unsorted = refusedOnly ? [] : result.unsorted;
  const setAside = refusedOnly ? [] : result.setAside;
  if (unsorted.length + setAside.length + rejected.length === 0) return null;
  return (
    <section aria-label="Tray" className="m-3 border border-rule bg-sunken p-3">
      {unsorted.length > 0 && (
        <>
          <h2 className="mb-1 font-medium">Tray: drag these to where they belong</h2>
          <ul className="mb-3 flex flex-wrap gap-2">
            {unsorted.map((f) => (
              <li key={f.path}>
                <button
                  draggable
                  data-path={f.path}
                  className="flex w-72 items-center gap-2 border border-rule bg-raised p-1 text-left"
                  onDragStart={(e) =>
                    e.dataTransfer.setData("application/x-kiln-map", JSON.stringify({ path: f.path, role: null }))
                  }
                  onClick={() => onCarry({ path: f.path, role: null })}
                >
                  {f.file && (
                    <img
                      src={thumbnailUrl(f.file.content, {
                        kind: "colour",
                        space: "srgb_texture",
                        channel: "rgb",
                        normalY: null,
                        midpoint: 0,
                        authority: "role",
                        reason: "",
                      })}
                      alt=""
                      className="size-12 bg-well object-cover"
                      draggable={false}
                    />
                  )}
                  <span>
                    <span className="block break-all">{f.path}</span>
                    <span className="text-small text-soft">{f.reason}</span>
                  </span>
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
      {rejected.length > 0 && (
        <>
          <h2 className="mb-1 font-medium">Refused</h2>
          <ul className="mb-3">
            {rejected.map((f) => (
              <li
                key={f.path}
                className="grid grid-cols-[minmax(0,1fr)_minmax(0,2fr)] gap-3 border-b border-rule py-0.5"
              >
                <span className="font-mono text-small break-all">{f.path}</span>
                <span>{f.error}</span>
              </li>
            ))}
          </ul>
        </>
      )}
      {setAside.length > 0 && (
        <details>
          <summary>{setAside.length} set aside: previews, readmes and models</summary>
          <ul className="mt-1">
            {setAside.map((f) => (
              <li key={f.path} className="grid grid-cols-[minmax(0,1fr)_minmax(0,2fr)] gap-3 py-0.5">
                <span className="font-mono text-small break-all">{f.path}</span>
                <span className="text-soft">{f.reason}</span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}
