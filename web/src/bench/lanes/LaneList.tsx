import { useState } from "react";
import type { NeutralInput } from "../../api/types";
import { useBench, useBenchValue, type ShownLayer } from "../state/benchState";
import { inputWords, isTangent, layerAddress, maskAddress, sourceAddress, usersOf } from "../document/address";
import { carry } from "./drag";
import { SharedDialectLines } from "./dialect/DialectLines";
import { LaneRow } from "./LaneRow";

const groups = ["base", "reflection", "relief", "light", "layers", "geometry"];

/** What people read over a group; its identifier is the core's. */
const groupWords: Record<string, string> = {
  base: "base",
  reflection: "reflection",
  relief: "normal and height",
  light: "light",
  layers: "coat, fuzz and what lies over the surface",
  geometry: "geometry",
};

/** The lanes of a layer by group: sources first, then what is used; unused inputs fold into one line and are found by typing. */
export function LaneList({ layer }: { layer: ShownLayer }) {
  const { look, studio, select } = useBench("look", "studio", "select");
  const lost = useBenchValue((s) => s.board?.report?.lost);
  const selected = useBenchValue((s) => s.selection?.lane);
  const [wanted, setWanted] = useState("");
  const [open, setOpen] = useState(false);
  const covers = look.covers ?? [];
  const cover = typeof layer === "number" ? covers[layer] : undefined;
  const addressOf = (input: string) => (typeof layer === "number" ? layerAddress(layer, input) : input);
  const lanes = cover ? cover.lanes : (look.lanes ?? {});
  const isUsed = (name: string) =>
    lanes[name] !== undefined || (layer === "all" && covers.some((c) => c.lanes[name] !== undefined));
  const fits = (i: NeutralInput) =>
    wanted
      .toLowerCase()
      .split(/\s+/)
      .every((w) => `${inputWords(i.name)} ${i.words}`.toLowerCase().includes(w));
  const found = studio.inputs.filter((i) =>
    wanted
      ? fits(i)
      : isUsed(i.name) || selected === addressOf(i.name) || (open && (i.type !== "direction" || isTangent(i.name))),
  );
  // What is called so comes before what only speaks of it.
  const rank = (i: NeutralInput) =>
    [inputWords(i.name) !== wanted, !inputWords(i.name).includes(wanted)].filter(Boolean).length;
  const shown = wanted ? [...found].sort((a, b) => rank(a) - rank(b)) : found;
  const unused = studio.inputs.filter((i) => !isUsed(i.name)).length;
  const lostOf = (name: string) => lost?.some((l) => l.input === name);
  return (
    <>
      {!cover && <Sources />}
      {cover && typeof layer === "number" && (
        <section aria-label="mask">
          <h2 className="mt-1 border-b border-rule text-small leading-4 text-soft">mask: where the layer lies</h2>
          <LaneRow address={maskAddress(layer)} lane={cover.mask} title="mask" />
          {Object.keys(cover.lanes).length === 0 && (
            <p className="px-1 py-2 text-soft">
              This layer changes nothing yet. Find an input below and give it a value or a map.
            </p>
          )}
        </section>
      )}
      {groups.map((group) => {
        const rows = shown.filter((i) => i.group === group);
        if (rows.length === 0) return null;
        return (
          <section key={group} aria-label={groupWords[group]}>
            <h2 className="mt-1 border-b border-rule text-small leading-4 text-soft">{groupWords[group]}</h2>
            {rows.map((i) => (
              <LaneRow
                key={i.name}
                address={addressOf(i.name)}
                lane={lanes[i.name]}
                note={!cover && lostOf(i.name) && lanes[i.name] ? lostWords : undefined}
                end={layer === "all" ? <Covered input={i.name} /> : undefined}
              />
            ))}
          </section>
        );
      })}
      {!cover && <SharedDialectLines />}
      <div className="my-2 flex items-center gap-3 px-1">
        <input
          className="entry w-44"
          aria-label="find an input"
          data-testid="find-input"
          placeholder="Find an input"
          value={wanted}
          onChange={(e) => setWanted(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === "Escape") setWanted("");
            if (e.key !== "Enter" || !shown[0]) return;
            select({ lane: addressOf(shown[0].name), step: -1 });
            setWanted("");
            setOpen(false);
            e.currentTarget.blur();
          }}
        />
        <button
          className="text-soft underline"
          data-testid="unused"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
        >
          {open ? "hide unused inputs" : `+${unused} unused`}
        </button>
      </div>
    </>
  );
}

const lostWords = <s>not in this renderer</s>;

const feedsWords = (n: number) => (n === 0 ? "unused" : `feeds ${n} lane${n === 1 ? "" : "s"}`);

/** Named lanes that feed others. */
function Sources() {
  const { look, edit } = useBench("look", "edit");
  const names = Object.keys(look.sources ?? {});
  if (names.length === 0) return null;
  return (
    <section aria-label="sources">
      <h2 className="mt-1 border-b border-rule text-small leading-4 text-soft">sources</h2>
      {names.map((name) => {
        const feeds = usersOf(look, "source", name).length;
        return (
          <div key={name} draggable onDragStart={(e) => e.target === e.currentTarget && carry(e, "source", name)}>
            <LaneRow
              address={sourceAddress(name)}
              lane={look.sources![name]}
              title={name}
              note={feedsWords(feeds)}
              end={
                feeds === 0 ? (
                  <button
                    className="act mr-2 text-small"
                    onClick={() => void edit({ edit: "lane", lane: sourceAddress(name), content: null })}
                  >
                    Remove
                  </button>
                ) : undefined
              }
            />
          </div>
        );
      })}
    </section>
  );
}

/** In All: each covered row ends with one tile a cover. */
function Covered({ input }: { input: string }) {
  const { look, select, id, revision } = useBench("look", "select", "id", "revision");
  const over = (look.covers ?? []).flatMap((c, i) => (c.lanes[input] ? [{ cover: c, i }] : []));
  return (
    <>
      {over.map(({ cover, i }) => (
        <button
          key={i}
          className="mr-2 w-[88px] shrink-0 border border-rule bg-raised p-0.5 text-left"
          onClick={() => select({ lane: layerAddress(i, input), step: -1 })}
          data-covered={i}
        >
          {cover.mask.chain ? (
            <img
              src={`/api/v1/looks/${id}/tile?lane=${maskAddress(i)}&revision=${revision}`}
              alt=""
              className="h-[36px] w-full bg-well object-cover"
            />
          ) : (
            <span className="block h-[36px] bg-well" />
          )}
          <span className="block truncate text-small">{cover.name} × mask</span>
        </button>
      ))}
    </>
  );
}
