import type { ReactNode } from "react";
import { ReadingReasons } from "../ui/ReadingReasons";
import { ReadoutPicture } from "../ui/ReadoutPicture";
import type { House, Lane, Look, LookEdit, Reading } from "../api/types";

interface Props {
  look: Look;
  house: House;
  laneName: string;
  lane: Lane;
  onEdit: (edit: LookEdit) => void;
  children: ReactNode;
}

/** How the lane's map is read, with the reason, and every way to overrule it. */
export function MapSettings({ look, house, laneName, lane, onEdit, children }: Props) {
  const chain = lane.chain!;
  if (chain.origin.kind !== "slot") return <p className="text-soft">This lane begins with a source.</p>;
  const { slot, reading } = chain.origin;
  const content = look.slots![slot];
  const configName = house.spaces.find((s) => s.id === reading.space)?.configName;
  const reread = (part: Partial<Reading>) =>
    onEdit({
      edit: "lane",
      lane: laneName,
      content: {
        ...lane,
        chain: {
          ...chain,
          origin: {
            kind: "slot",
            slot,
            reading: { ...reading, ...part, authority: "person", reason: "chosen by a person" },
          },
        },
      },
    });
  return (
    <div className="space-y-2">
      <p className="break-all">
        {content.file.name}{" "}
        <span className="font-mono text-small whitespace-nowrap text-soft">
          {content.file.width} × {content.file.height}, {content.file.bits} bit
        </span>
      </p>
      <div className="flex flex-wrap gap-3">
        <label>
          read as{" "}
          <select className="entry" value={reading.space} onChange={(e) => reread({ space: e.target.value })}>
            {house.spaces.map((s) => (
              <option key={s.id} value={s.id}>
                {s.words}
              </option>
            ))}
          </select>
        </label>
        {reading.kind === "scalar" && (
          <label>
            channel{" "}
            <select className="entry" value={reading.channel} onChange={(e) => reread({ channel: e.target.value })}>
              {["luminance", "r", "g", "b", "a"].map((c) => (
                <option key={c}>{c}</option>
              ))}
            </select>
          </label>
        )}
        {reading.kind === "direction" && (
          <label>
            green points{" "}
            <select
              className="entry"
              value={reading.normalY ?? ""}
              onChange={(e) => reread({ normalY: e.target.value as Reading["normalY"] })}
            >
              <option value="" disabled>
                not known
              </option>
              <option value="up">up</option>
              <option value="down">down</option>
            </select>
          </label>
        )}
      </div>
      <ReadingReasons reading={reading} reason={reading.reason ?? ""} />
      <p className="text-small text-soft">
        {configName ? (
          <>
            The colour config calls this <span className="font-mono text-ink">{configName}</span>.
          </>
        ) : house.config.hash ? (
          "The colour config has no name for this."
        ) : null}
      </p>
      <ReadoutPicture key={content.file.content} file={content.file} reading={reading} title={content.file.name} />
      <p className="flex gap-2">
        {children}
        <button
          className="act"
          onClick={() => onEdit({ edit: "lane", lane: laneName, content: lane.value ? { value: lane.value } : null })}
        >
          Disconnect
        </button>
      </p>
    </div>
  );
}
