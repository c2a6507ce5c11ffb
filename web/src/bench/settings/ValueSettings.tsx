import { slotWords } from "../document/words";
import type { Lane, NeutralInput } from "../../api/types";
import { NumberEntry } from "../../ui/NumberEntry";
import { useBench } from "../state/benchState";
import { isTangent, sourceAddress } from "../document/address";
import { chainOfSlot, chainOfSource, connect } from "../document/connect";
import { FileChoice } from "../lanes/FileDrop";
import { ColourEntry, type Tint } from "./ColourEntry";
import { Everyday } from "./Everyday";
import { Combobox } from "../../ui/Combobox";

interface Props {
  address: string;
  /** Null for sources, masks and side rows: a number, or whatever is connected. */
  input: NeutralInput | undefined;
  value: Lane["value"];
}

/** A lane without a chain: its value, and what could feed it. */
export function ValueSettings({ address, input, value }: Props) {
  const { studio, edit, setLive } = useBench("studio", "edit", "setLive");
  const set = (v: object) =>
    void edit(
      address.includes("/")
        ? { edit: "lane", lane: address, content: { value: v } }
        : { edit: "value", lane: address, value: v },
    ).finally(() => setLive(null));
  const isColour = input ? input.type === "colour" : value?.kind === "colour";
  const colour: Tint =
    value?.kind === "colour"
      ? { ...value, kind: "colour" }
      : {
          kind: "colour",
          r: input?.default?.[0] ?? 0.5,
          g: input?.default?.[1] ?? 0.5,
          b: input?.default?.[2] ?? 0.5,
          space: "acescg",
        };
  const number = value?.kind === "scalar" ? value.number : (input?.default?.[0] ?? 0);
  return (
    <div className="space-y-1">
      {isColour && (
        <ColourEntry
          tint={colour}
          studio={studio}
          onDraft={({ r, g, b }) => setLive({ [address]: [r, g, b] })}
          onSet={set}
        />
      )}
      {!isColour && (input?.type !== "direction" || isTangent(input.name)) && (
        <NumberEntry
          label="value"
          testid="value"
          logarithmic={input?.name === "emission_luminance"}
          unit={input?.type === "direction" ? "turn" : (input?.unit ?? undefined)}
          low={input?.type === "direction" ? 0 : (input?.low ?? 0)}
          high={input?.high ?? 1}
          value={number}
          onDraft={(n) => setLive({ [address]: [n] })}
          onChange={(n) => {
            setLive({ [address]: [n] });
            set({ kind: "scalar", number: n });
          }}
        />
      )}
      {!input && (
        <button className="act text-small" onClick={() => set(isColour ? { kind: "scalar", number: 0.5 } : colour)}>
          {isColour ? "Use a number" : "Use a colour"}
        </button>
      )}
      <ConnectChoice address={address} />
      <Everyday address={address} />
    </div>
  );
}

/** What a lane can be connected to: slots, sources, noise. */
export function ConnectChoice({ address }: { address: string }) {
  const { look, studio, edit } = useBench("look", "studio", "edit");
  const sources = Object.keys(look.sources ?? {}).filter((s) => address !== sourceAddress(s));
  return (
    <div className="flex items-center gap-2 pt-2">
      <label className="flex min-w-0 items-center gap-2">
        connect
        <Combobox
          label="connect"
          testid="connect"
          value=""
          placeholder="a map, a source or noise…"
          options={[
            ...Object.keys(look.slots ?? {}).map((s) => ({
              value: `slot:${s}`,
              words: `${slotWords(look, studio, s)}`,
            })),
            ...sources.map((s) => ({ value: sourceAddress(s), words: `↪ ${s}` })),
            { value: "noise:", words: "noise" },
          ]}
          onChange={(chosen) => {
            const [kind, ...rest] = chosen.split(":");
            const name = rest.join(":");
            if (kind === "slot") void edit(connect(look, address, chainOfSlot(look, studio, name, address)));
            if (kind === "source") void edit(connect(look, address, chainOfSource(look, studio, name, address)));
            if (kind === "noise")
              void edit({
                edit: "lane",
                lane: address,
                content: {
                  chain: {
                    origin: { kind: "noise", noise: { kind: "fractal", cells: 8, octaves: 5, gain: 0.5, seed: 1 } },
                    steps: [],
                  },
                },
              });
          }}
        />
      </label>
      <FileChoice lane={address} words="A file…" />
    </div>
  );
}
