/** What is carried by a drag: a slot, a source, or a step of a lane. */
const type = (kind: string) => `application/x-kiln-${kind}`;

export function carry(e: React.DragEvent, kind: "slot" | "source" | "step", value: string) {
  e.dataTransfer.setData(type(kind), value);
  e.dataTransfer.effectAllowed = "copyMove";
}

export const takesDrop = (e: React.DragEvent, kinds: string[]) =>
  kinds.some((k) => e.dataTransfer.types.includes(type(k)));

/** Kind and value of what was dropped; nothing known gives two empty strings. */
export function dropped(e: React.DragEvent): [string, string] {
  e.preventDefault();
  e.stopPropagation();
  for (const kind of ["step", "slot", "source"]) {
    const value = e.dataTransfer.getData(type(kind));
    if (value) return [kind, value];
  }
  return ["", ""];
}

/** Whether files from outside are being dragged. */
export const hasFiles = (e: React.DragEvent) => e.dataTransfer.types.includes("Files");
