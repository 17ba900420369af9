/** The pen cup: the writer's pens, in the writer's order. */
import { createSelector } from '@reduxjs/toolkit';
import { newId } from '../core/id';
import { SWATCHES, TINTS } from '../core/ink/inks';
import type { PenSetting } from '../core/ink/pen';
import { settingsSlice, toolsSlice, type SheetName } from './slices';
import type { RootState } from './state';
import type { Thunk } from './thunk';

/** So many pens a cup holds. */
export const CUP_HOLDS = 40;

/** So many colours are remembered. */
const COLORS_KEPT = 12;

const { patched } = settingsSlice.actions;

export const penInHand = ({ settings: { cup, pen } }: Pick<RootState, 'settings'>): PenSetting => cup[Math.min(pen, cup.length - 1)];

const TINTED = new Set<string>(TINTS.map((t) => t.color));

/** Colours to offer: those used last, then the others of the box. Tints are for highlighters (`light`). */
export const offeredColors = (last: readonly string[], light: boolean): readonly string[] => [...new Set([...last.filter((c) => TINTED.has(c) === light), ...(light ? TINTS : SWATCHES).map((s) => s.color)])];

/** Those for the pen in hand. */
export const colorsFor = createSelector(
  (s: RootState) => s.settings.lastColors,
  (s: RootState) => penInHand(s).kind === 'highlighter',
  offeredColors,
);

/** Takes the pen at a place of the cup in hand; nothing when there is none. `sheet`: what stays open beside it. */
export const pickPen =
  (index: number, sheet?: SheetName): Thunk =>
  (dispatch, getState) => {
    const { cup } = getState().settings;
    if (index < 0 || index >= cup.length) return;
    dispatch(patched({ pen: index, ...(cup[index].kind === 'highlighter' ? {} : { lastPen: cup[index].id }) }));
    dispatch(toolsSlice.actions.toolChosen('pen'));
    if (sheet) dispatch(toolsSlice.actions.set({ sheet }));
  };

/** A recording is begun with a pen that writes: where a highlighter is in hand, the pen that was in hand before it. */
export const takeWritingPen = (): Thunk => (dispatch, getState) => {
  const { cup, lastPen } = getState().settings;
  if (penInHand(getState()).kind !== 'highlighter') return;
  const before = cup.findIndex((p) => p.id === lastPen);
  const pen = before >= 0 ? before : cup.findIndex((p) => p.kind !== 'highlighter');
  if (pen >= 0) dispatch(patched({ pen }));
};

/** Changes the pen in hand, in its place. */
export const changePen =
  (look: Partial<Omit<PenSetting, 'id'>>): Thunk =>
  (dispatch, getState) => {
    const { cup, pen, lastColors } = getState().settings;
    const colors = look.color ? { lastColors: [look.color, ...lastColors.filter((c) => c !== look.color)].slice(0, COLORS_KEPT) } : {};
    dispatch(patched({ cup: cup.map((p, i) => (i === pen ? { ...p, ...look } : p)), ...colors }));
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
