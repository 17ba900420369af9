/** The keys of the note, as they are listed for the user. `useNoteKeys` is what answers to them. */
export type KeyLine = readonly [keys: string, what: string];

export const BOTH_KEYS: readonly KeyLine[] = [
  ['Shift+R', 'record'],
  ['Shift+P, Shift+S', 'pause or resume, stop recording'],
  ['Shift+W, Shift+L', 'Write, Listen'],
  ['?', 'these keys'],
];

export const WRITE_KEYS: readonly KeyLine[] = [
  ['1 … 9, 0', 'take a pen of the cup'],
  ['P, E, L', 'pen, eraser, lasso'],
  ['M, S, F', 'make room, shapes, fill an area'],
  ['R, W, H', 'ruler, writing strip, move the page'],
  ['T, then Enter', 'type; below what stands on the page'],
  ['Shift+M, K, A, D', 'mark what is being recorded: Missed, Key, Ask, Do'],
  ['Ctrl+Z, Ctrl+Shift+Z', 'undo, redo'],
  ['Ctrl+C, X, V', 'copy, cut, paste'],
  ['Ctrl+D, Delete', 'duplicate, delete what is selected'],
  ['Ctrl+A', 'select all on the page'],
  ['Ctrl+G, Ctrl+Shift+G', 'group, ungroup'],
  ['Arrows, with Shift', 'move what is selected, or the ruler'],
  ['Esc', 'let go; back to the pen'],
];

export const LISTEN_KEYS: readonly KeyLine[] = [
  ['Space', 'play, pause'],
  ['←, →', '10 seconds back, forward; with Shift 1 second'],
  ['Home, End', 'the beginning, the end'],
  ['↑, ↓', 'the word before, the word after, and its sound'],
  ['−, +', 'slower, faster'],
  [', and .', 'lead-in shorter, longer'],
  ['R', 'repeat the word or line, let go'],
  ['M, K, A, D', 'mark: Missed, Key, Ask, Do'],
  ['G, Shift+G', 'the next gap, the one before'],
  ['U', 'the next ink without sound'],
  ['P', 'skip pauses'],
  ['I', 'ink ahead: faint, full, hidden'],
  ['W', 'write while listening'],
  ['[ and ]', 'timeline wider, closer'],
  ['L', 'lists of gaps, marks, moments, takes'],
  ['Esc', 'let go: sheet, writing, repeating'],
];
