/** Name, key and use of what is shown as a symbol. */
interface HintWords {
  readonly key?: string;
  readonly use?: string;
}

const HINTS: Readonly<Record<string, HintWords>> = {
  Write: { key: 'Shift+W', use: 'the pen writes on the page' },
  Listen: { key: 'Shift+L', use: 'touch a word to hear what was said then' },
  Record: { key: 'Shift+R', use: 'records sound; ink is linked to it' },
  'Pause recording': { key: 'Shift+P', use: 'the take goes on later' },
  'Resume recording': { key: 'Shift+P', use: 'the same take goes on' },
  'Stop recording': { key: 'Shift+S', use: 'ends the take and stores it' },
  'Mark missed': { key: 'Shift+M', use: 'something went by unwritten' },
  'Mark key': { key: 'Shift+K', use: 'this matters most' },
  'Mark ask': { key: 'Shift+A', use: 'to be asked about' },
  'Mark do': { key: 'Shift+D', use: 'to be done' },
  Eraser: { key: 'E', use: 'erases strokes or an area' },
  Lasso: { key: 'L', use: 'draw around ink to take hold of it' },
  Shapes: { key: 'S', use: 'what you draw becomes a clean shape' },
  'Make room': { key: 'M', use: 'drag a line down or up the page' },
  'Writing strip': { key: 'W', use: 'write large at the bottom, small on the page' },
  Ruler: { key: 'R', use: 'draw along it; it shows mm and degrees' },
  'Move the page': { key: 'H', use: 'one finger or the mouse moves the page' },
  Undo: { key: 'Ctrl+Z' },
  Redo: { key: 'Ctrl+Shift+Z' },
  'Pen cup': { use: 'all pens, to change and put in order' },
  'Colours and widths': { use: 'of the pen in hand' },
  'More tools': { use: 'what the row has no place for' },
  Keys: { key: '?', use: 'all keys of the note' },
  Lists: { key: 'L', use: 'gaps, marks, moments, takes' },
  Play: { key: 'Space' },
  Pause: { key: 'Space' },
  'Back 10 seconds': { key: '←' },
  'Forward 10 seconds': { key: '→' },
  Repeat: { key: 'R', use: 'plays the word or line again and again' },
  'Write while listening': { key: 'W', use: 'adds what you hear now, linked to that moment' },
  'Next ink without sound': { key: 'U' },
  'What to do with this note': { use: 'paper, bookmark, folder, tags, file' },
  Zoom: { use: 'how large the page is shown' },
};

/** What is said of a button called `name` that shows `text`; null where its words say it all. */
export function hintOf(name: string, text: string): string | null {
  const { key, use } = HINTS[name] ?? {};
  if (!key && !use && text.trim() === name) return null;
  return `${name}${key ? ` (${key})` : ''}${use ? `: ${use}` : ''}`;
}
