import type { useBeside } from "./useBeside";

interface Props {
  beside: ReturnType<typeof useBeside>;
  /** The proof's picture, and what it is, to be held. */
  picture: string | null;
  words: string;
  wipe: number;
  onWipe: (share: number) => void;
}

/** Holds the proof as it is, or lays a picture beside it, and moves the edge between the two. */
export function BesideLine({ beside, picture, words, wipe, onWipe }: Props) {
  return (
    <div className="flex flex-wrap items-center gap-2 px-2 pt-1">
      <button
        className="act text-small"
        disabled={!picture}
        onClick={() => picture && void beside.hold(picture, words)}
        title="keeps this picture to compare with what you do next"
      >
        Hold this picture
      </button>
      <select
        className="entry text-small"
        aria-label="picture beside the proof"
        value=""
        onChange={(e) => {
          const at = e.target.value;
          if (at === "none") beside.put(null);
          else if (at === "held") beside.put(beside.held);
          else beside.delivered(beside.previews[Number(at)]);
        }}
      >
        <option value="">{beside.beside ? beside.beside.words : "beside it…"}</option>
        <option value="none">nothing</option>
        {beside.held && <option value="held">{beside.held.words}</option>}
        {beside.previews.map((p, i) => (
          <option key={p.content} value={i}>
            {p.name}, as delivered
          </option>
        ))}
      </select>
      <label className="act text-small">
        Picture…
        <input
          type="file"
          accept="image/png,image/jpeg,image/webp"
          aria-label="picture from your disk beside the proof"
          className="sr-only"
          onChange={(e) => {
            const file = e.target.files?.[0];
            if (file) beside.put({ url: URL.createObjectURL(file), words: `${file.name}, your own` });
          }}
        />
      </label>
      {beside.beside && (
        <input
          type="range"
          className="grow accent-glaze"
          aria-label="edge between proof and picture"
          min={0}
          max={1}
          step={0.01}
          value={wipe}
          onChange={(e) => onWipe(Number(e.target.value))}
        />
      )}
    </div>
  );
}
