interface Props {
  label: string;
  /** Where the edge stands, from the left, 0 to 1. */
  share: number;
  onMove: (share: number) => void;
}

const within = (share: number) => Math.min(1, Math.max(0, share));

/** The edge between two pictures that lie over each other, on the pictures themselves: dragged, or moved by arrow keys. */
export function WipeHandle({ label, share, onMove }: Props) {
  const moved = (e: React.PointerEvent<HTMLElement>) => {
    const around = e.currentTarget.parentElement!.getBoundingClientRect();
    onMove(within((e.clientX - around.left) / around.width));
  };
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(share * 100)}
      aria-valuetext={`${Math.round(share * 100)} %`}
      data-testid="wipe"
      className="absolute inset-y-0 z-10 w-6 -translate-x-1/2 cursor-ew-resize touch-none select-none focus-visible:outline-2"
      style={{ left: `${share * 100}%` }}
      onPointerDown={(e) => {
        // What is below is turned by dragging; and nothing on the page is to be selected by it.
        e.stopPropagation();
        e.preventDefault();
        e.currentTarget.focus();
        e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerMove={(e) => {
        if (!e.currentTarget.hasPointerCapture(e.pointerId)) return;
        e.stopPropagation();
        moved(e);
      }}
      onPointerUp={(e) => e.stopPropagation()}
      onKeyDown={(e) => {
        const step = { ArrowLeft: -0.01, ArrowRight: 0.01, PageDown: -0.1, PageUp: 0.1, Home: -1, End: 1 }[e.key];
        if (step === undefined) return;
        e.preventDefault();
        e.stopPropagation();
        onMove(within(share + step));
      }}
    >
      <span className="absolute inset-y-0 left-1/2 w-px -translate-x-1/2 bg-raised outline outline-ink/40" />
      <span className="absolute top-1/2 left-1/2 h-8 w-2 -translate-1/2 border border-ink bg-raised" />
    </div>
  );
}
