/** Axes of the open note: put down, changed, and what is drawn on them read off. */
import { newId } from '../core/id';
import { cornerOn, sizeFor } from '../core/note/board';
import { makeAxes, readOff, type Axes } from '../core/note/kinds/axes';
import { boxesMeet } from '../core/ink/stroke';
import { isStroke, settled } from '../core/note/kinds/kinds';
import { makeTable } from '../core/note/kinds/table';
import { canChange, change } from './change';
import { say } from './messages';
import { momentNow } from './recording';
import { settledNew } from './slips';
import { toolsSlice } from './slices';
import type { RootState } from './state';
import { middleInSight } from './takingOver';
import { select, selected, withFollowers } from './tools';
import type { Thunk } from './thunk';

/** As large as this at first, mm, where the page has room for it. */
const [WIDE, HIGH, EDGE] = [120, 80, 16] as const;
/** Of a table of what was read off, mm. */
const [COL, ROW, BESIDE] = [24, 7, 8] as const;

/** What is chosen of them. */
export type AxesSetting = Pick<Axes, 'x' | 'y' | 'grid'>;

/** The axes that are selected alone; null where there are none or several. */
export function selectedAxes(state: RootState): Axes | null {
  const all = selected(state).filter((it): it is Axes => it.kind === 'axes');
  return all.length === 1 ? all[0] : null;
}

/** New ones in the middle of what is in sight, in hand to be put where they belong; or those that are selected become so. */
export const putAxes =
  (setting: AxesSetting): Thunk =>
  (dispatch, getState) => {
    const state = getState();
    const had = selectedAxes(state);
    if (had) {
      const { grid: _, ...rest } = had;
      return void dispatch(change({ put: withFollowers(state, had.page, [makeAxes({ ...rest, ...setting, h: setting.y ? had.h || HIGH : 0 })]) }));
    }
    const at = dispatch(middleInSight());
    const page = state.note.note?.header.pages.find((p) => p.id === at?.page);
    if (!at || !page || !canChange(state)) return;
    const size = sizeFor(page);
    const [w, h] = [Math.min(WIDE, size.w - 2 * EDGE), setting.y ? Math.min(HIGH, size.h - 2 * EDGE) : 0];
    const [x, y] = cornerOn(page, at.x - w / 2, at.y - h / 2, w, h, EDGE / 2);
    const { face, color } = state.tools.typing.look;
    const made = makeAxes({ id: newId(), page: page.id, ...dispatch(momentNow()), m: [1, 0, 0, 1, x, y], w, h, ...setting, look: { face, size: 9, color } });
    const put = dispatch(settledNew([made]));
    if (!dispatch(change({ put }))) return;
    dispatch(toolsSlice.actions.toolChosen('lasso'));
    dispatch(select(page.id, put.map((it) => it.id)));
  };

/** The axes that a selected line was drawn on; null where it is no line, or lies on none. */
export function axesUnder(state: RootState): Axes | null {
  const [line, ...others] = selected(state).filter(isStroke);
  if (!line || others.length) return null;
  const list = state.note.note?.ink[line.page] ?? [];
  return list.findLast((it): it is Axes => it.kind === 'axes' && it.y !== null && boxesMeet(it.box, line.box)) ?? null;
}

/** What the selected line says at the numbers of the x axis, as a table beside the axes. */
export const readLine = (): Thunk => (dispatch, getState) => {
  const state = getState();
  const axes = axesUnder(state);
  const line = selected(state).find(isStroke);
  const page = state.note.note?.header.pages.find((p) => p.id === axes?.page);
  if (!axes || !line || !page || !canChange(state)) return;
  const read = readOff(axes, line);
  if (!read.length) return dispatch(say('tool', 'info', 'This line passes none of the numbers of the x axis. Draw it further, or give the axis smaller steps.'));
  const moment = { stamp: line.stamp, wall: line.wall };
  const cell = (text: string) => ({ text, ...moment });
  const { color, face } = axes.look;
  const w = 2 * COL;
  const h = ROW * (read.length + 1);
  const fits = axes.box[2] + BESIDE + w < page.w || page.board;
  const [x, y] = fits ? cornerOn(page, axes.box[2] + BESIDE, axes.box[1], w, h, 2) : cornerOn(page, axes.box[0], axes.box[3] + BESIDE, w, h, 2);
  const table = makeTable({ id: newId(), page: axes.page, ...moment, m: [1, 0, 0, 1, x, y], cols: [COL, COL], rows: Array.from({ length: read.length + 1 }, () => ROW), look: { face, size: 10, color }, head: true, cells: [[cell('x'), cell('y')], ...read.map((r) => [cell(r.x), cell(r.y)])] });
  if (!dispatch(change({ put: settled([table], state.note.note!.ink[axes.page] ?? []) }))) return;
  dispatch(select(axes.page, [table.id]));
  dispatch(say('tool', 'info', `${read.length} ${read.length === 1 ? 'value was' : 'values were'} read off, into a table beside the axes.`, 'undo'));
};
