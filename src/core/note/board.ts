/**
 * Boards: pages that grow to every side. What lies on one keeps its place, counted from a corner that never moves; `board` says where the upper left corner lies by
 * now, and `w`, `h` how large it is. All in mm.
 */
import { boxesMeet, growBox, unionBox, type Box } from '../ink/stroke';
import { keptIn, move } from '../ink/transform';
import { put, type Edit, type Note, type RowPut } from './edit';
import { coveredBy, mapPlaced, type Placed } from './kinds/kinds';
import { A4, newPage, type Page, type PageForm, type PaperKind } from './schema';
import { entriesOf } from './tables';

/** What can go on to every side. */
export const BOARD_KINDS: readonly PaperKind[] = ['plain', 'ruled', 'squared', 'dotted', 'isometric'];

/** No side gets longer: a page of a PDF has at most 14,400 units of 1/72 in, 5,080 mm (ISO 32000-1, Annex C). */
export const MOST_BOARD = 5000;

/** What comes this near to the edge makes the board grow until there is so much air around it. */
const [NEAR, AIR] = [20, 60] as const;
/** It grows by whole steps, so that not every stroke there changes its size. */
const STEP = 20;

/** Where the sheet lies. */
export const extentOf = ({ w, h, board }: Pick<Page, 'w' | 'h' | 'board'>): Box => (board ? [board.x, board.y, board.x + w, board.y + h] : [0, 0, w, h]);

/** Where things may lie: on the sheet, and with a board as far as it can grow. */
export function areaOf(page: Pick<Page, 'w' | 'h' | 'board'>): Box {
  const [l, t, r, b] = extentOf(page);
  return page.board ? [r - MOST_BOARD, b - MOST_BOARD, l + MOST_BOARD, t + MOST_BOARD] : [l, t, r, b];
}

/** How far a box may be moved by dx, dy; as much as is possible. */
export const keptOnPage = (page: Pick<Page, 'w' | 'h' | 'board'>, box: Box, dx: number, dy: number): [number, number] => keptIn(box, dx, dy, areaOf(page));

/** The upper left corner of something `w` by `h` whose wished one is `x`, `y`: it lies wholly where things may lie, `edge` from its sides. */
export function cornerOn(page: Pick<Page, 'w' | 'h' | 'board'>, x: number, y: number, w: number, h: number, edge = 0): [number, number] {
  const [l, t, r, b] = areaOf(page);
  return [Math.max(l + edge, Math.min(r - w - edge, x)), Math.max(t + edge, Math.min(b - h - edge, y))];
}

/** What is put on a page is no larger than it; on a board no larger than a sheet. */
export const sizeFor = ({ w, h, board }: Pick<Page, 'w' | 'h' | 'board'>): { readonly w: number; readonly h: number } => (board ? A4 : { w, h });

/** Some paper has an upper and a lower end; then squares take its place. */
const growing = (kind: PaperKind): PaperKind => (BOARD_KINDS.includes(kind) ? kind : 'squared');

/** A new board as large as a page, in the middle of what it will be. */
export const newBoard = (id: string, form: PageForm): Page => asBoard(newPage(id, form));

/** A page that grows from now on. */
export function asBoard(page: Page): Page {
  const { margin: _, ...paper } = page.paper;
  const kind = growing(paper.kind);
  return { ...page, paper: { ...paper, kind, ...(kind === paper.kind ? {} : { spacing: 5, top: 0 }) }, board: page.board ?? { x: 0, y: 0 } };
}

/** How large a board has to be for what lies at `box`; null while it is. */
function grown(page: Page, box: Box): Pick<Page, 'w' | 'h' | 'board'> | null {
  const [l, t, r, b] = extentOf(page);
  const [al, at, ar, ab] = areaOf(page);
  const less = (edge: number, to: number, end: number) => (to - NEAR >= edge ? edge : Math.max(end, Math.min(edge, Math.floor((to - AIR) / STEP) * STEP)));
  const more = (edge: number, to: number, end: number) => (to + NEAR <= edge ? edge : Math.min(end, Math.max(edge, Math.ceil((to + AIR) / STEP) * STEP)));
  const [x, y, x2, y2] = [less(l, box[0], al), less(t, box[1], at), more(r, box[2], ar), more(b, box[3], ab)];
  // Both ends can be at the limit of the other.
  const [w, h] = [Math.min(MOST_BOARD, x2 - x), Math.min(MOST_BOARD, y2 - y)];
  return x === l && y === t && w === page.w && h === page.h ? null : { w, h, board: { x, y } };
}

/** Rows of boards that what an edit puts makes larger. */
export function boardsGrown(note: Pick<Note, 'header' | 'rows'>, edit: Edit): RowPut[] {
  if (!edit.put?.length || edit.foreign || !note.header.pages.some((p) => p.board)) return [];
  const boxes = new Map<string, Box>();
  for (const it of edit.put) boxes.set(it.page, boxes.has(it.page) ? unionBox(boxes.get(it.page)!, coveredBy(it)) : coveredBy(it));
  return entriesOf(note.rows, 'pages').flatMap(([id, v]) => {
    const box = v.board && boxes.get(id);
    const size = box && !edit.rows?.some((r) => r.table === 'pages' && r.id === id) ? grown({ ...v, id }, box) : null;
    return size ? [put('pages', id, { ...v, ...size })] : [];
  });
}

/** A sheet cut from a page, with what lies on it counted from its own corner. */
export interface Cut {
  readonly page: Page;
  readonly placed: readonly Placed[];
  /** Where it lay on its page. */
  readonly part: Box;
}

/** A part of a page as a sheet of its own. */
export function cutFrom({ board: _, ...page }: Page, placed: readonly Placed[], part: Box): Cut {
  const [l, t, r, b] = part;
  return { page: { ...page, w: r - l, h: b - t, ruled: part }, placed: l || t ? placed.map((it) => mapPlaced(it, move(-l, -t))) : placed, part };
}

/** A board as one large page; any other page as it is. */
export const wholePage = (page: Page, placed: readonly Placed[]): Cut => (page.board ? cutFrom(page, placed, placed.map(coveredBy).reduce(unionBox, extentOf(page))) : { page, placed, part: extentOf(page) });

/** A board in sheets of a size, line by line, those left out that nothing lies on; one at least. Any other page as it is. */
export function sheetsOf(page: Page, placed: readonly Placed[], { w, h }: { readonly w: number; readonly h: number }): Cut[] {
  if (!page.board || !placed.length) return [wholePage(page, placed)];
  // From where something lies, so that no sheet is begun by air.
  const [l, t, r, b] = growBox(placed.map(coveredBy).reduce(unionBox), 8);
  const out: Cut[] = [];
  for (let y = t; y < b; y += h) {
    for (let x = l; x < r; x += w) {
      const part: Box = [x, y, x + w, y + h];
      const here = placed.filter((it) => boxesMeet(coveredBy(it), part));
      if (here.length) out.push(cutFrom(page, here, part));
    }
  }
  return out;
}
