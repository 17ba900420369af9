/** What a touch in Listen means: the word, drawing or area at a place of a page, as that of it which dates it. */
import { distanceTo, isGround, paintOrder, slipAt, type Placed } from '../../../core/note/kinds/kinds';
import { cellAt, momentOfCell } from '../../../core/note/kinds/table';
import { letterOn, momentOf, wordStart } from '../../../core/note/kinds/typed';
import type { PageView } from './pageView';

/** A touch this far from ink still means it, mm at fit width on a phone (about a fingertip). */
const TOUCH_MM = 3.2;

/** `x`, `y`: mm of the page; `scale`: px per mm. Null beside all that lies there. */
export function meantAt(view: PageView, x: number, y: number, scale: number): Placed | null {
  const reach = Math.max(TOUCH_MM, 12 / scale);
  // An area or a picture is meant where nothing else is near: what is written on it comes first.
  const near = view.index.at(x, y, reach);
  let found: Placed | null = near.find((it) => !isGround(it)) ?? null;
  if (!found) {
    // Between the letters of a word is on the word.
    const words = view.wordsFrom?.grouping;
    const inside = [...(words?.words ?? []), ...(words?.drawings ?? [])].filter((w) => x >= w.box[0] && x <= w.box[2] && y >= w.box[1] && y <= w.box[3]);
    // Of what lies under a sticky note nothing is meant.
    const firsts = inside.flatMap((w) => view.placed.find((s) => s.id === w.strokes[0]) ?? []);
    const slip = firsts.length ? slipAt(view.placed, x, y) : null;
    found = firsts.find((it) => !slip || paintOrder(it, slip) > 0) ?? null;
  }
  found ??= near.find((it) => distanceTo(it, x, y) <= reach / 2) ?? null;
  if (!found) return null;
  // Of a typed line the word that is touched.
  if (found.kind === 'typed') return { ...found, ...momentOf(found, wordStart(found.text, letterOn(found, x, y).index)) };
  if (found.kind === 'table') {
    const { r, c } = cellAt(found, x, y);
    return { ...found, ...momentOfCell(found, r, c) };
  }
  const { id } = found;
  const ids = new Set(view.wordOf.get(id)?.strokes ?? [id]);
  const members = view.placed.filter((s) => ids.has(s.id));
  // A word is dated by its first stroke that has sound; later dots and repairs do not move it.
  return members.find((s) => s.stamp) ?? members[0] ?? found;
}
