import { OtherWay } from "../../ui/OtherWay";
import { ReadingReasons } from "../../ui/ReadingReasons";
import { ReadoutPicture } from "../../ui/ReadoutPicture";
import type { Chain, Reading } from "../../api/types";
import { useBench } from "../BenchContext";
import { connect } from "../lanes/connect";
import { LaneSentence } from "./LaneSentence";

/** How the lane's map is read, with the reason, and every way to overrule it. */
export function MapSettings({ address, chain }: { address: string; chain: Chain }) {
  const { look, studio, edit } = useBench();
  if (chain.origin.kind !== "slot") return null;
  const { slot, reading } = chain.origin;
  const content = look.slots![slot];
  const configName = studio.spaces.find((s) => s.id === reading.space)?.configName;
  const reread = (part: Partial<Reading>) =>
    void edit(
      connect(look, address, {
        ...chain,
        origin: {
          kind: "slot",
          slot,
          reading: { ...reading, ...part, authority: "person", reason: "chosen by a person" },
        },
      } as Chain),
    );
  return (
    <div className="space-y-2">
      <LaneSentence address={address} slot={content} />
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
            {studio.spaces.map((s) => (
              <option key={s.id} value={s.id}>
                {s.words}
              </option>
            ))}
          </select>
        </label>
        {reading.kind === "scalar" && (
          <label>
            channel{" "}
            <select
              className="entry"
              value={reading.channel}
              onChange={(e) => reread({ channel: e.target.value as Reading["channel"] })}
            >
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
        ) : studio.config.hash ? (
          "The colour config has no name for this."
        ) : null}
      </p>
      <details>
        <summary className="cursor-default text-small">Read the other way</summary>
        <OtherWay content={content.file.content} reading={reading} />
      </details>
      <ReadoutPicture key={content.file.content} file={content.file} reading={reading} title={content.file.name} />
    </div>
  );
}
