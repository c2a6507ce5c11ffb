import { useState } from "react";
import type { Studio, MapRole, PlacedMap } from "../api/types";

interface Props {
  map: PlacedMap;
  studio: Studio;
  /** What the file's channels are taken for now. */
  now: Record<string, MapRole>;
  onPacked: (channels: Record<string, MapRole>) => void;
}

/** Says which property each channel of a file holds. */
export function PackedByHand({ map, studio, now, onPacked }: Props) {
  const names = map.file.channels.includes("A") ? ["r", "g", "b", "a"] : ["r", "g", "b"];
  const [channels, setChannels] = useState<Record<string, MapRole | "">>(
    Object.fromEntries(names.map((c) => [c, now[c] ?? ""])),
  );
  const given = Object.fromEntries(Object.entries(channels).filter(([, r]) => r !== "")) as Record<string, MapRole>;
  if (map.file.channels.length < 3) return null;
  return (
    <details className="mt-4" open={Object.keys(now).length > 1}>
      <summary>It is packed: a property in each channel</summary>
      <div className="mt-1 grid grid-cols-[24px_minmax(0,1fr)] items-center gap-1">
        {names.map((c) => (
          <label key={c} className="contents">
            <span className="font-mono">{c}</span>
            <select
              className="entry"
              value={channels[c]}
              onChange={(e) => setChannels({ ...channels, [c]: e.target.value as MapRole | "" })}
            >
              <option value="">nothing</option>
              {studio.roles
                .filter((r) => r.kind === "scalar")
                .map((r) => (
                  <option key={r.id} value={r.id}>
                    {r.words}
                  </option>
                ))}
            </select>
          </label>
        ))}
      </div>
      <button className="act mt-1" disabled={Object.keys(given).length === 0} onClick={() => onPacked(given)}>
        Take it so
      </button>
    </details>
  );
}
