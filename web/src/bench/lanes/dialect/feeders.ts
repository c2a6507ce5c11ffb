/** What a renderer makes of each neutral input: by neutral input, the inputs of the renderer that it feeds. */
type Restatements = Readonly<Record<string, readonly { input: string }[]>>;

/** Inputs of a renderer that more than one of these lanes feeds, each with its lanes in their order. */
export function feedersOf(restated: Restatements, lanes: readonly string[]): Map<string, string[]> {
  const feeders = new Map<string, string[]>();
  for (const lane of lanes)
    for (const { input } of restated[lane] ?? []) feeders.set(input, [...(feeders.get(input) ?? []), lane]);
  return new Map([...feeders].filter(([, by]) => by.length > 1));
}
