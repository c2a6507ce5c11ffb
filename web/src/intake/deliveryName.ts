/** What a delivery is called before anybody names it: the one folder or file at its top, or the first of several with how many more there are. */
export function deliveryName(paths: readonly string[]): string {
  const tops = [...new Set(paths.map((path) => path.split("/")[0]))];
  const first = (tops[0] || "delivery").replace(/\.zip$/i, "");
  return tops.length > 1 ? `${first} and ${tops.length - 1} more` : first;
}
