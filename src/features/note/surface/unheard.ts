/** What of a page has no sound. */
import { unionBox, type Box } from '../../../core/ink/stroke';
import type { Placed } from '../../../core/note/kinds/kinds';
import type { PageWords } from '../../../store/noteSlice';

/** Words of which no stroke is heard anywhere, as boxes; neighbours share one. */
export function unheardWords(words: PageWords, placed: readonly Placed[], isHeard: (s: Placed) => boolean): Box[] {
  const heard = new Map(placed.map((s) => [s.id, isHeard(s)]));
  const boxes: Box[] = [];
  // What is folded away has no dots.
  for (const w of [...words.grouping.words, ...words.grouping.drawings]) if (w.strokes.some((id) => heard.has(id)) && !w.strokes.some((id) => heard.get(id))) boxes.push(w.box);
  boxes.sort((a, b) => a[1] - b[1] || a[0] - b[0]);
  const joined: Box[] = [];
  for (const b of boxes) {
    const last = joined.at(-1);
    if (last && Math.abs(last[3] - b[3]) < 1 && b[0] - last[2] < 4 && b[0] >= last[0]) joined[joined.length - 1] = unionBox(last, b);
    else joined.push(b);
  }
  return joined;
}
