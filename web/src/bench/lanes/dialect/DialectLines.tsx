import { useMemo } from "react";
import type { Board } from "../../../api/types";
import { nameOf } from "../../../ui/names";
import { addressWords, inputWords } from "../../document/address";
import { useBench, useBenchValue } from "../../state/benchState";
import { trimSign } from "../../trims/trimWords";
import { feedersOf } from "./feeders";

type Restated = Board["dialect"][string][number];

/** What the renderer makes of one neutral input: formula, value, texture, what was baked or trimmed, what is lost. */
export function DialectLines({ input }: { input: string }) {
  const { board, dialect, look } = useBench("board", "dialect", "look");
  const feeders = useFeeders();
  const all = dialect ? board?.dialect[input] : undefined;
  const own = all?.filter((r) => !feeders.has(r.input));
  const shared = all?.filter((r) => feeders.has(r.input)) ?? [];
  const lost = dialect ? board?.report?.lost.find((l) => l.input === input) : undefined;
  const near = dialect ? board?.report?.approximated.filter((l) => l.input === input) : undefined;
  if (!dialect || (!all && !lost)) return null;
  return (
    <div className="mt-1 ml-[140px] space-y-0.5 text-small">
      {own?.map((r) => (
        <RestatedLine key={r.input} restated={r} />
      ))}
      {shared.length > 0 && (
        <p className="px-1 text-soft">
          ↪{" "}
          {shared.map((r, i) => (
            <span key={r.input}>
              {i > 0 && ", "}
              <button
                className="font-mono underline"
                onClick={() => document.getElementById(`fed-${r.input}`)?.scrollIntoView({ block: "center" })}
              >
                {r.input}
              </button>
            </span>
          ))}
          , fed by other lanes too: below
        </p>
      )}
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

/** Inputs of the renderer that several lanes feed: each stands once, with what feeds it. */
export function SharedDialectLines() {
  const { board, dialect } = useBench("board", "dialect");
  const feeders = useFeeders();
  if (!dialect || feeders.size === 0) return null;
  return (
    <section aria-label="fed by several lanes" data-testid="shared-inputs">
      <h2 className="mt-1 border-b border-rule text-small leading-4 text-soft">fed by several lanes</h2>
      {[...feeders].map(([input, lanes]) => {
        const restated = board?.dialect[lanes[0]]?.find((r) => r.input === input);
        return (
          restated && (
            <div key={input} id={`fed-${input}`} className="flex gap-2 border-b border-rule py-1 text-small">
              <span className="w-[126px] shrink-0 px-1 text-soft">{lanes.map(addressWords).join(", ")}</span>
              <div className="min-w-0 grow space-y-0.5">
                <RestatedLine restated={restated} />
              </div>
            </div>
          )
        );
      })}
    </section>
  );
}

/** One input as the renderer gets it, and what of it had to be baked. */
function RestatedLine({ restated: r }: { restated: Restated }) {
  const baked = useBenchValue((s) => s.board?.report?.baked);
  const own = baked?.filter((l) => l.dialectInput === r.input) ?? [];
  return (
    <>
      <p data-dialect-input={r.input} className={own.length > 0 ? "stipple px-1" : "px-1"}>
        <b className="font-mono font-medium">{r.input}</b> <span className="text-soft">= {r.formula}</span>
        {r.value !== null && r.value !== undefined && <span className="font-mono"> → {r.value}</span>}
        {r.steps.length > 0 && <span className="text-soft"> · {r.steps.join(" → ")}</span>}
        {r.space && <span className="font-mono"> · read as {nameOf(r.space)}</span>}
      </p>
      {own.map((b) => (
        <p key={b.note} className="stipple px-1">
          baked: {b.note}
        </p>
      ))}
    </>
  );
}

const noFeeders: ReadonlyMap<string, string[]> = new Map();

/** The renderer's inputs that several of the look's lanes feed, with those lanes. */
function useFeeders(): ReadonlyMap<string, string[]> {
  const { dialect } = useBench("dialect");
  const restated = useBenchValue((s) => s.board?.dialect);
  const lanes = useBenchValue((s) => s.look.lanes);
  return useMemo(
    () => (dialect && restated ? feedersOf(restated, Object.keys(lanes ?? {})) : noFeeders),
    [dialect, restated, lanes],
  );
}
