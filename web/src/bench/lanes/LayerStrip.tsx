import { useLooks } from "../../api/queries";
import type { Look } from "../../api/types";
import { useBench } from "../BenchContext";
import { freeSource } from "./connect";
import { sourceAddress, maskAddress } from "./address";

/** Which layer's lanes are shown: the ground, one cover, or all together. */
export type Layer = "ground" | "all" | number;

const reliefRules = [
  { id: "replace", words: "its relief replaces the ground's" },
  { id: "add", words: "its relief is added" },
  { id: "followGround", words: "the ground's relief goes through" },
] as const;

interface Props {
  layer: Layer;
  onLayer: (layer: Layer) => void;
}

/** Ground, covers from the lowest up, and all; a cover is laid on here, renamed, moved and taken off. */
export function LayerStrip({ layer, onLayer }: Props) {
  const { id, look, edit, layOn: layLookOn, select } = useBench();
  const looks = useLooks();
  const covers = look.covers ?? [];
  const tab = (is: Layer, words: string) => (
    <button
      key={String(is)}
      className="act -ml-px rounded-none"
      aria-pressed={layer === is}
      onClick={() => onLayer(is)}
    >
      {words}
    </button>
  );
  const layOn = () => {
    const name = freeName(look, "cover");
    void edit({
      edit: "coverInsert",
      at: covers.length,
      cover: { name, lanes: {}, mask: { value: { kind: "scalar", number: 1 } }, relief: "replace" },
    });
    onLayer(covers.length);
    select({ lane: maskAddress(covers.length), step: -1 });
  };
  const cover = typeof layer === "number" ? covers[layer] : undefined;
  return (
    <>
      <div role="group" aria-label="layers" className="flex pl-px">
        {tab("ground", "Ground")}
        {covers.map((c, i) => tab(i, c.name))}
        {covers.length > 0 && tab("all", "All")}
      </div>
      <select
        className="entry w-28"
        aria-label="lay a cover on"
        value=""
        onChange={(e) => {
          if (e.target.value === "empty") return layOn();
          const other = looks.data?.find((l) => l.id === e.target.value);
          if (!other) return;
          void layLookOn(other.id, other.version ?? null).then(() => {
            onLayer(covers.length);
            select({ lane: maskAddress(covers.length), step: -1 });
          });
        }}
      >
        <option value="">Lay a cover on…</option>
        <option value="empty">an empty cover</option>
        {looks.data
          ?.filter((l) => l.id !== id)
          .map((l) => (
            <option key={l.id} value={l.id}>
              {l.name}
              {l.version ? `, version ${l.version}` : ""}
            </option>
          ))}
      </select>
      {cover && typeof layer === "number" && (
        <>
          <input
            key={cover.name}
            className="entry w-28"
            aria-label="name of the cover"
            defaultValue={cover.name}
            onBlur={(e) =>
              e.target.value.trim() &&
              e.target.value !== cover.name &&
              void edit({ edit: "coverChange", at: layer, name: e.target.value.trim(), relief: cover.relief })
            }
          />
          <select
            className="entry"
            aria-label="relief of the cover"
            value={cover.relief}
            onChange={(e) => void edit({ edit: "coverChange", at: layer, name: cover.name, relief: e.target.value })}
          >
            {reliefRules.map((r) => (
              <option key={r.id} value={r.id}>
                {r.words}
              </option>
            ))}
          </select>
          <button
            className="act text-small"
            disabled={layer === 0}
            onClick={() => {
              void edit({ edit: "coverMove", from: layer, to: layer - 1 });
              onLayer(layer - 1);
            }}
          >
            Lower
          </button>
          <button
            className="act text-small"
            onClick={() => {
              void edit({ edit: "coverRemove", at: layer });
              select(null);
              onLayer("ground");
            }}
          >
            Take off
          </button>
        </>
      )}
      <button
        className="act text-small"
        onClick={() => {
          const name = freeSource(look, "source");
          void edit({ edit: "lane", lane: sourceAddress(name), content: { value: { kind: "scalar", number: 0.5 } } });
          select({ lane: sourceAddress(name), step: -1 });
        }}
      >
        New source
      </button>
    </>
  );
}

function freeName(look: Look, wanted: string): string {
  const taken = new Set((look.covers ?? []).map((c) => c.name));
  let name = wanted;
  for (let n = 2; taken.has(name); n++) name = `${wanted} ${n}`;
  return name;
}
