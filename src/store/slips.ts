/** Sticky notes of the open note: put down, made from what is selected, changed, folded, and what becomes theirs. */
import { newId } from '../core/id';
import { boxAround } from '../core/ink/stroke';
import { laidOn, settled, topLift, type Placed } from '../core/note/kinds/kinds';
import { makeSlip, SLIP_EDGE, SLIP_H, SLIP_W, type Slip } from '../core/note/kinds/slip';
import { areaOf, cornerOn, sizeFor } from '../core/note/board';
import { labelled, labelledBy } from '../core/note/labels';
import { canChange, change } from './change';
import { stampOf } from './recording';
import { toolsSlice } from './slices';
import type { RootState } from './state';
import { middleInSight } from './takingOver';
import { heldBy, select, selected } from './tools';
import type { Thunk } from './thunk';

/** One below the other they would be taken for one, mm. */
const STEP = 6;

const onPage = (state: RootState, page: string): readonly Placed[] => state.note.note?.ink[page] ?? [];
export const selectedSlips = (state: RootState): readonly Slip[] => selected(state).filter((it): it is Slip => it.kind === 'slip');

/** Things that are new on a page belong to what they lie on. */
export const settledNew =
  (placed: readonly Placed[]): Thunk<readonly Placed[]> =>
  (_, getState) => {
    const { note } = getState().note;
    if (!note || !placed.length) return placed;
    return placed.map((it) => {
      const list = note.ink[it.page] ?? [];
      if (it.on !== undefined || list.some((old) => old.id === it.id)) return it;
      const [lies] = settled([it], list);
      const shape = lies.on === undefined ? labelledBy(lies, list) : null;
      return shape ? labelled(lies, shape) : lies;
    });
  };

/** A slip of the kind that was used last, in the middle of what is in sight, with the pen in hand to write on it. */
export const addSlip = (): Thunk => (dispatch, getState) => {
  const state = getState();
  const at = dispatch(middleInSight());
  const page = state.note.note?.header.pages.find((p) => p.id === at?.page);
  if (!at || !page || !canChange(state)) return;
  const all = onPage(state, page.id);
  const size = sizeFor(page);
  const [w, h] = [Math.min(SLIP_W, size.w - 4), Math.min(SLIP_H, size.h - 4)];
  const [, , right, foot] = areaOf(page);
  let [x, y] = cornerOn(page, at.x - w / 2, at.y - h / 2, w, h, 2);
  while (all.some((it) => it.kind === 'slip' && Math.hypot(it.m[4] - x, it.m[5] - y) < STEP / 2) && x + w + STEP < right && y + h + STEP < foot) [x, y] = [x + STEP, y + STEP];
  const now = performance.now();
  const slip = makeSlip({ ...state.tools.slip, id: newId(), page: page.id, stamp: dispatch(stampOf(now)), wall: Math.round(performance.timeOrigin + now), m: [1, 0, 0, 1, x, y], w, h, lift: topLift(all) + 1 });
  if (dispatch(change({ put: [slip] }))) dispatch(toolsSlice.actions.toolChosen('pen'));
};

/** What is selected lies on a slip from now on, which is as large as it needs. */
export const slipFromSelection = (): Thunk => (dispatch, getState) => {
  const state = getState();
  const ids = new Set(selected(state).map((it) => it.id));
  const chosen = heldBy(state).filter((it) => it.kind !== 'slip' && it.kind !== 'unknown');
  const box = boxAround(chosen);
  if (!box || !canChange(state)) return;
  const { page } = chosen[0];
  // It is as old as what is on it.
  const first = chosen.reduce((a, b) => (b.wall < a.wall ? b : a));
  const [l, t, r, b] = box;
  const slip = makeSlip({ ...state.tools.slip, shape: state.tools.slip.shape === 'round' ? 'rounded' : state.tools.slip.shape, paper: 'plain', id: newId(), page, stamp: first.stamp, wall: first.wall, m: [1, 0, 0, 1, l - SLIP_EDGE, t - SLIP_EDGE], w: r - l + 2 * SLIP_EDGE, h: b - t + 2 * SLIP_EDGE, lift: topLift(onPage(state, page)) + 1 });
  // What is written on a table stays on it, and is lifted with it.
  const put: Placed[] = [slip, ...chosen.map((it) => (it.on !== undefined && ids.has(it.on) ? Object.freeze({ ...it, lift: slip.lift }) : laidOn(it, slip)))];
  if (dispatch(change({ put }))) dispatch(select(page, put.map((it) => it.id)));
};

/** Another tint, shape or paper for the selected ones, and for those that follow. */
export const restyleSlips =
  (look: Partial<Pick<Slip, 'tint' | 'shape' | 'paper'>>): Thunk =>
  (dispatch, getState) => {
    const state = getState();
    dispatch(toolsSlice.actions.set({ slip: { ...state.tools.slip, ...look } }));
    dispatch(change({ put: selectedSlips(state).map((it) => makeSlip({ ...it, ...look })) }));
  };

/** Folded only its tab is seen, and what is on it with nothing. */
export const foldSlips =
  (slips: readonly Slip[], folded: boolean): Thunk =>
  (dispatch, getState) => {
    const put = slips.map(({ folded: _, ...it }) => makeSlip(folded ? { ...it, folded } : it));
    if (!put.length || !dispatch(change({ put }))) return;
    const { selection } = getState().tools;
    // What is hidden is not held.
    if (selection) dispatch(select(selection.page, folded ? put.map((it) => it.id) : [...selection.ids, ...onPage(getState(), selection.page).flatMap((it) => (put.some((s) => s.id === it.on) ? [it.id] : []))]));
  };
