interface Props {
  /** Numbers that looks have, from the least. */
  values: readonly number[];
  least: number | null;
  most: number | null;
  unit: string;
}

const width = 150;
const height = 18;

/** Where the looks of a collection stand: one stroke each; what the rule lets in lies on the lighter band. */
export function ValueStrip({ values, least, most, unit }: Props) {
  if (values.length === 0) return <span className="text-small text-soft">nothing measured yet</span>;
  const all = [...values, ...[least, most].filter((v) => v !== null)];
  const [low, high] = [Math.min(...all), Math.max(...all)];
  const x = (v: number) => (high === low ? width / 2 : 4 + ((v - low) / (high - low)) * (width - 8));
  const [from, to] = [least === null ? 0 : x(least), most === null ? width : x(most)];
  const outside = values.filter((v) => (least !== null && v < least) || (most !== null && v > most)).length;
  const middle = values[Math.floor(values.length / 2)];
  const number = (v: number) => (Math.abs(v) >= 100 ? Math.round(v).toString() : v.toPrecision(2));
  const suffix = unit && ` ${unit}`;
  const words = `looks here: ${number(values[0])} to ${number(values[values.length - 1])}${suffix}, middle ${number(middle)}`;
  return (
    <span className="flex items-center gap-1.5">
      <svg role="img" width={width} height={height} aria-label={`${words}; ${outside} outside`}>
        <rect width={width} height={height} className="fill-sunken" />
        {to > from && <rect x={from} width={to - from} height={height} className="fill-raised" />}
        {[least, most].map(
          (v, i) =>
            v !== null && (
              <line key={i} x1={x(v)} x2={x(v)} y1={0} y2={height} className="stroke-glaze" strokeWidth={2} />
            ),
        )}
        {values.map((v, i) => {
          const isOut = (least !== null && v < least) || (most !== null && v > most);
          return (
            <line
              key={i}
              x1={x(v)}
              x2={x(v)}
              y1={isOut ? 1 : 6}
              y2={isOut ? height - 1 : height - 6}
              className="stroke-ink"
              strokeWidth={isOut ? 2 : 1}
            />
          );
        })}
      </svg>
      <span className="text-small whitespace-nowrap text-soft" aria-hidden="true">
        {values[0] === values[values.length - 1]
          ? number(values[0])
          : `${number(values[0])} to ${number(values[values.length - 1])}`}
      </span>
    </span>
  );
}
