import type { Reading } from "../api/types";
import { nameOf } from "./names";
import { Tip } from "./Tip";
import { classes } from "./classes";

/** The trade's words for which way green points. */
const directions = { up: "OpenGL", down: "DirectX", unknown: "direction unknown" };

const spaceWords: Record<string, string> = {
  srgb_texture: "sRGB",
  lin_rec709: "linear 709",
  acescg: "ACEScg",
  raw: "raw",
};

/** Data kind by glyph, never by colour: three bars = colour, one bar = scalar, an arrow = direction; then the encoding. */
export function KindGlyph({ kind }: { kind: Reading["kind"] }) {
  return (
    <svg width="11" height="11" viewBox="0 0 11 11" aria-hidden="true" className="inline-block shrink-0">
      {kind === "colour" && <path d="M1.5 2.5h8M1.5 5.5h8M1.5 8.5h8" stroke="currentColor" strokeWidth="1.6" />}
      {kind === "scalar" && <path d="M1.5 5.5h8" stroke="currentColor" strokeWidth="1.8" />}
      {kind === "direction" && <path d="M2 9L9 2M4.5 2H9v4.5" stroke="currentColor" strokeWidth="1.4" fill="none" />}
    </svg>
  );
}

export function readingWords(reading: Pick<Reading, "kind" | "space" | "channel" | "normalY">): string {
  const channel = ["rgb", "luminance"].includes(reading.channel) ? "" : ` · ${nameOf(reading.channel).toLowerCase()}`;
  // Directions are never converted: which way green points is all there is to say.
  if (reading.kind === "direction" && reading.space === "raw") return directions[reading.normalY ?? "unknown"];
  const y = reading.kind === "direction" ? ` · ${directions[reading.normalY ?? "unknown"]}` : "";
  return (spaceWords[reading.space] ?? reading.space) + channel + y;
}

const kindWords = { colour: "colour", scalar: "data", direction: "direction" };

interface ChipProps {
  reading: Reading;
  /** Stands in something that has a tip of its own. */
  quiet?: boolean;
}

export function ReadingChip({ reading, quiet }: ChipProps) {
  const y = reading.normalY === "up" ? "\nOpenGL: Y up" : reading.normalY === "down" ? "\nDirectX: Y down" : "";
  return (
    <Tip words={quiet ? undefined : `${kindWords[reading.kind]}: ${reading.reason ?? ""}${y}`}>
      <span
        className={classes(
          "relative inline-flex max-w-full min-w-0 items-center gap-0.5 rounded-tile whitespace-nowrap border border-rule bg-raised px-0.5",
          "font-mono text-small leading-4 text-ink",
        )}
      >
        <KindGlyph kind={reading.kind} />
        <span className="sr-only">{kindWords[reading.kind]}</span>
        <span className="truncate">{readingWords(reading)}</span>
      </span>
    </Tip>
  );
}

/** A stored map through a reading, small; lit as relief, or as a finding shows it. */
export function thumbnailUrl(
  content: string,
  reading: Reading,
  size = 176,
  lit = false,
  shown: { mark?: string | null; halved?: boolean; crop?: number | null } = {},
): string {
  const y =
    (reading.normalY ? `&normalY=${reading.normalY}` : "") +
    (shown.mark ? `&mark=${encodeURIComponent(shown.mark)}` : "") +
    (shown.halved ? "&halved=true" : "") +
    (shown.crop ? `&crop=${shown.crop}` : "");
  const read = `kind=${reading.kind}&space=${reading.space}&channel=${reading.channel}${y}`;
  return `/api/v1/contents/${content}/thumbnail?${read}&size=${size}${lit ? "&lit=true" : ""}`;
}
