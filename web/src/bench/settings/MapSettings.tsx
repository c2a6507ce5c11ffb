import { OtherWay } from "../../ui/OtherWay";
import { ReadingReasons } from "../../ui/ReadingReasons";
import { ReadoutPicture } from "../../ui/ReadoutPicture";
import type { Chain, Reading } from "../../api/types";
import { useBench } from "../state/benchState";
import { connect } from "../document/connect";
import { LaneSentence } from "./LaneSentence";
import { Combobox } from "../../ui/Combobox";
import { Select } from "../../ui/Select";
import { named } from "../../ui/names";
import { Fold } from "../../ui/Fold";

/** How the lane's map is read, with the reason, and every way to overrule it. */
export function MapSettings({ address, chain }: { address: string; chain: Chain }) {
  const { look, studio, edit } = useBench("look", "studio", "edit");
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
      }),
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
          <Combobox
            label="read as"
            value={reading.space}
            options={studio.spaces.map((s) => ({ value: s.id, words: s.words }))}
            onChange={(chosen) => reread({ space: chosen })}
          />
        </label>
        {reading.kind === "scalar" && (
          <label>
            channel{" "}
            <Select
              label="channel"
              value={reading.channel}
              options={named(["luminance", "r", "g", "b", "a"])}
              onChange={(chosen) => reread({ channel: chosen as Reading["channel"] })}
            />
          </label>
        )}
        {reading.kind === "direction" && (
          <label>
            normal direction{" "}
            <Select
              label="normal direction"
              testid="normal-direction"
              value={reading.normalY ?? ""}
              placeholder="not known"
              options={[
                { value: "up", words: "OpenGL (Y up)" },
                { value: "down", words: "DirectX (Y down)" },
              ]}
              onChange={(chosen) => reread({ normalY: chosen as Reading["normalY"] })}
            />
          </label>
        )}
      </div>
      <ReadingReasons reading={reading} reason={reading.reason ?? ""} />
      <p className="text-small text-soft">
        {configName ? (
          <>
            In the colour config: <span className="font-mono text-ink">{configName}</span>.
          </>
        ) : studio.config.hash ? (
          "The colour config has no name for this."
        ) : null}
      </p>
      <Fold head="Compare with the other reading">
        <OtherWay content={content.file.content} reading={reading} />
      </Fold>
      <ReadoutPicture key={content.file.content} file={content.file} reading={reading} title={content.file.name} />
    </div>
  );
}
