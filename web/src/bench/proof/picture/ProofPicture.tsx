import { nameOf } from "../../../ui/names";
import { ReadoutMarks } from "../../../ui/ReadoutMarks";
import { useRef, useState, type ReactNode, type RefObject } from "react";
import { placeOf, type Place, type ViewportLight } from "../../../ui/useReadout";
import { pitchOf, turned, yawOf, zoomed, type ProofSettings } from "../proofSettings";
import { ProofReadout } from "./ProofReadout";

interface Props {
  /** Whose picture it is, for the numbers under the pointer. */
  viewer: string;
  picture: string | null;
  /** What is seen until there is a picture: something else, by its own name. */
  before: ReactNode;
  error: string | null;
  /** The viewport's canvas, and whether it is seen instead of the proof's picture. */
  canvas: RefObject<HTMLCanvasElement | null>;
  showsViewport: boolean;
  /** Light of what the viewport shows. */
  light: (at: Place, patch: number) => ViewportLight | null;
  /** Share of the width, from the left, in which the canvas is seen over the proof; 0 for none of it. */
  wiped: number;
  settings: ProofSettings;
  onChange: (part: Partial<ProofSettings>) => void;
  /** While the camera moves, coarser pictures are asked for. */
  onMoving: () => void;
  children: ReactNode;
}

const least = 0.02;

const spoken =
  "Proof: drag or arrow keys turn it, wheel or + and - zoom, Shift with arrow keys reads numbers, Enter pins, " +
  "R refines around the place, Escape the whole";

/**
 * The picture in its well: drag orbits, the wheel zooms, pointing reads numbers, a click pins a place, Shift and drag
 * marks a part to refine. The same by keys.
 */
export function ProofPicture({
  viewer,
  picture,
  before,
  error,
  canvas,
  showsViewport,
  light,
  wiped,
  settings,
  onChange,
  onMoving,
  children,
}: Props) {
  const drag = useRef<{ x: number; y: number; yaw: number; pitch: number; moved: boolean } | null>(null);
  const [marking, showMarking] = useState<number[] | null>(null);
  // Kept beside the state: a quick gesture may be over before it is drawn.
  const marked = useRef<number[] | null>(null);
  const setMarking = (part: number[] | null) => {
    marked.current = part;
    showMarking(part);
  };
  const part = marking ? marking : settings.part;
  const [at, setAt] = useState<Place | null>(null);
  const [pin, setPin] = useState<Place | null>(null);
  const move = (part: Partial<ProofSettings>) => {
    onMoving();
    onChange(part);
  };
  const keys = (e: React.KeyboardEvent) => {
    const arrow = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
    if (arrow && e.shiftKey)
      setAt((p) => ({ u: within((p?.u ?? 0.5) + arrow[0] / 128), v: within((p?.v ?? 0.5) + arrow[1] / 128) }));
    else if (arrow) move(turned(settings, yawOf(settings) + arrow[0] * 5, pitchOf(settings) - arrow[1] * 4));
    else if (e.key === "+" || e.key === "-") move(zoomed(settings, e.key === "+" ? 1.15 : 1 / 1.15));
    else if (e.key === "Enter") setPin(at);
    else if (e.key === "r" && at) onChange({ part: around(at) });
    else if (e.key === "Escape" && settings.part) onChange({ part: null });
    else return;
    e.preventDefault();
  };
  return (
    <>
      <div className="flex min-h-0 grow items-center justify-center bg-well p-2 [container-type:size]">
        {/* eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions -- used by keys and mouse alike */}
        <div
          role="application"
          tabIndex={0}
          aria-label={spoken}
          className="relative aspect-square w-[min(100cqw,100cqh)] cursor-grab touch-none"
          onWheel={(e) => move(zoomed(settings, Math.exp(-e.deltaY * 0.0015)))}
          onPointerDown={(e) => {
            e.currentTarget.setPointerCapture(e.pointerId);
            const p = placeOf(e, 420);
            if (e.shiftKey) return setMarking([p.u, p.v, p.u, p.v]);
            drag.current = { x: e.clientX, y: e.clientY, yaw: yawOf(settings), pitch: pitchOf(settings), moved: false };
          }}
          onPointerMove={(e) => {
            const d = drag.current;
            const m = marked.current;
            if (m) {
              const p = placeOf(e, 420);
              return setMarking([m[0], m[1], within(p.u), within(p.v)]);
            }
            if (!d) return setAt(placeOf(e, 420));
            const [dx, dy] = [e.clientX - d.x, e.clientY - d.y];
            d.moved ||= Math.abs(dx) + Math.abs(dy) > 3;
            if (d.moved) move(turned(settings, d.yaw - dx * 0.5, d.pitch + dy * 0.4));
          }}
          onPointerUp={(e) => {
            if (marked.current) {
              const [a, b, c, d] = marked.current;
              if (Math.abs(c - a) > least && Math.abs(d - b) > least)
                onChange({ part: [Math.min(a, c), Math.min(b, d), Math.max(a, c), Math.max(b, d)] });
              return setMarking(null);
            }
            if (drag.current && !drag.current.moved) setPin(placeOf(e, 420));
            drag.current = null;
          }}
          onPointerLeave={() => !drag.current && setAt(null)}
          onKeyDown={keys}
        >
          <canvas
            ref={canvas}
            data-testid="viewport"
            data-seen={showsViewport}
            aria-hidden
            className={`absolute inset-0 size-full ${showsViewport || wiped > 0 ? "" : "invisible"}`}
            style={showsViewport || wiped === 0 ? undefined : { clipPath: `inset(0 ${(1 - wiped) * 100}% 0 0)` }}
          />
          {picture && (
            <img
              data-testid="proof"
              src={picture}
              alt={`Proof: ${nameOf(settings.form)} under ${nameOf(settings.light)}`}
              className={`size-full ${showsViewport ? "invisible" : ""}`}
              draggable={false}
            />
          )}
          {before}
          {error && (
            <p
              role="alert"
              className={`absolute inset-x-4 z-20 bg-panel p-3 ${showsViewport ? "bottom-4" : "top-1/3"}`}
            >
              {error}
            </p>
          )}
          {part && (
            <svg className="pointer-events-none absolute inset-0 size-full" viewBox="0 0 1 1" aria-hidden>
              <rect
                data-testid="part"
                x={Math.min(part[0], part[2])}
                y={Math.min(part[1], part[3])}
                width={Math.abs(part[2] - part[0])}
                height={Math.abs(part[3] - part[1])}
                className="fill-none stroke-glaze"
                strokeWidth={0.004}
              />
            </svg>
          )}
          {settings.part && !marking && (
            <button
              className="act absolute right-2 bottom-2"
              onPointerDown={(e) => e.stopPropagation()}
              onClick={() => onChange({ part: null })}
            >
              Refine the whole
            </button>
          )}
          <ReadoutMarks pin={pin} at={at} />
          {children}
        </div>
      </div>
      <ProofReadout
        viewer={viewer}
        shown={picture ?? ""}
        viewport={showsViewport ? light : null}
        at={at}
        pin={pin}
        onUnpin={() => setPin(null)}
      />
    </>
  );
}

/** A quarter of the picture around a place. */
const around = (at: Place) => [within(at.u - 0.125), within(at.v - 0.125), within(at.u + 0.125), within(at.v + 0.125)];

const within = (value: number) => Math.min(0.9999, Math.max(0, value));
