import { useLayoutEffect, useRef, useState } from "react";
import { useBench } from "../state/benchState";
import { laneAt, parseAddress, sourceAddress, usersOf } from "../document/address";

interface Line {
  from: [number, number];
  to: [number, number];
}

/**
 * Lines from the selected tile to every other tile that begins with the same file or source. Drawn for the selection
 * only, inside what scrolls, so that they stay where the tiles are.
 */
export function ReferenceLines() {
  const { look, selection } = useBench("look", "selection");
  const drawing = useRef<SVGSVGElement>(null);
  const [lines, setLines] = useState<Line[]>([]);
  const lane = selection?.step === -1 ? selection.lane : null;
  const ends = lane === null ? [] : endsOf(look, lane);
  const key = ends.join("|");
  useLayoutEffect(() => {
    const board = drawing.current?.parentElement;
    if (!board || lane === null || key === "") {
      setLines([]);
      return;
    }
    const place = () => {
      const origin = board.getBoundingClientRect();
      const centre = (address: string): [number, number] | null => {
        const tile = board.querySelector(`[data-origin="${CSS.escape(address)}"] img`);
        if (!tile) return null;
        const box = tile.getBoundingClientRect();
        return [box.left + 6 - origin.left + board.scrollLeft, box.top + box.height / 2 - origin.top + board.scrollTop];
      };
      const from = centre(lane);
      setLines(
        from
          ? key.split("|").flatMap((address) => {
              const to = centre(address);
              return to ? [{ from, to }] : [];
            })
          : [],
      );
    };
    place();
    const watched = new ResizeObserver(place);
    watched.observe(board);
    for (const child of board.children) if (child !== drawing.current) watched.observe(child);
    return () => watched.disconnect();
  }, [key, lane, look]);
  return (
    <svg
      ref={drawing}
      className="pointer-events-none absolute inset-0 overflow-visible"
      width="1"
      height="1"
      aria-hidden="true"
      data-testid="reference-lines"
    >
      {lines.map(({ from: [x0, y0], to: [x1, y1] }) => {
        // Out to the left of the tiles, then down or up, so that no picture is crossed.
        const side = Math.min(x0, x1) - 15;
        return (
          <g key={`${x1}/${y1}`} className="stroke-glaze" fill="none" strokeWidth="1.5">
            <path d={`M${x0} ${y0}H${side}V${y1}H${x1}`} />
            <circle cx={x1} cy={y1} r="2.5" className="fill-glaze" />
          </g>
        );
      })}
    </svg>
  );
}

/** Where else a lane's origin is used; of a source also the source itself. */
function endsOf(look: Parameters<typeof laneAt>[0], lane: string): string[] {
  const origin = laneAt(look, lane)?.chain?.origin;
  const source = parseAddress(lane)?.source;
  const own = source != null ? usersOf(look, "source", source) : [];
  const shared =
    origin?.kind === "source"
      ? [sourceAddress(origin.source), ...usersOf(look, "source", origin.source)]
      : origin?.kind === "slot"
        ? usersOf(look, "slot", origin.slot)
        : [];
  return [...new Set([...own, ...shared])].filter((a) => a !== lane);
}
