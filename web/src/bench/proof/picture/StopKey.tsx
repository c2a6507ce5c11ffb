/** What the colours of the view “stops” mean: whole stops around middle grey, black and white beyond. */
export function StopKey({ colours }: { colours: string[] }) {
  const most = (colours.length - 1) / 2;
  return (
    <ol aria-label="stops around middle grey" className="flex px-2 pb-1 font-mono text-small">
      {["#000000", ...colours, "#ffffff"].map((colour, i, all) => (
        <li key={i} className="flex-1 basis-0 overflow-hidden text-center">
          <span className="block h-3 border-y border-rule" style={{ background: colour }} />
          {i === 0 ? "<" : i === all.length - 1 ? ">" : i - 1 - most > 0 ? `+${i - 1 - most}` : i - 1 - most}
        </li>
      ))}
    </ol>
  );
}
