import type { LightReadout } from "../../../api/types";
import { useProofReadout, type Place } from "../../../ui/useReadout";
import { Tip } from "../../../ui/Tip";

interface Props {
  viewer: string;
  shown: string;
  at: Place | null;
  pin: Place | null;
  onUnpin: () => void;
}
/** Side of the patch that is averaged, in pixels of the proof: noise evens out, edges stay sharp. */
const patch = 5;

/** One line of numbers under the proof: light in the working space, stops from middle grey, what is displayed. */
export function ProofReadout({ viewer, shown, at, pin, onUnpin }: Props) {
  const here = useProofReadout(viewer, shown, at, patch);
  const there = useProofReadout(viewer, shown, pin, patch);
  return (
    <div className="min-h-[19px] px-2 font-mono text-small" aria-label="numbers of the proof" role="status">
      {at && here && <Line glyph="+" of={here} />}
      {pin && there && (
        <div className="flex items-center gap-2">
          <Line glyph="◇" of={there} />
          <button data-testid="unpin" className="font-sans underline" onClick={onUnpin}>
            unpin
          </button>
        </div>
      )}
    </div>
  );
}

function Line({ glyph, of }: { glyph: string; of: LightReadout }) {
  const beyond = { Nothing: "", Above: " ▲ above the display", Below: " ▼ outside the display" }[of.beyond];
  return (
    <p className="flex items-center gap-2 whitespace-nowrap" data-readout={glyph === "+" ? "proof" : "proof-pin"}>
      <span aria-hidden="true">{glyph}</span>
      <Tip words="light in the working space">
        <span>{of.working.map((v) => v.toFixed(3)).join(" ")}</span>
      </Tip>
      <Tip words="stops from middle grey">
        <span>{of.stops == null ? "black" : `${of.stops >= 0 ? "+" : "−"}${Math.abs(of.stops).toFixed(1)} EV`}</span>
      </Tip>
      <span aria-hidden="true" className="inline-block h-3 w-6 border border-rule" style={{ background: of.hex }} />
      <Tip words="displayed">
        <span>{of.hex}</span>
      </Tip>
      {beyond ?? " ▲▼ beyond the display"}
    </p>
  );
}
