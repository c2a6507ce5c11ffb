import { Slider as Radix } from "radix-ui";
import { useRef } from "react";

interface Props {
  label: string;
  value: number;
  low: number;
  high: number;
  step: number;
  className?: string;
  disabled?: boolean;
  testid?: string;
  /** The number in words, for those who hear it. */
  spoken?: string;
  /** While it moves. */
  onMove: (value: number) => void;
  /** When it is let go, or after a key. */
  onCommit?: (value: number) => void;
}

/** One number on a track: drag, click on the track, arrow keys, Page Up and Down, Home, End. */
export function Slider(props: Props) {
  const { label, value, low, high, step, className = "", disabled, testid, spoken, onMove, onCommit } = props;
  // What was shown last and is not kept yet: also kept when the pointer is taken away (a window comes in front, a touch is cancelled).
  const moved = useRef<number | null>(null);
  const commit = (v: number) => {
    moved.current = null;
    onCommit?.(v);
  };
  return (
    <Radix.Root
      className={`relative flex h-4 min-w-0 touch-none items-center select-none ${className}`}
      min={low}
      max={high}
      step={step}
      value={[value]}
      disabled={disabled}
      onValueChange={([v]) => {
        moved.current = v;
        onMove(v);
      }}
      onValueCommit={([v]) => commit(v)}
      onLostPointerCapture={() => moved.current !== null && commit(moved.current)}
    >
      <Radix.Track className="relative h-[3px] grow bg-rule">
        <Radix.Range className="absolute h-full bg-soft" />
      </Radix.Track>
      <Radix.Thumb
        aria-label={label}
        aria-valuetext={spoken}
        data-testid={testid}
        className="block h-3.5 w-2 rounded-[2px] border border-panel bg-ink hover:bg-glaze data-disabled:bg-soft"
      />
    </Radix.Root>
  );
}
