/** A table: rows and columns of typed cells, which can be written on. What is written on it has its id in `on`. */
import { z } from 'zod';
import { insidePolygon } from '../../ink/polygon';
import { apply } from '../../ink/transform';
import { distanceToBox, type Box, type PlacedBase } from '../../ink/stroke';
import { FACES, MM_PER_PT, type Look } from '../../text/faces';
import { GRID, HEAD } from '../paper';
import { laidOut, type Line } from '../../text/layout';
import type { Stamp } from '../../time/timeline';
import { versionOfJson, type Version } from '../version';
import { affineOf, mapWay, matrixBy, polygon, straight, within, type Block, type Figure, type Matrix, type Way } from './drawn';
import { takenWhole, type Kind } from './kind';
import { isNumber, sumText } from './numbers';

/** What stands in a cell, and when it was begun. */
export interface Cell {
  readonly text: string;
  /** The sum of what stands above or to the left of it, instead of a text. */
  readonly sum?: 'above' | 'left';
  readonly stamp: Stamp | null;
  /** Wall clock, ms since the epoch. */
  readonly wall: number;
  /** The version of its table by which it became what it is; none while it is as it was when the table was made. */
  readonly s?: Version;
}

/** Cells that are one: row, column, how many rows and columns. */
export type Span = readonly [number, number, number, number];

export interface Table extends PlacedBase {
  readonly kind: 'table';
  /** From its own place (mm from its upper left corner) to the page. */
  readonly m: Matrix;
  /** Widths of columns and least heights of rows, mm. */
  readonly cols: readonly number[];
  readonly rows: readonly number[];
  /** Row by row; null for an empty one. */
  readonly cells: readonly (readonly (Cell | null)[])[];
  readonly look: Look;
  /** The first row names what stands below it. */
  readonly head?: true;
  readonly spans?: readonly Span[];
  /** No points. */
  readonly pts: Uint8Array;
}

const NO_POINTS = new Uint8Array(0);
/** From the edge of a cell to what stands in it, mm. */
export const CELL_EDGE = 1.2;
/** Between lines of a cell, in the size of its letters. */
const LEADING = 1.25;
/** Rows and columns at most: it is to be written on, and not reckoned with. */
export const [MOST_ROWS, MOST_COLS] = [500, 60];
export const [LEAST_COL, LEAST_ROW] = [4, 4];

