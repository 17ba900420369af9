/** One page on the screen: its place, what lies on it and the words found in it. */
import { InkIndex } from '../../../core/ink/inkIndex';
import type { Box } from '../../../core/ink/stroke';
import type { Placed } from '../../../core/note/kinds/kinds';
import type { Page } from '../../../core/note/schema';
import type { PageWords } from '../../../store/noteSlice';
import { MovingPictures } from './movingPictures';
import { PageTiles, type Shared } from './tiles';

export interface PageView {
  page: Page;
  placed: readonly Placed[];
  /** Around all that lies on a board, mm; null on other pages. */
  around: Box | null;
  index: InkIndex;
  el: HTMLElement;
  /** What stands on the page hangs here: its corner is the place that places are counted from. */
  ground: HTMLElement;
  lit: HTMLElement;
  /** Marks where what was missed is to be written. */
  spot: HTMLElement;
  now: HTMLElement;
  /** One mark a heading, and what they were made of. */
  headings: HTMLElement;
  headingsOf: unknown;
  tiles: PageTiles;
  moving: MovingPictures;
  /** px in the sheet, of the corner that places are counted from. */
  x: number;
  y: number;
  /** Stroke id to its word or drawing: strokes and box. */
  wordOf: Map<string, { strokes: readonly string[]; box: Box }>;
  wordsFrom: PageWords | null;
  unheard: readonly Box[];
  near: boolean;
  /** Where a tool shows something else than the note has, mm. */
  standing: Box | null;
}

export function makePageView(page: Page, parent: HTMLElement, shared: Shared): PageView {
  const el = document.createElement('div');
  el.className = 'page';
  // Not a picture: what is typed, and what is held, is in it.
  el.setAttribute('role', 'group');
  el.hidden = true;
  const ground = document.createElement('div');
  ground.className = 'page-ground';
  el.append(ground);
  const child = (className: string) => {
    const d = document.createElement('div');
    d.className = className;
    d.hidden = true;
    ground.append(d);
    return d;
  };
  const moving = new MovingPictures(shared.content);
  ground.append(moving.el);
  const [now, lit, spot] = [child('word-now'), child('word-lit'), child('gap-spot')];
  const headings = child('page-headings');
  headings.hidden = false;
  spot.textContent = 'Write here what was missed';
  const number = document.createElement('div');
  number.className = 'page-number';
  el.append(number);
  parent.append(el);
  return { page, placed: [], around: null, index: new InkIndex(), el, ground, lit, spot, now, headings, headingsOf: null, tiles: new PageTiles(ground, page, shared), moving, x: 0, y: 0, wordOf: new Map(), wordsFrom: null, unheard: [], near: false, standing: null };
}
