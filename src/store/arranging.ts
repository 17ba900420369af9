/** Order, place and look of several things at once. Each is one edit, which one undo takes back. */
import { aligned, boxesOf, reordered, spread, unitsOf, type Alignment, type Order } from '../core/note/arrange';
import { tidyChart } from '../core/ink/shapes/chart';
import { isLocked, isStroke, mapPlaced, strokesOf, withGroups, type Placed } from '../core/note/kinds/kinds';
import { makeSlip } from '../core/note/kinds/slip';
import { makeTyped, type Typed } from '../core/note/kinds/typed';
import { move } from '../core/ink/transform';
import { change } from './change';
import { say } from './messages';
import { toolsSlice } from './slices';
import type { RootState } from './state';
import { select, selected, withFollowers } from './tools';
import type { Thunk } from './thunk';

const pageOf = (state: RootState): readonly Placed[] => state.note.note?.ink[state.tools.selection?.page ?? ''] ?? [];

export const orderSelected =
  (order: Order): Thunk =>
  (dispatch, getState) => {
    const state = getState();
    const all = pageOf(state);
    const put = reordered(all, withGroups(selected(state), all), order);
    if (put.length) dispatch(change({ put }));
    else dispatch(say('tool', 'info', order === 'front' || order === 'forward' ? 'It lies before everything that it touches.' : 'It lies behind everything that it touches.'));
  };

const unitsSelected = (state: RootState): Placed[][] => {
  const all = pageOf(state);
  return unitsOf(withGroups(selected(state), all), state.note.words[state.tools.selection?.page ?? '']?.grouping ?? null);
};

const movedBy = (units: readonly (readonly Placed[])[], by: readonly (readonly [number, number])[]): Placed[] => units.flatMap((u, i) => (Math.hypot(...by[i]) > 0.001 ? u.map((it) => mapPlaced(it, move(...by[i]))) : []));

const stand =
  (least: number, why: string, to: (state: RootState, units: Placed[][]) => [number, number][]): Thunk =>
  (dispatch, getState) => {
    const units = unitsSelected(getState());
    if (units.length < least) return dispatch(say('tool', 'info', why));
    const put = movedBy(units, to(getState(), units));
    if (put.length) dispatch(change({ put }));
  };

export const alignSelected = (to: Alignment): Thunk => stand(2, 'To align, take hold of two things or more.', (_, units) => aligned(boxesOf(units), to));
export const spreadSelected = (axis: 0 | 1): Thunk => stand(3, 'To spread evenly, take hold of three things or more.', (_, units) => spread(boxesOf(units), axis));

/** Stays where it is from now on, until it is let go by the menu of the note. */
export const lockSelected = (): Thunk => (dispatch, getState) => {
  const put = selected(getState()).map((it) => Object.freeze({ ...it, locked: true }) as Placed);
  if (!put.length || !dispatch(change({ put }))) return;
  dispatch(select(null));
  dispatch(say('tool', 'info', `${put.length === 1 ? 'It stays' : 'They stay'} in place now. The menu of the note lets ${put.length === 1 ? 'it' : 'them'} go again.`, 'undo'));
};

/** Everything on a page that was locked can be moved again. */
export const unlockAll =
  (page: string): Thunk =>
  (dispatch, getState) => {
    const put = (getState().note.note?.ink[page] ?? []).filter(isLocked).map((it) => Object.freeze({ ...it, locked: false }) as Placed);
    if (put.length && dispatch(change({ put }))) dispatch(say('tool', 'info', put.length === 1 ? 'One thing can be moved again.' : `${put.length} things can be moved again.`, 'undo'));
  };

/** The look of the first thing selected is kept, to be given to others. */
export const copyLook = (): Thunk => (dispatch, getState) => {
  const [first] = selected(getState()).filter((it) => it.kind === 'slip' || it.kind === 'typed' || isStroke(it));
  if (!first) return dispatch(say('tool', 'info', 'A look is copied from ink, typed text or a sticky note.'));
  dispatch(toolsSlice.actions.set({ copiedLook: first }));
  dispatch(say('tool', 'info', 'The look is copied. Take hold of other things and press “Give look”.'));
};

/** Gives what is selected the look that was copied, as far as it can have it: colour, line and filling to ink, letters to text, paper to sticky notes; between kinds the colour. */
export const giveLook = (): Thunk => (dispatch, getState) => {
  const state = getState();
  const from = state.tools.copiedLook;
  if (!from) return;
  const color = from.kind === 'stroke' ? from.pen.color : from.kind === 'typed' ? from.looks[0][1].color : null;
  const put = selected(state).flatMap((it): Placed[] => {
    if (it.kind === 'slip') return from.kind === 'slip' ? [makeSlip({ ...it, tint: from.tint, shape: from.shape, paper: from.paper })] : [];
    if (it.kind === 'typed') {
      if (from.kind === 'typed') return [makeTyped({ ...it, align: from.align, looks: it.looks.map(([n]) => [n, from.looks[0][1]]) })];
      return color ? [makeTyped({ ...it, looks: it.looks.map(([n, look]) => [n, { ...look, color }]) })] : [];
    }
    if (!isStroke(it)) return [];
    if (from.kind === 'stroke') {
      const { fill: _, ...plain } = it;
      return [Object.freeze({ ...plain, pen: from.pen, ...(from.fill ? { fill: from.fill } : {}) })];
    }
    return color ? [Object.freeze({ ...it, pen: { ...it.pen, color } })] : [];
  });
  if (put.length) dispatch(change({ put }));
  else dispatch(say('tool', 'info', 'Nothing that is selected can have that look.'));
};

/** A drawn chart made tidy: shapes level, in rows and columns and of one size, lines and labels with them, text of labels of one size. One undo brings it back as it was drawn. */
export const tidyChartSelected = (): Thunk => (dispatch, getState) => {
  const state = getState();
  const chosen = selected(state);
  const shapes = tidyChart(strokesOf(chosen));
  const put = withFollowers(state, state.tools.selection?.page ?? '', shapes);
  const now = new Map([...pageOf(state), ...put].map((it) => [it.id, it]));
  const ids = new Set(chosen.map((it) => it.id));
  const labels = [...now.values()].filter((it): it is Typed => it.kind === 'typed' && it.on !== undefined && ids.has(it.on));
  const sizes = labels.map((it) => it.looks[0][1].size).sort((a, b) => a - b);
  const size = sizes[sizes.length >> 1];
  const alike = labels.flatMap((it) => (it.looks.some(([, look]) => look.size !== size) ? [makeTyped({ ...it, looks: it.looks.map(([n, look]) => [n, { ...look, size }]) })] : []));
  const changed = new Map([...put, ...alike].map((it) => [it.id, it]));
  if (changed.size) dispatch(change({ put: [...changed.values()] }));
  else dispatch(say('tool', 'info', 'There is nothing to set straight: a chart has two closed shapes at least.'));
};
