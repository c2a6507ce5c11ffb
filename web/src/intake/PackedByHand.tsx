import { useState } from "react";
import type { Studio, MapRole, PlacedMap } from "../api/types";
import { Select } from "../ui/Select";
import { Fold } from "../ui/Fold";

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
    <Fold className="mt-4" open={Object.keys(now).length > 1} head="Packed: another property in each channel">
      <div className="mt-1 grid grid-cols-[24px_minmax(0,1fr)] items-center gap-1">
        {names.map((c) => (
          <label key={c} className="contents">
            <span className="font-mono">{c}</span>
            <Select
              label={c}
              value={channels[c]}
              options={[
                { value: "", words: "nothing" },
                ...studio.roles.filter((r) => r.kind === "scalar").map((r) => ({ value: r.id, words: r.words })),
              ]}
              onChange={(chosen) => setChannels({ ...channels, [c]: chosen as MapRole | "" })}
            />
          </label>
        ))}
      </div>
      <button className="act mt-1" disabled={Object.keys(given).length === 0} onClick={() => onPacked(given)}>
        Use these channels
      </button>
    </Fold>
  );
}
