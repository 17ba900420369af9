/** Tables of the open note: made, typed into, and changed as a whole. Each is one edit, which one undo takes back. */
import { newId } from '../core/id';
import { gridOf, type Grid } from '../core/ink/shapes/grid';
import { cellsAsHtml, readCells, readCsv, writeCells, writeCsv } from '../core/formats/csv';
import { fileName } from '../core/formats/exporter';
import { cornerOn, sizeFor } from '../core/note/board';
import type { Placed } from '../core/note/kinds/kinds';
import { laidOn, strokesOf, withGroups } from '../core/note/kinds/kinds';
import { holdsPlace, makeTable, MOST_COLS, MOST_ROWS, tableSize, type Table } from '../core/note/kinds/table';
import { filled, nextCell, rangeOf, textsOf, withText, type CellPlace, type CellRange, type TableEdit } from '../core/note/tableEdits';
import { linesToWriteOn } from '../core/note/paper';
import { copyTable, readClipboardText, saveFile } from '../platform/files';
import { canChange, change } from './change';
import { say } from './messages';
import { momentNow } from './recording';
import { settledNew } from './slips';
import { toolsSlice } from './slices';
import type { RootState } from './state';
import { middleInSight } from './takingOver';
import { select, selected } from './tools';
import type { Thunk } from './thunk';

/** From the edges of the page, mm. */
const EDGE = 10;
/** A column is at first as wide as this, and at least so, mm. */
const [COL, COL_LEAST, ROW] = [32, 12, 8];

/** The cells that are held: a table, and from which cell to which. */
export interface Cells extends CellRange {
  readonly page: string;
  readonly table: string;
}

export const tableOf = ({ note, tools }: RootState, at = tools.cells): Table | null => {
  const it = at ? note.note?.ink[at.page]?.find((p) => p.id === at.table) : undefined;
  return it?.kind === 'table' ? it : null;
};

/** The caret goes into its first cell. */
export const openTable = (it: Table): Thunk => (dispatch) => {
  dispatch(toolsSlice.actions.toolChosen('type'));
  dispatch(toolsSlice.actions.set({ cells: { page: it.page, table: it.id, from: { r: 0, c: 0 }, to: { r: 0, c: 0 } } }));
};

/** An empty table, or one of texts, in the middle of what is in sight, with the caret in its first cell. */
export const addTable =
  (rows: number, cols: number, head: boolean, texts: readonly (readonly string[])[] = []): Thunk =>
  (dispatch, getState) => {
    const state = getState();
    const at = dispatch(middleInSight());
    const page = state.note.note?.header.pages.find((p) => p.id === at?.page);
    if (!at || !page || !canChange(state)) return;
    const width = Math.max(COL_LEAST, Math.min(COL, (sizeFor(page).w - 2 * EDGE) / cols));
    const now = dispatch(momentNow());
    const ruling = linesToWriteOn(page, at.x);
    const draft = { id: newId(), page: page.id, ...now, m: [1, 0, 0, 1, 0, 0] as const, cols: Array.from({ length: cols }, () => width), rows: Array.from({ length: rows }, () => Math.max(ROW, ruling && ruling.spacing < 12 ? ruling.spacing : ROW)), look: state.tools.typing.look, cells: texts.map((row) => row.map((text) => (text ? { text, ...now } : null))), ...(head ? { head: true as const } : {}) };
    const { marked: _, ...look } = draft.look;
    const { w, h } = tableSize(makeTable({ ...draft, look }));
    const [it] = dispatch(settledNew([makeTable({ ...draft, look, m: [1, 0, 0, 1, ...cornerOn(page, at.x - w / 2, at.y - h / 2, w, h, 2)] })]));
    if (dispatch(change({ put: [it] }))) dispatch(openTable(it as Table));
  };

const isTooLarge = (rows: readonly (readonly string[])[]): boolean => rows.length > MOST_ROWS || (rows[0]?.length ?? 0) > MOST_COLS;
const TOO_LARGE = `A table has at most ${MOST_ROWS} rows and ${MOST_COLS} columns here. Nothing was changed; leave out what is not needed and try once more.`;

