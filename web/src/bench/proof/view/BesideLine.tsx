import { viewportBeside, type useBeside } from "./useBeside";
import { Tip } from "../../../ui/Tip";
import { Select } from "../../../ui/Select";

interface Props {
  beside: ReturnType<typeof useBeside>;
  /** The proof's picture, and what it is, to be held. */
  picture: () => string | null;
  words: string;
}

/** Holds the proof as it is, or lays a picture beside it. */
export function BesideLine({ beside, picture, words }: Props) {
  return (
    <div className="flex flex-wrap items-center gap-2 px-2 pt-1">
      <Tip words="Keeps this picture to compare with what you do next">
        <button
          data-testid="snapshot"
          className="act text-small"
          onClick={() => {
            const now = picture();
            if (now) void beside.hold(now, words);
          }}
        >
          Snapshot
        </button>
      </Tip>
      <Select
        label="compare with"
        testid="compare-with"
        className="text-small"
        value=""
        placeholder={beside.beside ? beside.beside.words : "Compare with…"}
        options={[
          { value: "none", words: "nothing" },
          { value: "viewport", words: viewportBeside.words },
          ...(beside.held ? [{ value: "held", words: beside.held.words }] : []),
          ...beside.previews.map((p, i) => ({ value: String(i), words: `${p.name}, as delivered` })),
        ]}
        onChange={(chosen) => {
          if (chosen === "none") beside.put(null);
          else if (chosen === "viewport") beside.put(viewportBeside);
          else if (chosen === "held") beside.put(beside.held);
          else beside.delivered(beside.previews[Number(chosen)]);
        }}
      />
      <label className="act relative text-small focus-within:outline-2 focus-within:outline-glaze">
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
    </div>
  );
}
