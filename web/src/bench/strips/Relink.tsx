import { useMissingFiles } from "../../api/queries";
import { useBench } from "../state/benchState";

/** Files that are gone from the store, with what was found in their place; shown before anything is applied. */
export function Relink() {
  const { id, revision, look, edit } = useBench("id", "revision", "look", "edit");
  const missing = useMissingFiles(id, revision);
  if (!missing.data || missing.data.length === 0) return null;
  return (
    <section aria-label="Missing files" className="border-b border-rule bg-sunken px-3 py-1.5">
      {missing.data.map((m) => (
        <div key={m.slot} className="py-0.5">
          <p>
            The file of <b className="font-medium">{m.slot}</b> is missing:{" "}
            <span className="font-mono text-small">{m.file.name}</span>
            {m.candidates.length === 0 && ". No file like it is known here; import it again."}
          </p>
          <ul>
            {m.candidates.map((c) => (
              <li key={c.file.content} className="flex items-center gap-2">
                <button
                  className="act text-small"
                  onClick={() => {
                    const slot = look.slots?.[m.slot];
                    if (slot) void edit({ edit: "slot", slot: m.slot, content: { ...slot, file: c.file } });
                  }}
                >
                  Use this file
                </button>
                <span className="font-mono text-small">{c.file.name}</span>
                <span className="text-small text-soft">{c.reason}</span>
              </li>
            ))}
          </ul>
        </div>
      ))}
    </section>
  );
}
