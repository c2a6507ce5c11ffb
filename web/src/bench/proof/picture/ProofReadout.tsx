import { ReadoutLine } from "../../../ui/ReadoutLine";
import { useLightReadout, useProofReadout, type Place, type ViewportLight } from "../../../ui/useReadout";

interface Props {
  viewer: string;
  shown: string;
  /** Light of the viewport where that is seen instead of the proof; null while it is not. */
  viewport: ((at: Place, patch: number) => ViewportLight | null) | null;
  at: Place | null;
  pin: Place | null;
  onUnpin: () => void;
}
/** Side of the patch that is averaged, in pixels of the proof: noise evens out, edges stay sharp. */
const patch = 5;

/** One line of numbers under the picture that is seen, the proof or the viewport: light, stops from middle grey, what is displayed. */
export function ProofReadout({ viewer, shown, viewport, at, pin, onUnpin }: Props) {
  const here = useNumbers({ viewer, shown, viewport }, at);
  const there = useNumbers({ viewer, shown, viewport }, pin);
  const of = viewport ? "viewport" : "proof";
  return (
    <div className="min-h-[19px] px-2 font-mono text-small" aria-label={`numbers of the ${of}`} role="status">
      {at && here && <ReadoutLine glyph="+" testid={of} of={here} />}
      {pin && there && (
        <div className="flex items-center gap-2">
          <ReadoutLine glyph="◇" testid={`${of}-pin`} of={there} />
          <button data-testid="unpin" className="font-sans underline" onClick={onUnpin}>
            unpin
          </button>
        </div>
      )}
    </div>
  );
}

/** Numbers of what is seen: never those of a proof under the viewport's picture. */
function useNumbers({ viewer, shown, viewport }: Pick<Props, "viewer" | "shown" | "viewport">, at: Place | null) {
  const proof = useProofReadout(viewer, viewport ? "" : shown, viewport ? null : at, patch);
  const drawn = useLightReadout(viewport && at ? viewport(at, patch) : null);
  return viewport ? drawn : proof;
}