const finite = z.number().min(-1e6).max(1e6);
const color = z.string().regex(/^#[0-9a-f]{6}$/i);
const at = z.number().int().min(0).max(MOST_ROWS);
const cellSchema = z.object({ text: z.string().max(5000), sum: z.enum(['above', 'left']).optional(), stamp: z.object({ take: z.string().min(1).max(64), at: z.number().min(0) }).nullable(), wall: z.number(), s: z.unknown().transform((s) => versionOfJson(s)).optional() });
const schema = z.looseObject({
  m: z.tuple([finite, finite, finite, finite, finite, finite]),
  cols: z.array(z.number().min(1).max(2000)).min(1).max(MOST_COLS),
  rows: z.array(z.number().min(1).max(2000)).min(1).max(MOST_ROWS),
  cells: z.array(z.array(cellSchema.nullable())),
  look: z.object({ face: z.enum(FACES), size: z.number().min(3).max(400), color, bold: z.literal(true).optional(), slant: z.literal(true).optional() }),
  head: z.literal(true).optional(),
  spans: z.array(z.tuple([at, at, at, at])).optional(),
});

/** Sums of a table, by its cells: sums of sums would else be worked out over and over. */
const sums = new WeakMap<object, Map<string, string>>();

/** What a cell shows: its text, or the sum. */
export function shownText(it: Pick<Table, 'cells' | 'head'>, r: number, c: number): string {
  const cell = it.cells[r]?.[c];
  if (!cell) return '';
  if (!cell.sum) return cell.text;
  let found = sums.get(it.cells);
  if (!found) sums.set(it.cells, (found = new Map()));
  const key = `${it.head ? 1 : 0} ${r} ${c}`;
  let text = found.get(key);
  if (text === undefined) found.set(key, (text = summed(it, r, c, cell)));
  return text;
}

function summed(it: Pick<Table, 'cells' | 'head'>, r: number, c: number, cell: Cell): string {
  const first = it.head ? 1 : 0;
  const texts = cell.sum === 'above' ? it.cells.slice(first, r).map((row, i) => (row[c]?.sum === 'above' ? '' : row[c]?.sum ? shownText(it, first + i, c) : (row[c]?.text ?? ''))) : it.cells[r].slice(0, c).map((left, i) => (left?.sum === 'left' ? '' : left?.sum ? shownText(it, r, i) : (left?.text ?? '')));
  return sumText(texts);
}

/** The cells that are one with a cell; itself alone for most. */
export const spanAt = (it: Pick<Table, 'spans'>, r: number, c: number): Span => it.spans?.find(([r0, c0, h, w]) => r >= r0 && r < r0 + h && c >= c0 && c < c0 + w) ?? [r, c, 1, 1];

const sum = (list: readonly number[], from: number, n: number): number => list.slice(from, from + n).reduce((a, b) => a + b, 0);

/** Texts as they were laid out last: a key changes one cell of many. */
const known = new Map<string, readonly Line[]>();
const KNOWN = 4000;

function linesOfCell(text: string, look: Look, width: number, right: boolean): readonly Line[] {
  const key = `${right ? 'r' : 'l'}${width.toFixed(2)} ${look.face}${look.size}${look.color}${look.bold ? 'b' : ''}${look.slant ? 's' : ''} ${text}`;
  let lines = known.get(key);
  if (!lines) {
    if (known.size > KNOWN) known.clear();
    // Line feeds within a cell (they come from spreadsheets) are lines of their own.
    lines = text.split('\n').flatMap((t) => laidOut({ text: t, looks: [[t.length, look]], width, indent: 0, align: right ? 'right' : 'left' }));
    known.set(key, lines);
  }
  return lines;
}

const pitchOf = (look: Look): number => look.size * MM_PER_PT * LEADING;

/** Looks are compared by themselves when text is drawn: the same one each time. */
const heads = new WeakMap<Look, Look>();
function headLook(look: Look): Look {
  let bold = heads.get(look);
  if (!bold) heads.set(look, (bold = { ...look, bold: true }));
  return bold;
}

interface Laid {
  /** Upper edges of rows and left edges of columns, and the lower and right ends; mm. */
  readonly ys: readonly number[];
  readonly xs: readonly number[];
  readonly cells: readonly { readonly r: number; readonly c: number; readonly lines: readonly Line[] }[];
}
const laid = new WeakMap<object, Laid>();

/** Lines of the cells of a row, by its cells: a key changes one row of many. Sums are laid out each time, since they hang on other rows. */
const rowLines = new WeakMap<object, { readonly cols: readonly number[]; readonly look: Look; readonly isHead: boolean; readonly lines: readonly (readonly Line[] | null)[] }>();

function linesOfRow(it: Pick<Table, 'cols' | 'cells' | 'look' | 'head'>, r: number): readonly (readonly Line[] | null)[] {
  const row = it.cells[r];
  const isHead = it.head === true && r === 0;
  const kept = rowLines.get(row);
  if (kept && kept.cols === it.cols && kept.look === it.look && kept.isHead === isHead) return kept.lines;
  const lines = row.map((cell, c) => linesOfCellAt(it, r, c, it.cols[c], cell));
  if (!row.some((cell) => cell?.sum)) rowLines.set(row, { cols: it.cols, look: it.look, isHead, lines });
  return lines;
}

function linesOfCellAt(it: Pick<Table, 'cells' | 'look' | 'head'>, r: number, c: number, width: number, cell = it.cells[r][c]): readonly Line[] | null {
  const text = shownText(it, r, c);
  const isHead = it.head === true && r === 0;
  return text ? linesOfCell(text, isHead || cell?.sum ? headLook(it.look) : it.look, width - 2 * CELL_EDGE, !isHead && isNumber(text)) : null;
}

/** Where its rows and columns stand, on its own place. */
export function laidTable(it: Pick<Table, 'cols' | 'rows' | 'cells' | 'look' | 'head' | 'spans'>): Laid {
  const found = laid.get(it);
  if (found) return found;
  const { cols, rows, look } = it;
  const heights = [...rows];
  const cells: { r: number; c: number; lines: readonly Line[] }[] = [];
  const pitch = pitchOf(look);
  const tall: [Span, number][] = [];
  const spans = new Map<string, Span>();
  for (const [r0, c0, h, w] of it.spans ?? []) for (let i = 0; i < h * w; i++) spans.set(`${r0 + Math.floor(i / w)} ${c0 + (i % w)}`, [r0, c0, h, w]);
  rows.forEach((_, r) => {
    const row = linesOfRow(it, r);
    for (let c = 0; c < cols.length; c++) {
      const span = spans.size ? spans.get(`${r} ${c}`) : undefined;
      // Of cells that are one the first has what stands in them.
      if (span && (span[0] !== r || span[1] !== c)) continue;
      const lines = span ? linesOfCellAt(it, r, c, sum(cols, c, span[3])) : row[c];
      if (!lines) continue;
      cells.push({ r, c, lines });
      const high = lines.length * pitch + 2 * CELL_EDGE;
      if (!span || span[2] === 1) heights[r] = Math.max(heights[r], high);
      else tall.push([span, high]);
    }
  });
  // What several rows hold makes the last of them taller.
  for (const [[r, , n], high] of tall) heights[r + n - 1] += Math.max(0, high - sum(heights, r, n));
  const edges = (list: readonly number[]): number[] => {
    const out = [0];
    for (const v of list) out.push(out[out.length - 1] + v);
    return out;
  };
  const made = { ys: edges(heights), xs: edges(cols), cells };
  laid.set(it, made);
  return made;
}

export const tableSize = (it: Pick<Table, 'cols' | 'rows' | 'cells' | 'look' | 'head' | 'spans'>): { w: number; h: number } => {
  const { xs, ys } = laidTable(it);
  return { w: xs[xs.length - 1], h: ys[ys.length - 1] };
};

function outlineOf(it: Omit<Table, 'kind' | 'pts' | 'box' | 'ms'>): [number, number][] {
  const { w, h } = tableSize(it);
  const to = affineOf(it.m);
  return [apply(to, 0, 0), apply(to, w, 0), apply(to, w, h), apply(to, 0, h)];
}

/** Its rows have as many cells as there are columns, whatever was given. */
export function makeTable(given: Omit<Table, 'kind' | 'pts' | 'box' | 'ms'>): Table {
  const cells = given.rows.map((_, r) => (given.cells[r]?.length === given.cols.length ? given.cells[r] : given.cols.map((_, c) => given.cells[r]?.[c] ?? null)));
  const { spans: _, ...rest } = given;
  const spans = (given.spans ?? []).filter(([r, c, h, w]) => h * w > 1 && r + h <= given.rows.length && c + w <= given.cols.length);
  const it = { ...rest, cells, ...(spans.length ? { spans } : {}) };
  const made: Table = { ...it, kind: 'table', pts: NO_POINTS, box: [0, 0, 0, 0], ms: 0 };
  const corners = outlineOf(made);
  const [xs, ys] = [corners.map((p) => p[0]), corners.map((p) => p[1])];
  const box: Box = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
  const done = Object.freeze({ ...made, box });
  laid.set(done, laidTable(made));
  return done;
}

/** Of a rectangle on its own place, on the page. */
function boxAt(to: ReturnType<typeof affineOf>, l: number, t: number, r: number, b: number): Box {
  const corners = [apply(to, l, t), apply(to, r, t), apply(to, r, b), apply(to, l, b)];
  const [xs, ys] = [corners.map((p) => p[0]), corners.map((p) => p[1])];
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
}

const isWithin = (it: Table, x: number, y: number): boolean => insidePolygon(outlineOf(it), x, y);
export const holdsPlace = (it: Table, x: number, y: number): boolean => x >= it.box[0] && x <= it.box[2] && y >= it.box[1] && y <= it.box[3] && isWithin(it, x, y);

/** The row or column of a distance from the upper or left edge; the nearest. */
function partAt(edges: readonly number[], v: number): number {
  const after = edges.findIndex((e) => e > v);
  return Math.min(edges.length - 2, Math.max(0, after < 0 ? edges.length - 2 : after - 1));
}

/** The cell at a place of the page, mm; the nearest. */
export function cellAt(it: Table, x: number, y: number): { r: number; c: number } {
  const [u, v] = within(it.m, x, y);
  const { xs, ys } = laidTable(it);
  return { r: partAt(ys, v), c: partAt(xs, u) };
}

/** Left, top, width and height of a cell on its table's own place, mm. */
export function cellBox(it: Table, r: number, c: number): { x: number; y: number; w: number; h: number } {
  const [r0, c0, h, w] = spanAt(it, r, c);
  const { xs, ys } = laidTable(it);
  return { x: xs[c0], y: ys[r0], w: xs[c0 + w] - xs[c0], h: ys[r0 + h] - ys[r0] };
}

/** The box around a cell on the page, mm. */
export function boxOfCell(it: Table, r: number, c: number): Box {
  const { x, y, w, h } = cellBox(it, r, c);
  return boxAt(affineOf(it.m), x, y, x + w, y + h);
}

/** When a cell was begun; of an empty one when its table was made. */
export const momentOfCell = (it: Table, r: number, c: number): { stamp: Stamp | null; wall: number } => {
  const [r0, c0] = spanAt(it, r, c);
  const cell = it.cells[r0]?.[c0];
  return cell ? { stamp: cell.stamp, wall: cell.wall } : { stamp: it.stamp, wall: it.wall };
};

function gridOf(it: Table): Way[] {
  const { xs, ys } = laidTable(it);
  const [rows, cols] = [it.rows.length, it.cols.length];
  if (!it.spans) return [...ys.map((y) => straight(xs[0], y, xs[cols], y)), ...xs.map((x) => straight(x, ys[0], x, ys[rows]))];
  // Between cells that are one there is no line.
  const one = (r: number, c: number, r2: number, c2: number) => spanAt(it, r, c).join() === spanAt(it, r2, c2).join();
  const out: Way[] = [polygon([[xs[0], ys[0]], [xs[cols], ys[0]], [xs[cols], ys[rows]], [xs[0], ys[rows]]])];
  for (let r = 1; r < rows; r++) for (let c = 0; c < cols; c++) if (!one(r - 1, c, r, c)) out.push(straight(xs[c], ys[r], xs[c + 1], ys[r]));
  for (let c = 1; c < cols; c++) for (let r = 0; r < rows; r++) if (!one(r, c - 1, r, c)) out.push(straight(xs[c], ys[r], xs[c], ys[r + 1]));
  return out;
}

export const tableKind: Kind<Table> = {
  schema,
  layer: () => 'thing',
  reach: () => 0.3,
  distance: (it, x, y) => (isWithin(it, x, y) ? 0 : Math.max(0.01, distanceToBox(it.box, x, y))),
  ...takenWhole,
  map: (it, m) => makeTable({ ...it, m: matrixBy(it.m, m) }),
  figures(it) {
    const to = affineOf(it.m);
    const { xs, ys } = laidTable(it);
    const head: Figure[] = it.head ? [{ ways: [mapWay(to, polygon([[0, 0], [xs[xs.length - 1], 0], [xs[xs.length - 1], ys[1]], [0, ys[1]]]))], fill: HEAD }] : [];
    return [...head, { ways: gridOf(it).map((way) => mapWay(to, way)), line: GRID, width: 0.22 }];
  },
  blocks(it) {
    const { xs, ys, cells } = laidTable(it);
    const pitch = pitchOf(it.look);
    const to = affineOf(it.m);
    // Letters stand with their foot a quarter of the leading above the next line.
    const lift = 0.22 * it.look.size * MM_PER_PT;
    return cells.map(({ r, c, lines }): Block => {
      const foot = ys[r] + lines.length * pitch + 2 * CELL_EDGE;
      const right = xs[c] + Math.max(...lines.map((l) => l.x + l.w)) + 2 * CELL_EDGE;
      return { m: matrixBy([1, 0, 0, 1, xs[c] + CELL_EDGE, ys[r] + CELL_EDGE - lift], to), lines, pitch, box: boxAt(to, xs[c], ys[r], right, foot) };
    });
  },
  changed(before, after) {
    const [was, is] = [laidTable(before), laidTable(after)];
    if (before.cols !== after.cols || before.look !== after.look || before.head !== after.head || before.spans !== after.spans || before.rows.length !== after.rows.length || before.m.some((v, i) => v !== after.m[i])) return null;
    const rows = after.rows.map((_, r) => r);
    const other = rows.filter((r) => before.cells[r] !== after.cells[r] || after.cells[r].some((cell) => cell?.sum) || was.ys[r] !== is.ys[r] || was.ys[r + 1] !== is.ys[r + 1]);
    if (!other.length) return [];
    const [first, last] = [other[0], other[other.length - 1]];
    return [boxAt(affineOf(after.m), 0, Math.min(was.ys[first], is.ys[first]), is.xs[is.xs.length - 1], Math.max(was.ys[last + 1], is.ys[last + 1]))];
  },
  read(base, fields) {
    const read = schema.safeParse(fields);
    return read.success ? makeTable({ ...base, ...(read.data as unknown as Omit<Table, keyof PlacedBase | 'kind' | 'pts'>) }) : null;
  },
  // Versions of cells count within their note alone.
  copied: (it) => makeTable({ ...it, cells: it.cells.map((row) => row.map((cell) => (cell?.s ? { ...cell, s: undefined } : cell))) }),
  versioned(it, before, s) {
    const was = (r: number, c: number): Cell | null => before.cells[r]?.[c] ?? null;
    const cells = it.cells.map((row, r) => row.map((cell, c) => {
      const old = was(r, c);
      if (!cell || cell === old) return cell;
      if (sameCell(cell, old)) return old;
      return { ...cell, s };
    }));
    // Rows that are the same stay the same objects: what is laid out of them is kept by them.
    const kept = cells.map((row, r) => (row.every((cell, c) => cell === it.cells[r][c]) ? it.cells[r] : row));
    return kept.every((row, r) => row === it.cells[r]) ? it : makeTable({ ...it, cells: kept });
  },
  together(winner, loser, isNewToLoser, isNewToWinner) {
    const frame = ({ m, cols, rows, look, head, spans, group, on, lift, locked }: Table) => JSON.stringify([m, cols, rows, look, head, spans, group, on, lift, locked]);
    if (frame(winner) !== frame(loser)) return null;
    let isTorn = false;
    const cells = winner.cells.map((row, r) => row.map((cell, c) => {
      const other = loser.cells[r][c];
      if (sameCell(cell, other)) return cell;
      const [mine, theirs] = [cell?.s !== undefined && isNewToLoser(cell.s), other?.s !== undefined && isNewToWinner(other.s)];
      // Both changed it, or one emptied it: nobody can tell which is meant.
      if (mine === theirs) isTorn = true;
      return mine ? cell : other;
    }));
    return isTorn ? null : makeTable({ ...winner, cells });
  },
  isDecoration: () => true,
};

const sameCell = (a: Cell | null, b: Cell | null): boolean => (a === null || b === null ? a === b : a.text === b.text && a.sum === b.sum && a.wall === b.wall && a.stamp?.take === b.stamp?.take && a.stamp?.at === b.stamp?.at);
