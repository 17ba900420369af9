/** What is done to a table. What is written on it keeps to its cell: it moves with its row and column, and goes with them. */
import { apply, move } from '../ink/transform';
import type { Moment } from './kinds/typed';
import { affineOf, within } from './kinds/drawn';
import { mapPlaced, type Placed } from './kinds/kinds';
import { compareCells } from './kinds/numbers';
import { cellAt, laidTable, LEAST_COL, LEAST_ROW, makeTable, MOST_COLS, MOST_ROWS, shownText, spanAt, tableSize, type Cell, type Span, type Table } from './kinds/table';

export interface TableEdit {
  readonly table: Table;
  /** What is written on it and stands elsewhere now, and what went with its cell. */
  readonly moved: readonly Placed[];
  readonly gone: readonly Placed[];
}

/** A row and a column of cells. */
export interface CellPlace {
  readonly r: number;
  readonly c: number;
}
/** From one cell to another, both among them. */
export interface CellRange {
  readonly from: CellPlace;
  readonly to: CellPlace;
}
export const rangeOf = ({ from, to }: CellRange): Span => {
  const [r, c] = [Math.min(from.r, to.r), Math.min(from.c, to.c)];
  return [r, c, Math.abs(to.r - from.r) + 1, Math.abs(to.c - from.c) + 1];
};

const same = (n: number): number[] => Array.from({ length: n }, (_, i) => i);

/** Around what is written in a cell, mm. */
const AIR = 0.3;

/** Where something written stands: its cell, and how far it reaches into it, mm; beyond its cell its middle counts. */
function standing(it: Table, rider: Placed) {
  const [l, t, r, b] = rider.box;
  const corners = [[l, t], [r, t], [r, b], [l, b]].map(([x, y]) => within(it.m, x, y));
  const { xs, ys } = laidTable(it);
  const cell = cellAt(it, (l + r) / 2, (t + b) / 2);
  const reach = (edges: readonly number[], at: number, axis: 0 | 1) => {
    const values = corners.map((p) => p[axis]);
    const far = Math.max(...values);
    return (far <= edges[at + 1] ? far : (far + Math.min(...values)) / 2) - edges[at];
  };
  return { ...cell, w: reach(xs, cell.c, 0), h: reach(ys, cell.r, 1) };
}

/** What is written on a table before, on what it has become; `rows`, `cols`: which one before each of them was. No row or column becomes smaller than what is written in it. */
function carried(before: Table, given: Table, riders: readonly Placed[], rows: readonly (number | null)[], cols: readonly (number | null)[]): TableEdit {
  if (!riders.length) return { table: given, moved: [], gone: [] };
  const was = laidTable(before);
  const stood = riders.map((it) => ({ it, ...standing(before, it) })).map((s) => ({ ...s, nr: rows.indexOf(s.r), nc: cols.indexOf(s.c) }));
  const here = stood.filter(({ nr, nc }) => nr >= 0 && nc >= 0);
  const first = laidTable(given);
  const needs = (edges: readonly number[], sizes: readonly number[], need: (i: number) => number) => sizes.map((size, i) => (edges[i + 1] - edges[i] < need(i) ? need(i) : size));
  const most = (key: 'w' | 'h', of: 'nr' | 'nc', i: number) => Math.max(0, ...here.filter((s) => s[of] === i).map((s) => s[key] + AIR));
  const wide = needs(first.xs, given.cols, (i) => Math.min(most('w', 'nc', i), sizeOf(was.xs, cols[i]) ?? Infinity));
  const high = needs(first.ys, given.rows, (i) => Math.min(most('h', 'nr', i), sizeOf(was.ys, rows[i]) ?? Infinity));
  const table = wide.some((v, i) => v !== given.cols[i]) || high.some((v, i) => v !== given.rows[i]) ? makeTable({ ...given, cols: wide, rows: high }) : given;
  const is = laidTable(table);
  const to = affineOf(before.m);
  const [ox, oy] = apply(to, 0, 0);
  const moved = here.flatMap(({ it, r, c, nr, nc }) => {
    const [x, y] = apply(to, is.xs[nc] - was.xs[c], is.ys[nr] - was.ys[r]);
    return Math.hypot(x - ox, y - oy) > 0.001 ? [mapPlaced(it, move(x - ox, y - oy))] : [];
  });
  return { table, moved, gone: stood.filter(({ nr, nc }) => nr < 0 || nc < 0).map(({ it }) => it) };
}

