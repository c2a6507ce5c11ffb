import type { Chain, NoiseField as Noise } from "../../api/types";
import { NumberEntry } from "../../ui/NumberEntry";
import { useBench } from "../state/benchState";
import { addressWords, isShareable, laneAt, sourceAddress, usersOf } from "../document/address";
import { connect } from "../document/connect";
import { Everyday } from "./Everyday";
import { ApplyToLooks } from "../keep/ApplyToLooks";
import { MapSettings } from "./MapSettings";
import { ConnectChoice } from "./ValueSettings";
import { Select } from "../../ui/Select";
import { named } from "../../ui/names";

/** Where a lane begins: a map, a source, noise or a constant, with what can be said of each. */
export function OriginSettings({ address, chain }: { address: string; chain: Chain }) {
  const { look, solo, setSolo, edit } = useBench("look", "solo", "setSolo", "edit");
  const { origin } = chain;
  const isSolo = solo?.lane === address && solo.step === -1;
  const disconnect = () => {
    const value = laneAt(look, address)?.value;
    // A side row keeps a value; a lane of its own goes back to its default.
    const content = address.includes("/")
      ? { value: value ?? { kind: "scalar", number: 1 } }
      : value
        ? { value }
        : null;
    void edit({ edit: "lane", lane: address, content });
  };
  const buttons = (
    <>
      <button
        className="act"
        aria-pressed={isSolo}
        onClick={() => setSolo(isSolo ? null : { lane: address, step: -1 })}
      >
        Solo
      </button>
      <button className="act" onClick={disconnect}>
        Disconnect
      </button>
    </>
  );
  return (
    <div className="space-y-2">
      {/* Above what is measured while one looks: a button must not move from under the pointer. */}
      <p className="flex gap-2">
        {buttons}
        {isShareable(address) && <ApplyToLooks lane={address} />}
      </p>
      {origin.kind === "slot" && <MapSettings address={address} chain={chain} />}
      {origin.kind === "source" && <SourceWords name={origin.source} />}
      {origin.kind === "noise" && (
        <NoiseFields
          noise={origin.noise}
          onChange={(noise) => void edit(connect(look, address, { ...chain, origin: { kind: "noise", noise } }))}
        />
      )}
      {origin.kind === "constant" && <p className="text-soft">One value everywhere; connect a map to vary it.</p>}
      <ConnectChoice address={address} />
      <Everyday address={address} />
    </div>
  );
}

function SourceWords({ name }: { name: string }) {
  const { look, select, edit } = useBench("look", "select", "edit");
  const users = usersOf(look, "source", name);
  return (
    <div>
      <p>
        Begins with the source{" "}
        <button className="underline" onClick={() => select({ lane: sourceAddress(name), step: -1 })}>
          {name}
        </button>
        , which feeds {users.length}: {users.map(addressWords).join(", ")}.
      </p>
      <label className="mt-1 block">
        <span className="text-soft">name</span>{" "}
        <input
          key={name}
          className="entry"
          aria-label="name of the source"
          defaultValue={name}
          onBlur={(e) =>
            e.target.value.trim() &&
            e.target.value !== name &&
            void edit({ edit: "sourceRename", from: name, to: e.target.value.trim() })
          }
        />
      </label>
    </div>
  );
}

function NoiseFields({ noise, onChange }: { noise: Noise; onChange: (noise: Noise) => void }) {
  return (
    <div className="space-y-1">
      <Select
        label="kind of noise"
        value={noise.kind ?? ""}
        options={named(["gradient", "fractal", "cell"])}
        onChange={(chosen) => onChange({ ...noise, kind: chosen as Noise["kind"] })}
      />
      <NumberEntry
        label="cells"
        value={noise.cells ?? 8}
        low={1}
        high={64}
        step={1}
        onChange={(v) => onChange({ ...noise, cells: Math.round(v) })}
      />
      {noise.kind === "fractal" && (
        <>
          <NumberEntry
            label="octaves"
            value={noise.octaves ?? 5}
            low={1}
            high={10}
            step={1}
            onChange={(v) => onChange({ ...noise, octaves: Math.round(v) })}
          />
          <NumberEntry label="gain" value={noise.gain ?? 0.5} onChange={(v) => onChange({ ...noise, gain: v })} />
        </>
      )}
      <NumberEntry
        label="seed"
        value={noise.seed ?? 1}
        low={1}
        high={100}
        step={1}
        onChange={(v) => onChange({ ...noise, seed: Math.round(v) })}
      />
    </div>
  );
}
