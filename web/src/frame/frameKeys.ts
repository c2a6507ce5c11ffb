/** Keys that hold everywhere, as the list behind Ctrl+K tells them. */
export const frameKeys: [string, string][] = [
  ["Ctrl+K", "this list"],
  ["?", "the keys and words of the view"],
  ["Ctrl+Z, Ctrl+Shift+Z", "undo and redo on the bench"],
  ["hold B", "on the bench and in Compare: the other picture in the place of this one"],
  ["Enter on a map of the sorting table", "pick it up; arrow keys choose the cell, Enter puts it down, Escape cancels"],
];