const sizeOf = (edges: readonly number[], i: number | null): number | null => (i === null ? null : edges[i + 1] - edges[i]);

/** Rows and columns in another order: for each its number before, or null for a new one. What is not named goes. */
function rearranged(it: Table, riders: readonly Placed[], rows: readonly (number | null)[], cols: readonly (number | null)[]): TableEdit {
  // Cells stay one where all of them still lie side by side.
  const spans = (it.spans ?? []).flatMap(([r, c, h, w]): Span[] => {
    const [nr, nc] = [rows.indexOf(r), cols.indexOf(c)];
    const whole = nr >= 0 && nc >= 0 && same(h).every((i) => rows[nr + i] === r + i) && same(w).every((i) => cols[nc + i] === c + i);
    return whole ? [[nr, nc, h, w]] : [];
  });
  const table = makeTable({
    ...it,
    rows: rows.map((r, i) => it.rows[r ?? rows[i - 1] ?? rows.find((v) => v !== null) ?? 0]),
    cols: cols.map((c, i) => it.cols[c ?? cols[i - 1] ?? cols.find((v) => v !== null) ?? 0]),
    cells: rows.map((r) => cols.map((c) => (r === null || c === null ? null : it.cells[r][c]))),
    spans,
  });
  return carried(it, table, riders, rows, cols);
}

const inserted = (n: number, at: number, count: number): (number | null)[] => [...same(at), ...Array.from({ length: count }, () => null), ...same(n - at).map((i) => i + at)];
/** A span that a new row falls into grows by it. */
function stretched(edit: TableEdit, before: Table, axis: 'row' | 'col', at: number, count: number): TableEdit {
  const spans = (before.spans ?? []).map(([r, c, h, w]): Span => {
    const [start, size] = axis === 'row' ? [r, h] : [c, w];
    const [s, n] = at <= start ? [start + count, size] : at < start + size ? [start, size + count] : [start, size];
    return axis === 'row' ? [s, c, n, w] : [r, s, h, n];
  });
  return spans.length ? { ...edit, table: makeTable({ ...edit.table, spans }) } : edit;
}

/** New rows or columns before `at`; null when there would be too many. */
export function insertRows(it: Table, riders: readonly Placed[], at: number, count = 1): TableEdit | null {
  if (it.rows.length + count > MOST_ROWS) return null;
  return stretched(rearranged(it, riders, inserted(it.rows.length, at, count), same(it.cols.length)), it, 'row', at, count);
}
export function insertCols(it: Table, riders: readonly Placed[], at: number, count = 1): TableEdit | null {
  if (it.cols.length + count > MOST_COLS) return null;
  return stretched(rearranged(it, riders, same(it.rows.length), inserted(it.cols.length, at, count)), it, 'col', at, count);
}

/** Without rows or columns; null when none would be left. */
export function deleteRows(it: Table, riders: readonly Placed[], at: number, count = 1): TableEdit | null {
  return count >= it.rows.length ? null : rearranged(it, riders, same(it.rows.length).filter((r) => r < at || r >= at + count), same(it.cols.length));
}
export function deleteCols(it: Table, riders: readonly Placed[], at: number, count = 1): TableEdit | null {
  return count >= it.cols.length ? null : rearranged(it, riders, same(it.rows.length), same(it.cols.length).filter((c) => c < at || c >= at + count));
}

