import { useBench } from "../state/benchState";
import { trimSign } from "../trims/trimWords";
import { nameOf } from "../../ui/names";
import { inputWords } from "../document/address";

/** What the dialect makes of one neutral input: formula, value, texture, what was baked or trimmed, what is lost. */
export function DialectLines({ input }: { input: string }) {
  const { board, dialect, look } = useBench("board", "dialect", "look");
  const restated = dialect ? board?.dialect[input] : undefined;
  const lost = dialect ? board?.report?.lost.find((l) => l.input === input) : undefined;
  const near = dialect ? board?.report?.approximated.filter((l) => l.input === input) : undefined;
  const baked = dialect
    ? board?.report?.baked.filter((l) => restated?.some((r) => r.input === l.dialectInput))
    : undefined;
  if (!dialect || (!restated && !lost)) return null;
  return (
    <div className="mt-1 ml-[140px] space-y-0.5 text-small">
      {restated?.map((r) => (
        <p key={r.input} data-dialect-input={r.input} className={baked && baked.length > 0 ? "stipple px-1" : "px-1"}>
          <b className="font-mono font-medium">{r.input}</b> <span className="text-soft">= {r.formula}</span>
          {r.value !== null && r.value !== undefined && <span className="font-mono"> → {r.value}</span>}
          {r.steps.length > 0 && <span className="text-soft"> · {r.steps.join(" → ")}</span>}
          {r.space && <span className="font-mono"> · read as {nameOf(r.space)}</span>}
        </p>
      ))}
      {baked?.map((b) => (
        <p key={b.note} className="stipple px-1">
          baked: {b.note}
        </p>
      ))}
      {look.trims?.[dialect]
        ?.filter((t) => t.input === input)
        .map((t, i) => (
          <p key={i} className="hatched px-1" data-testid="trimmed">
            trimmed: <span className="font-mono">{trimSign(t)}</span>
          </p>
        ))}
      {near?.map((n) => (
        <p key={n.note} className="px-1">
          ≈ {n.note}
        </p>
      ))}
      {lost && (
        <p className="px-1">
          <s>{inputWords(input)}</s> lost: {lost.note}
        </p>
      )}
    </div>
  );
}
