import type { Reading } from "../api/types";

const spaceWords: Record<string, string> = {
  srgb_texture: "sRGB",
  lin_rec709: "lin 709",
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
  const channel = ["rgb", "luminance"].includes(reading.channel) ? "" : ` · ${reading.channel}`;
  const y = reading.kind === "direction" ? ` Y ${reading.normalY ?? "?"}` : "";
  return (spaceWords[reading.space] ?? reading.space) + channel + y;
}

export function ReadingChip({ reading }: { reading: Reading }) {
  return (
    <span
      className="relative inline-flex items-center gap-1 rounded-tile whitespace-nowrap border border-rule bg-raised px-1 font-mono text-small leading-4 text-ink"
      title={`${reading.kind}: ${reading.reason ?? ""}`}
    >
      <KindGlyph kind={reading.kind} />
      <span className="sr-only">{reading.kind}</span>
      {readingWords(reading)}
    </span>
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
  return `/api/v1/contents/${content}/thumbnail?kind=${reading.kind}&space=${reading.space}&channel=${reading.channel}${y}&size=${size}${lit ? "&lit=true" : ""}`;
}