const shifted = (n: number, at: number, by: -1 | 1): number[] | null => {
  const to = at + by;
  if (to < 0 || to >= n) return null;
  const order = same(n);
  [order[at], order[to]] = [order[to], order[at]];
  return order;
};

/** A row changes places with its neighbour; null at the edge, and where the head would be no head any more. */
export function moveRow(it: Table, riders: readonly Placed[], at: number, by: -1 | 1): TableEdit | null {
  const order = shifted(it.rows.length, at, by);
  return !order || (it.head && Math.min(at, at + by) === 0) ? null : rearranged(it, riders, order, same(it.cols.length));
}
export function moveCol(it: Table, riders: readonly Placed[], at: number, by: -1 | 1): TableEdit | null {
  const order = shifted(it.cols.length, at, by);
  return order && rearranged(it, riders, same(it.rows.length), order);
}

/** Rows in the order of a column; the head stays on top, and rows of sums at the end. Rows that are the same there keep their order. */
export function sorted(it: Table, riders: readonly Placed[], col: number, down: boolean): TableEdit {
  const first = it.head ? 1 : 0;
  const isSum = (r: number) => it.cells[r].some((cell) => cell?.sum === 'above');
  const rows = same(it.rows.length);
  const [top, middle, end] = [rows.slice(0, first), rows.slice(first).filter((r) => !isSum(r)), rows.slice(first).filter(isSum)];
  const text = (r: number) => shownText(it, r, col);
  const order = [...middle].sort((a, b) => {
    const d = compareCells(text(a), text(b));
    // What is empty stands last, whichever way.
    return (down && text(a) && text(b) ? -d : d) || a - b;
  });
  return rearranged(it, riders, [...top, ...order, ...end], same(it.cols.length));
}

/** Another text in a cell; empty for none. What was there keeps its moment. */
export function withText(it: Table, riders: readonly Placed[], { r, c }: CellPlace, text: string, now: Moment): TableEdit {
  const was = it.cells[r][c];
  const cell: Cell | null = text === '' ? null : { text, stamp: was && !was.sum ? was.stamp : now.stamp, wall: was && !was.sum ? was.wall : now.wall };
  return withCells(it, riders, [{ r, c, cell }]);
}

export function withSum(it: Table, riders: readonly Placed[], { r, c }: CellPlace, sum: 'above' | 'left' | null, now: Moment): TableEdit {
  return withCells(it, riders, [{ r, c, cell: sum && { text: '', sum, stamp: now.stamp, wall: now.wall } }]);
}

function withCells(it: Table, riders: readonly Placed[], changes: readonly { r: number; c: number; cell: Cell | null }[]): TableEdit {
  const by = new Map<number, (Cell | null)[]>();
  for (const { r, c, cell } of changes) {
    if (!by.has(r)) by.set(r, [...it.cells[r]]);
    by.get(r)![c] = cell;
  }
  const table = makeTable({ ...it, cells: it.cells.map((row, r) => by.get(r) ?? row) });
  return carried(it, table, riders, same(it.rows.length), same(it.cols.length));
}

/** Rows of texts put in from a cell on; the table grows as far as they need. Null when it would be too large. */
export function filled(it: Table, riders: readonly Placed[], at: CellPlace, rows: readonly (readonly string[])[], now: Moment): TableEdit | null {
  const [needRows, needCols] = [at.r + rows.length, at.c + Math.max(0, ...rows.map((row) => row.length))];
  if (needRows > MOST_ROWS || needCols > MOST_COLS) return null;
  const grown = makeTable({ ...it, rows: [...it.rows, ...Array.from({ length: Math.max(0, needRows - it.rows.length) }, () => it.rows[it.rows.length - 1])], cols: [...it.cols, ...Array.from({ length: Math.max(0, needCols - it.cols.length) }, () => it.cols[it.cols.length - 1])] });
  const changes = rows.flatMap((row, i) => row.map((text, j) => ({ r: at.r + i, c: at.c + j, cell: text === '' ? null : { text, stamp: now.stamp, wall: now.wall } })));
  const { table } = withCells(grown, [], changes);
  return carried(it, table, riders, same(it.rows.length), same(it.cols.length));
}

