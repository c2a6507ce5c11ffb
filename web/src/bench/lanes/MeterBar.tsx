import type { Board } from "../../api/types";

interface Props {
  meter: Board["meters"][string];
  name: string;
  direction: boolean;
  low: number;
  high: number;
}

/** Minimum, mean and maximum on the input's legal range; for directions the tilt in degrees. */
export function MeterBar({ meter, name, direction, low, high }: Props) {
  const [from, to] = direction ? [0, 90] : [Math.min(low, meter.minimum), Math.max(high, meter.maximum)];
  const place = (v: number) => 2 + (Math.min(Math.max(v, from), to) - from) * (116 / (to - from || 1));
  const digits = direction ? 0 : 2;
  return (
    <figure aria-label={`range of ${name}`}>
      <svg width="120" height="18" viewBox="0 0 120 18" aria-hidden="true">
        <path d="M2 9h116" stroke="var(--color-rule)" />
        <rect
          x={place(meter.minimum)}
          y="5"
          width={Math.max(1.5, place(meter.maximum) - place(meter.minimum))}
          height="8"
          fill="var(--color-soft)"
          opacity="0.45"
        />
        <path d={`M${place(meter.mean)} 2v14`} stroke="var(--color-ink)" strokeWidth="2" />
      </svg>
      <figcaption className="font-mono text-small leading-4 whitespace-nowrap text-soft">
        {meter.minimum.toFixed(digits)} <b className="font-normal text-ink">{meter.mean.toFixed(digits)}</b>{" "}
        {meter.maximum.toFixed(digits)}
        {direction && "°"}
      </figcaption>
    </figure>
  );
}
