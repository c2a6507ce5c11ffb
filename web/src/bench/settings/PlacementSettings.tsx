import { NumberEntry } from "../../ui/NumberEntry";
import { thumbnailUrl } from "../../ui/ReadingChip";
import { useBench } from "../state/benchState";
import { PlacementEntry } from "./PlacementEntry";
import { inputWords } from "../document/address";
import { livePlacement } from "../document/liveNumbers";

/** The placement that all maps share, with a tiling preview and the real size of a repeat. */
export function PlacementSettings() {
  const { look, edit, setLive } = useBench("look", "edit", "setLive");
  const keep = (of: "placement" | "size", fields: Record<string, unknown>) => {
    setLive(livePlacement(`${of}#`, fields));
    void edit({ edit: "fields", of, fields }).finally(() => setLive(null));
  };
  const p = look.placement!;
  const metres = { u: (look.sizeU ?? 1) / (p.repeatsU ?? 1), v: (look.sizeV ?? 1) / (p.repeatsV ?? 1) };
  const own = Object.entries(look.lanes ?? {}).filter(([, l]) => l.chain?.steps.some((s) => s.kind === "place"));
  return (
    <section aria-label="placement">
      <h2 className="mb-1 font-medium">Placement, shared by all maps</h2>
      <PlacementEntry
        placement={p}
        onDraft={(fields) => setLive(livePlacement("placement#", fields))}
        onChange={(fields) => keep("placement", fields)}
      />
      <div className="mt-1 space-y-1">
        {(["sizeU", "sizeV"] as const).map((name) => (
          <NumberEntry
            key={name}
            label={name === "sizeU" ? "surface u" : "surface v"}
            unit="m"
            value={look[name] ?? 1}
            low={0.05}
            high={4}
            onDraft={(v) => setLive({ [`size#${name}`]: [v] })}
            onChange={(v) => keep("size", { [name]: v })}
          />
        ))}
      </div>
      <div className="mt-2 flex gap-3">
        <Tiling />
        <p className="text-small text-soft">
          one repeat covers{" "}
          <span className="font-mono text-ink">
            {metres.u.toFixed(3)} × {metres.v.toFixed(3)} m
          </span>
          {own.length > 0 && (
            <span className="block">with a placement of their own: {own.map(([n]) => inputWords(n)).join(", ")}</span>
          )}
          <span className="block">
            {p.variation ? "One unit of the surface, its tiles varied." : "Lines along the middle are visible seams."}
          </span>
        </p>
      </div>
    </section>
  );
}

/** The base colour repeated two by two, so that its seams stand in the middle. */
function Tiling() {
  const { id, revision, look } = useBench("id", "revision", "look");
  const origin = look.lanes?.base_color?.chain?.origin;
  const slot = origin?.kind === "slot" ? look.slots?.[origin.slot] : undefined;
  if (!slot || origin?.kind !== "slot") return null;
  if (look.placement?.variation)
    return (
      <img
        src={`/api/v1/looks/${id}/tile?lane=base_color&revision=${revision}`}
        alt="one unit of the surface"
        className="size-24 shrink-0 bg-well"
      />
    );
  return (
    <div className="grid size-24 shrink-0 grid-cols-2 bg-well" role="img" aria-label="two by two repeats">
      {[0, 1, 2, 3].map((i) => (
        <img key={i} src={thumbnailUrl(slot.file.content, origin.reading, 96)} alt="" className="size-12" />
      ))}
    </div>
  );
}