/** Cells of a range become one, and what stood in them one text; one that is such already is parted again. */
export function merged(it: Table, riders: readonly Placed[], range: CellRange): TableEdit {
  const [r, c, h, w] = rangeOf(range);
  const there = spanAt(it, r, c);
  const parted = (it.spans ?? []).filter(([r0, c0, h0, w0]) => r0 >= r + h || r0 + h0 <= r || c0 >= c + w || c0 + w0 <= c);
  if (there[2] * there[3] > 1 && there[0] === r && there[1] === c && h <= there[2] && w <= there[3]) return carried(it, makeTable({ ...it, spans: (it.spans ?? []).filter((s) => s !== there) }), riders, same(it.rows.length), same(it.cols.length));
  const inside = same(h * w).map((i) => ({ r: r + Math.floor(i / w), c: c + (i % w) }));
  const texts = inside.flatMap((p) => it.cells[p.r][p.c] ?? []);
  const first = texts.find((t) => !t.sum);
  const text = texts.map((t) => t.text).filter(Boolean).join(' ');
  const cell: Cell | null = texts.length === 1 ? texts[0] : text ? { text, stamp: first?.stamp ?? it.stamp, wall: first?.wall ?? it.wall } : null;
  const cells = it.cells.map((row, y) => row.map((old, x) => (y === r && x === c ? cell : y >= r && y < r + h && x >= c && x < c + w ? null : old)));
  return carried(it, makeTable({ ...it, cells, spans: [...parted, [r, c, h, w]] }), riders, same(it.rows.length), same(it.cols.length));
}

/** A column as wide, a row at least as high as is wanted, mm. */
export function resized(it: Table, riders: readonly Placed[], axis: 'row' | 'col', at: number, size: number): TableEdit {
  const list = axis === 'row' ? it.rows : it.cols;
  const next = list.map((v, i) => (i === at ? Math.max(axis === 'row' ? LEAST_ROW : LEAST_COL, size) : v));
  return carried(it, makeTable({ ...it, ...(axis === 'row' ? { rows: next } : { cols: next }) }), riders, same(it.rows.length), same(it.cols.length));
}

export function withHead(it: Table, riders: readonly Placed[], head: boolean): TableEdit {
  const { head: _, ...plain } = it;
  return carried(it, makeTable(head ? { ...plain, head } : plain), riders, same(it.rows.length), same(it.cols.length));
}

export const withLook = (it: Table, riders: readonly Placed[], look: Partial<Table['look']>): TableEdit => carried(it, makeTable({ ...it, look: { ...it.look, ...look } }), riders, same(it.rows.length), same(it.cols.length));

/** Texts of all cells as they are shown, row by row. */
export const textsOf = (it: Table): string[][] => it.rows.map((_, r) => it.cols.map((_, c) => shownText(it, r, c)));

/** The next cell in reading order, or the one before; null beyond the last and before the first. Cells that are one are one. */
export function nextCell(it: Table, { r, c }: CellPlace, by: -1 | 1): CellPlace | null {
  const n = it.cols.length;
  for (let i = r * n + c + by; i >= 0 && i < n * it.rows.length; i += by) {
    const place = { r: Math.floor(i / n), c: i % n };
    const [r0, c0] = spanAt(it, place.r, place.c);
    if (r0 === place.r && c0 === place.c) return place;
  }
  return null;
}

/** Whether a place of the page lies on it, mm; its size is what its rows and columns take. */
export const isOn = (it: Table, x: number, y: number): boolean => {
  const [u, v] = within(it.m, x, y);
  const { w, h } = tableSize(it);
  return u >= 0 && v >= 0 && u <= w && v <= h;
};
