/** What a delivery is called before anybody names it: the one folder or file at its top; of several the first, and how many more. */
export function deliveryName(paths: readonly string[]): string {
  const tops = [...new Set(paths.map((path) => path.split("/")[0]))];
  const first = (tops[0] || "delivery").replace(/\.zip$/i, "");
  return tops.length > 1 ? `${first} and ${tops.length - 1} more` : first;
}
