import { memo } from "react";
import type { Place } from "./useReadout";
import { classes } from "./classes";

/** Where the pointer and the pin stand on a picture that is read. */
export const ReadoutMarks = memo(function ReadoutMarks({ pin, at }: { pin: Place | null; at: Place | null }) {
  return [
    { name: "pin", p: pin, glyph: "◇" },
    { name: "pointer", p: at, glyph: "+" },
  ].map(
    ({ name, p, glyph }) =>
      p && (
        <span
          key={name}
          aria-hidden="true"
          className={classes(
            "pointer-events-none absolute -translate-x-1/2 -translate-y-1/2 text-large text-white",
            "[text-shadow:0_0_2px_black,0_0_2px_black]",
          )}
          style={{ left: `${p.u * 100}%`, top: `${p.v * 100}%` }}
        >
          {glyph}
        </span>
      ),
  );
});