/** A table of a file of comma-separated values. */
export const tableFromCsv =
  (text: string): Thunk =>
  (dispatch) => {
    const rows = readCsv(text);
    if (!rows.length || !rows[0].length) return dispatch(say('tool', 'problem', 'There are no rows in that file. Nothing was changed; a table comes from a file of comma-separated values (.csv).'));
    if (isTooLarge(rows)) return dispatch(say('tool', 'problem', TOO_LARGE));
    dispatch(addTable(rows.length, rows[0].length, true, rows));
  };

/** What a spreadsheet has put on the clipboard. */
export const tableFromCells =
  (text: string): Thunk =>
  (dispatch) => {
    const rows = readCells(text);
    if (!rows.length) return dispatch(say('tool', 'info', 'There is no text on the clipboard. Copy cells in a spreadsheet first.'));
    if (isTooLarge(rows)) return dispatch(say('tool', 'problem', TOO_LARGE));
    dispatch(addTable(rows.length, rows[0].length, false, rows));
  };

/** All that is written on a table. */
const ridersOf = (state: RootState, it: Table): readonly Placed[] => withGroups<Placed>([it], state.note.note?.ink[it.page] ?? []).filter((p) => p.id !== it.id);

/** One edit of the held table; `make` gives null where it cannot be done. True when it was. */
export const editTable =
  (make: (it: Table, riders: readonly Placed[], at: Cells, now: { stamp: Table['stamp']; wall: number }) => TableEdit | null): Thunk<boolean> =>
  (dispatch, getState) => {
    const state = getState();
    const it = tableOf(state);
    if (!it) return false;
    const made = make(it, ridersOf(state, it), state.tools.cells!, dispatch(momentNow()));
    if (!made || !dispatch(change({ put: [made.table, ...made.moved], cut: made.gone.map(({ id, page }) => ({ id, page })) }))) return false;
    const { from, to } = getState().tools.cells!;
    const within = ({ r, c }: CellPlace): CellPlace => ({ r: Math.min(r, made.table.rows.length - 1), c: Math.min(c, made.table.cols.length - 1) });
    const isBeyond = ({ r, c }: CellPlace) => r >= made.table.rows.length || c >= made.table.cols.length;
    if (isBeyond(from) || isBeyond(to)) dispatch(toolsSlice.actions.set({ cells: { ...state.tools.cells!, from: within(from), to: within(to) } }));
    return true;
  };

/** What is typed into the held cell; empty for nothing. */
export const typeIntoCell = (text: string): Thunk<boolean> => editTable((it, riders, { from }, now) => withText(it, riders, from, text, now));

/** Cells put in from the held one on; text without a tab or a break is text. */
export const pasteCells =
  (text: string): Thunk =>
  (dispatch) => {
    if (!dispatch(editTable((it, riders, { from }, now) => filled(it, riders, from, readCells(text), now)))) dispatch(say('tool', 'problem', TOO_LARGE));
  };

/** Holds a cell, or cells from one to another; none. */
export const holdCells =
  (cells: Cells | null): Thunk =>
  (dispatch) =>
    void dispatch(toolsSlice.actions.set({ cells }));

/** The next cell in reading order, or the one before it; beyond the last a row is added. False when there is none. */
export const stepCell =
  (by: -1 | 1): Thunk<boolean> =>
  (dispatch, getState) => {
    const it = tableOf(getState());
    const { cells } = getState().tools;
    if (!it || !cells) return false;
    const next = nextCell(it, cells.from, by);
    if (next) {
      dispatch(holdCells({ ...cells, from: next, to: next }));
      return true;
    }
    if (by < 0 || it.rows.length >= MOST_ROWS) return false;
    dispatch(editTable((table) => ({ table: makeTable({ ...table, rows: [...table.rows, table.rows[table.rows.length - 1]], cells: [...table.cells, table.cols.map(() => null)] }), moved: [], gone: [] })));
    const at = { r: it.rows.length, c: 0 };
    dispatch(holdCells({ ...cells, from: at, to: at }));
    return true;
  };

