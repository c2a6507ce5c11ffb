import type { Reading } from "../api/types";
import { KindGlyph, readingWords, thumbnailUrl } from "./ReadingChip";

/** The mistaken reading, as the server's Reading.OtherWay defines it. */
export function otherWay(reading: Reading): Reading {
  if (reading.kind === "colour") return { ...reading, space: "raw" };
  if (reading.kind === "direction") return { ...reading, normalY: reading.normalY === "down" ? "up" : "down" };
  return { ...reading, space: "srgb_texture" };
}

/** A map as it is read and as the usual mistake would read it, side by side. */
export function OtherWay({ content, reading }: { content: string; reading: Reading }) {
  return (
    <>
      <div className="grid grid-cols-2 gap-2">
        {[
          { title: "as read", reading },
          { title: "the other way", reading: otherWay(reading) },
        ].map((side) => (
          <figure key={side.title}>
            <img
              src={thumbnailUrl(content, side.reading, 360, side.reading.kind === "direction")}
              alt={side.title}
              className="aspect-square w-full bg-well object-contain"
            />
            <figcaption className="mt-1 flex items-center gap-1 text-small">
              <KindGlyph kind={side.reading.kind} /> {side.title}{" "}
              <span className="font-mono text-soft">{readingWords(side.reading)}</span>
            </figcaption>
          </figure>
        ))}
      </div>
      {reading.kind === "direction" && (
        <p className="mt-1 text-small text-soft">
          Lit from the upper left: what rises must be bright on that side. One of the two turns bumps into dents.
        </p>
      )}
    </>
  );
}
