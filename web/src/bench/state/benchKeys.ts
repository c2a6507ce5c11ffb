/** The keys of the bench, as the list behind ? tells them. */
export const benchKeys: [string, string][] = [
  ["Ctrl+Z, Ctrl+Shift+Z", "undo, redo"],
  ["Page Down, Page Up", "the next and the previous lane"],
  ["/", "find an input: type, Enter selects it"],
  ["C", "connect the selected lane: type to find, Enter connects"],
  ["Home, End", "where the lane begins, its last step"],
  ["[ and ]", "the tile before and after"],
  ["Shift+arrow keys, Shift+click", "several steps of a lane at once"],
  ["Ctrl+C, Ctrl+V", "copy the selected steps; insert them after the selected tile of any lane"],
  ["+", "add a step after the selected tile: type its name, Enter inserts it"],
  ["Delete", "remove the selected steps"],
  ["X", "bypass the selected steps, or use them again"],
  ["O", "solo: look at the selected tile alone"],
  ["hold B", "show the other renderer’s proof"],
  ["left and right arrow keys on a map", "exchange it for the next file of its role"],
  ["arrow keys on the proof", "turn it; with Shift read numbers, Enter pins"],
  ["Escape", "nothing selected: placement and size"],
];

/** Our own words on the bench, with one line each. */
export const benchWords: [string, string][] = [
  ["lane", "the chain of steps that feeds one input of the surface, left to right"],
  ["step", "one operation in a lane"],
  ["reading", "how a map’s numbers are taken: kind, colour space, channel, normal direction"],
  ["source", "a named lane that feeds other lanes"],
  ["layer", "another surface over the base layer, where its mask says"],
  ["trim", "a small correction that holds for one renderer only"],
  ["proof", "a test render with known shape, light, camera and view"],
  ["finding", "something that is probably wrong, with its evidence and a fix"],
];
