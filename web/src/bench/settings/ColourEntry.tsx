import { useEffect, useState } from "react";
import { post } from "../../api/client";
import type { Studio } from "../../api/types";
import { NumberEntry } from "../../ui/NumberEntry";
import { Select } from "../../ui/Select";

/** A colour constant as the look document holds it. */
export interface Tint {
  kind: "colour";
  r: number;
  g: number;
  b: number;
  space: string;
}
interface Restated {
  r: number;
  g: number;
  b: number;
  space: string;
  hex?: string | null;
  inGamut: boolean;
}

interface Props {
  tint: Tint;
  studio: Studio;
  /** While a slider moves, before anything is kept. */
  onDraft?: (tint: Tint) => void;
  onSet: (tint: Tint) => void;
}

/**
 * A colour constant with its space: numbers, or a hex value, which is always sRGB. Changing the space keeps the
 * colour, not the numbers.
 */
export function ColourEntry({ tint, studio, onDraft, onSet }: Props) {
  const [hex, setHex] = useState<string | null>(null);
  const [refused, setRefused] = useState<string | null>(null);
  const [told, setTold] = useState<Restated | null>(null);
  const restate = (
    asked:
      | { to: string; hex: string }
      | { to: string; text: string }
      | { to: string; r: number; g: number; b: number; space: string },
  ) => post("/api/v1/colour/restate", { body: { r: 0, g: 0, b: 0, ...asked } });
  useEffect(() => {
    let gone = false;
    void post("/api/v1/colour/restate", {
      body: {
        r: tint.r,
        g: tint.g,
        b: tint.b,
        space: tint.space,
        to: tint.space,
      },
    })
      .then((t) => !gone && setTold(t))
      .catch(() => undefined);
    return () => {
      gone = true;
    };
  }, [tint.r, tint.g, tint.b, tint.space]);
  const take = (t: Restated) => onSet({ kind: "colour", r: t.r, g: t.g, b: t.b, space: t.space });
  const commitHex = async (text: string) => {
    const typed = text.trim();
    setHex(null);
    if (typed === "" || typed === told?.hex) return;
    if (!/^#?[0-9a-f]{6}$/i.test(typed)) {
      setRefused(`“${typed}” is not a hex value: it has six digits, 0 to 9 and a to f`);
      return;
    }
    setRefused(null);
    take(await restate({ hex: typed, to: tint.space }));
  };
  const linear = studio.spaces.filter((s) => s.id !== "raw");
  return (
    <div className="space-y-1">
      <div className="flex items-center gap-2">
        <span
          aria-hidden="true"
          className="h-6 w-10 border border-rule"
          style={{ background: told?.hex ?? undefined }}
        />
        <label>
          hex{" "}
          <input
            className="entry w-20 font-mono"
            value={hex ?? told?.hex ?? ""}
            placeholder="outside"
            aria-label="hex value, sRGB"
            // From the first touch the text is the person's: an answer that arrives while it is typed must not replace it.
            onFocus={() => setHex(told?.hex ?? "")}
            onChange={(e) => setHex(e.target.value)}
            onBlur={(e) => hex !== null && void commitHex(e.target.value)}
            onKeyDown={(e) => e.key === "Enter" && void commitHex(e.currentTarget.value)}
          />
        </label>
        <label>
          numbers in{" "}
          <Select
            label="numbers in"
            value={tint.space}
            options={linear.map((s) => ({ value: s.id, words: s.words }))}
            onChange={(chosen) => void restate({ ...tint, to: chosen }).then(take)}
          />
        </label>
      </div>
      {refused && (
        <p role="alert" className="text-small">
          {refused}
        </p>
      )}
      {(["r", "g", "b"] as const).map((c) => (
        <NumberEntry
          key={c}
          label={{ r: "red", g: "green", b: "blue" }[c]}
          value={tint[c]}
          onDraft={onDraft && ((v) => onDraft({ ...tint, [c]: v }))}
          onChange={(v) => onSet({ kind: "colour", r: tint.r, g: tint.g, b: tint.b, space: tint.space, [c]: v })}
        />
      ))}
      {told && !told.inGamut && (
        <p className="text-small text-soft">
          ◐ outside sRGB: a renderer with sRGB values gets the nearest colour, and its report says so
        </p>
      )}
    </div>
  );
}
