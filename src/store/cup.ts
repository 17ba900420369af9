/** The pen cup: the writer's pens, in the writer's order. */
import { newId } from '../core/id';
import type { PenSetting } from '../core/ink/pen';
import { settingsSlice, toolsSlice } from './slices';
import type { Thunk } from './thunk';

/** So many pens a cup holds. */
export const CUP_HOLDS = 40;

const { patched } = settingsSlice.actions;

/** Takes the pen at a place of the cup in hand; nothing when there is none. */
export const pickPen =
  (index: number): Thunk =>
  (dispatch, getState) => {
    if (index < 0 || index >= getState().settings.cup.length) return;
    dispatch(patched({ pen: index }));
    dispatch(toolsSlice.actions.toolChosen('pen'));
  };

/** Changes the pen in hand, in its place. */
export const changePen =
  (look: Partial<Omit<PenSetting, 'id'>>): Thunk =>
  (dispatch, getState) => {
    const { cup, pen } = getState().settings;
    dispatch(patched({ cup: cup.map((p, i) => (i === pen ? { ...p, ...look } : p)) }));
  };

/** Puts a copy of the pen in hand beside it and takes it in hand. */
export const addPen = (): Thunk => (dispatch, getState) => {
  const { cup, pen } = getState().settings;
  if (cup.length >= CUP_HOLDS) return;
  dispatch(patched({ cup: [...cup.slice(0, pen + 1), { ...cup[pen], id: newId(), name: '' }, ...cup.slice(pen + 1)], pen: pen + 1 }));
};

/** One place to the front (-1) or back (1); the pen in hand stays in hand. */
export const movePen =
  (index: number, by: -1 | 1): Thunk =>
  (dispatch, getState) => {
    const { cup, pen } = getState().settings;
    const to = index + by;
    if (to < 0 || to >= cup.length) return;
    const next = [...cup];
    [next[index], next[to]] = [next[to], next[index]];
    dispatch(patched({ cup: next, pen: pen === index ? to : pen === to ? index : pen }));
  };

/** Takes a pen out of the cup; the last one stays. */
export const removePen =
  (index: number): Thunk =>
  (dispatch, getState) => {
    const { cup, pen } = getState().settings;
    if (cup.length < 2) return;
    const left = cup.filter((_, i) => i !== index);
    dispatch(patched({ cup: left, pen: Math.min(left.length - 1, pen > index ? pen - 1 : pen) }));
  };

/** Puts a pen back where it was. */
export const returnPen =
  (pen: PenSetting, index: number): Thunk =>
  (dispatch, getState) => {
    const { settings } = getState();
    dispatch(patched({ cup: [...settings.cup.slice(0, index), pen, ...settings.cup.slice(index)], pen: index }));
  };