/** Texts of the held cells, or of all of the table where one alone is held. */
export function heldRange(it: Table, cells: Cells): readonly [number, number, number, number] {
  const range = rangeOf(cells);
  return range[2] * range[3] > 1 ? range : [0, 0, it.rows.length, it.cols.length];
}

const heldTable = (state: RootState): Table | null => tableOf(state) ?? selected(state).find((it): it is Table => it.kind === 'table') ?? null;

/** All of a table as a file that spreadsheets open. */
export const saveCsv = (): Thunk => (_, getState) => {
  const state = getState();
  const it = heldTable(state);
  if (it) saveFile(fileName(`${state.note.note!.header.title} (table)`, { extension: 'csv' }), new TextEncoder().encode(writeCsv(textsOf(it))), 'text/csv');
};

/** The held cells, or all of them, for a spreadsheet. */
export const copyCells = (): Thunk => (dispatch, getState) => {
  const state = getState();
  const it = heldTable(state);
  if (!it) return;
  const [r, c, h, w] = state.tools.cells ? heldRange(it, state.tools.cells) : [0, 0, it.rows.length, it.cols.length];
  const rows = textsOf(it).slice(r, r + h).map((row) => row.slice(c, c + w));
  void copyTable(writeCells(rows), cellsAsHtml(rows, it.head === true && r === 0)).then(
    () => dispatch(say('tool', 'info', `${h * w} cells are on the clipboard.`)),
    (e: unknown) => dispatch(say('tool', 'problem', `The cells were not copied: ${e instanceof Error ? e.message : String(e)}. The CSV file has them too.`)),
  );
};

/** Cells that were copied elsewhere, put in from the held one on. */
export const pasteFromClipboard =
  (asTable = false): Thunk<Promise<void>> =>
  async (dispatch) => {
    try {
      const text = await readClipboardText();
      dispatch(asTable ? tableFromCells(text) : pasteCells(text));
    } catch (e) {
      dispatch(say('tool', 'problem', `The clipboard could not be read: ${e instanceof Error ? e.message : String(e)}. Press Ctrl+V in a cell instead.`));
    }
  };

/** More strokes than this are no table that is taken hold of. */
const MANY = 600;
export const gridIn = (placed: readonly Placed[]): Grid | null => (placed.length > MANY ? null : gridOf(strokesOf(placed)));

/** The grid that was drawn becomes a table, and what is written in it is written in its cells. */
export const tableFromGrid =
  (grid: Grid): Thunk =>
  (dispatch, getState) => {
    const state = getState();
    const chosen = selected(state);
    const lines = new Set(grid.lines);
    const drawn = chosen.filter((it) => lines.has(it.id));
    if (!drawn.length || !canChange(state)) return;
    const first = drawn.reduce((a, b) => (b.wall < a.wall ? b : a));
    const steps = (at: readonly number[]) => at.slice(1).map((v, i) => v - at[i]);
    const { marked: _, ...look } = state.tools.typing.look;
    const cols = steps(grid.xs);
    const rows = steps(grid.ys);
    const on = first.on === undefined ? {} : { on: first.on, ...(first.lift ? { lift: first.lift } : {}) };
    const it = makeTable({ id: newId(), page: first.page, stamp: first.stamp, wall: first.wall, ...on, m: [1, 0, 0, 1, grid.xs[0], grid.ys[0]], cols, rows, cells: rows.map(() => cols.map(() => null)), look });
    const riders = chosen.filter((p) => !lines.has(p.id) && p.kind !== 'slip' && p.kind !== 'table' && holdsPlace(it, (p.box[0] + p.box[2]) / 2, (p.box[1] + p.box[3]) / 2)).map((p) => laidOn(p, it));
    if (dispatch(change({ put: [it, ...riders], cut: drawn.map(({ id, page }) => ({ id, page })) }))) dispatch(select(it.page, [it.id, ...riders.map((p) => p.id)]));
  };
