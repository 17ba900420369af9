/** What the tools do to the open note: each is one edit, which one undo takes back. */
import { joined, type Edit } from '../core/note/edit';
import { newId } from '../core/id';
import { makeAxes } from '../core/note/kinds/axes';
import { makeSlip } from '../core/note/kinds/slip';
import { makeTable } from '../core/note/kinds/table';
import { makeTyped, type Typed } from '../core/note/kinds/typed';
import { MM_PER_PT, type Look } from '../core/text/faces';
import { flowFrom, laidFrom } from '../core/text/flow';
import { makeArea } from '../core/note/kinds/area';
import { inSight, isCarrier, isLocked, isStroke, laidOn, mapPlaced, settled, strokesOf, withGroups, type Placed } from '../core/note/kinds/kinds';
import { labelsAlong, staysLabel } from '../core/note/labels';
import { addPages } from '../core/note/pages';
import { writingLines } from '../core/note/paper';
import { penOf, type Pen } from '../core/ink/pen';
import { makeRoom, type RoomPage } from '../core/ink/room';
import { areaBetween, loopAround, pointsAround } from '../core/ink/region';
import { attach, followers } from '../core/note/anchors';
import { isOpen, isStraight, type Shape } from '../core/ink/shapes/shape';
import { boxAround, pointsOf, reshaped, withPoints, type Stroke } from '../core/ink/stroke';
import { tidy } from '../core/ink/tidy';
import { move, type Affine } from '../core/ink/transform';
import { areaOf, extentOf, keptOnPage } from '../core/note/board';
import { A4, newPage, type Page } from '../core/note/schema';
import { change } from './change';
import { say } from './messages';
import { stampAt } from './recording';
import { toolsSlice } from './slices';
import type { RootState } from './state';
import type { Thunk } from './thunk';

const { set } = toolsSlice.actions;

/** What is taken hold of, as it is now. */
export function selected(state: RootState): readonly Placed[] {
  const { selection } = state.tools;
  const list = selection ? state.note.note?.ink[selection.page] : undefined;
  if (!selection || !list) return [];
  const ids = new Set(selection.ids);
  return list.filter((s) => ids.has(s.id));
}

/** What is taken hold of with what lies on it, also where that is hidden. */
export function heldBy(state: RootState): readonly Placed[] {
  const chosen = selected(state);
  return chosen.length ? withGroups(chosen, state.note.note!.ink[chosen[0].page]) : chosen;
}

export const pageOf = (state: RootState, id: string): Page | undefined => state.note.note?.header.pages.find((p) => p.id === id);

export const select =
  (page: string | null, ids: readonly string[] = []): Thunk =>
  (dispatch) =>
    void dispatch(set({ selection: page !== null && ids.length ? { page, ids } : null }));

/** Takes hold of things with the lasso in hand, from wherever they were chosen. */
export const hold =
  (page: string, placed: readonly Placed[]): Thunk =>
  (dispatch) => {
    dispatch(toolsSlice.actions.toolChosen('lasso'));
    dispatch(select(page, placed.map((it) => it.id)));
  };

export const selectAll =
  (page: string): Thunk =>
  (dispatch, getState) => {
    const list = inSight(getState().note.note?.ink[page] ?? []);
    dispatch(toolsSlice.actions.toolChosen('lasso'));
    dispatch(select(page, list.filter((s) => !isLocked(s)).map((s) => s.id)));
  };

/** Changed things of a page, and with them the lines that hold on to shapes among them, and their labels. */
export function withFollowers(state: RootState, page: string, put: readonly Placed[]): Placed[] {
  const list = state.note.note?.ink[page] ?? [];
  const all = [...put, ...followers(strokesOf(put), strokesOf(list))];
  return [...all, ...labelsAlong(all, list)];
}

const changeSelected =
  (make: (placed: readonly Placed[]) => readonly Placed[]): Thunk =>
  (dispatch, getState) => {
    const state = getState();
    const strokes = selected(state);
    const made = make(strokes);
    if (made.length) dispatch(change({ put: withFollowers(state, made[0].page, made) }));
  };

/** Moved, scaled or turned, with all that lies on it; what was moved by itself belongs to the sticky note it lies on then. */
export const transformSelected =
  (m: Affine): Thunk =>
  (dispatch, getState) => {
    const state = getState();
    const list = state.note.note?.ink[state.tools.selection?.page ?? ''] ?? [];
    const held = heldBy(state);
    const ids = new Set(held.map((s) => s.id));
    const made = held.map((s) => loosened(mapPlaced(s, m), held));
    const free = made.filter((s) => s.on === undefined || !ids.has(s.on));
    const labels = free.filter((s) => staysLabel(s, list));
    const alone = settled(free.filter((s) => !labels.includes(s)), [...list.filter((s) => !ids.has(s.id)), ...made.filter((s) => s.kind === 'slip')]);
    const by = new Map(alone.map((s) => [s.id, s]));
    const put = [...alone, ...labels, ...made.filter((s) => s.on !== undefined && ids.has(s.on)).map((s) => withCarrier(s, by.get(s.on!)))];
    if (put.length) dispatch(change({ put: withFollowers(state, put[0].page, put) }));
  };

/** What lies on something that came to lie elsewhere is lifted with it. */
export const withCarrier = (it: Placed, carrier: Placed | undefined): Placed => (carrier && isCarrier(carrier) ? laidOn(it, carrier) : it);

/** A line that was moved by hand lets go of shapes that stayed. */
function loosened(stroke: Placed, moved: readonly Placed[]): Placed {
  if (!isStroke(stroke)) return stroke;
  const { shape } = stroke;
  if (!shape || (!shape.from && !shape.to)) return stroke;
  const ids = new Set(moved.map((s) => s.id));
  const { from, to, ...plain } = shape;
  return { ...stroke, shape: { ...plain, ...(from && ids.has(from.to) ? { from } : {}), ...(to && ids.has(to.to) ? { to } : {}) } };
}

/** mm; kept on the page. */
export const nudgeSelected =
  (dx: number, dy: number): Thunk =>
  (dispatch, getState) => {
    const state = getState();
    const box = boxAround(selected(state));
    const page = box && pageOf(state, state.tools.selection!.page);
    if (!page) return;
    const [mx, my] = keptOnPage(page, box, dx, dy);
    if (mx || my) dispatch(transformSelected(move(mx, my)));
  };

export const deleteSelected = (): Thunk => (dispatch, getState) => {
  const strokes = heldBy(getState());
  dispatch(change({ cut: strokes.map(({ id, page }) => ({ id, page })) }));
  dispatch(select(null));
};

/** Changes colour, width, kind or any other side of the pen of what is written. Where words and highlighter are selected together, another colour is meant for the words; typed ones take it too. */
export const restyleSelected = (look: Partial<Pen>): Thunk =>
  changeSelected((placed) => {
    const strokes = strokesOf(placed);
    const written = strokes.filter(({ pen }) => pen.kind !== 'highlighter');
    const typed = look.color ? placed.filter((it) => it.kind === 'typed') : [];
    const meant = look.color && (written.length || typed.length) ? written : strokes;
    const { color } = look;
    const solids = look.color || look.width ? placed.filter((it) => it.kind === 'solid') : [];
    const lettered = color ? placed.flatMap((it): Placed[] => (it.kind === 'table' ? [makeTable({ ...it, look: { ...it.look, color } })] : it.kind === 'axes' ? [makeAxes({ ...it, look: { ...it.look, color } })] : [])) : [];
    return [...lettered, ...solids.map((it) => Object.freeze({ ...it, color: color ?? it.color, width: look.width ?? it.width })), ...meant.map((stroke) => ({ ...stroke, pen: penOf({ ...stroke.pen, ...look }) })), ...typed.map((it) => makeTyped({ ...it, looks: it.looks.map(([n, l]) => [n, { ...l, color: color ?? l.color }]) }))];
  });

export const fillSelected = (fill: string | null): Thunk =>
  changeSelected((placed) =>
    placed.flatMap((s): Placed[] => {
      if (s.kind === 'area') return fill ? [{ ...s, fill }] : [];
      if (s.kind === 'slip') return fill ? [makeSlip({ ...s, tint: fill })] : [];
      if (s.kind === 'solid') {
        const { fill: __, ...bare } = s;
        return [Object.freeze(fill ? { ...bare, fill } : bare)];
      }
      if (!isStroke(s)) return [];
      const { fill: _, ...plain } = s;
      return [fill ? { ...plain, fill } : plain];
    }),
  );

/** Letters of all that is selected and has some: of typed lines, tables and axes. Lines that follow each other stay below each other. */
export const setLetters = (patch: Partial<Pick<Look, 'face' | 'size'>>): Thunk =>
  changeSelected((placed) => {
    const flows = new Map<string, Typed[]>();
    for (const it of placed) if (it.kind === 'typed') flows.set(it.flow, [...(flows.get(it.flow) ?? []), it]);
    const lines = [...flows.values()].flatMap((all) => {
      const sorted = all.sort((a, b) => a.n - b.n).map((it) => makeTyped({ ...it, looks: it.looks.map(([n, look]) => [n, { ...look, ...patch }]) }));
      const [{ flow, page, m, width, pitch }] = sorted;
      // Letters that became larger than their lines need more room between them.
      const high = Math.max(...sorted.flatMap((it) => it.looks.map(([, look]) => look.size))) * MM_PER_PT;
      return flowFrom(sorted, sorted[0]).length === sorted.length ? laidFrom(sorted, { flow, page, m, width, pitch: Math.max(pitch, 1.2 * high) }).map((it, i) => Object.freeze({ ...it, n: sorted[i].n })) : sorted;
    });
    return [...lines, ...placed.flatMap((it): Placed[] => (it.kind === 'table' ? [makeTable({ ...it, look: { ...it.look, ...patch } })] : it.kind === 'axes' ? [makeAxes({ ...it, look: { ...it.look, ...patch } })] : []))];
  });

export const groupSelected = (): Thunk => {
  const group = newId();
  return changeSelected((strokes) => strokes.map((s) => ({ ...s, group })));
};

export const ungroupSelected = (): Thunk =>
  changeSelected((strokes) =>
    strokes.map((s) => {
      const { group: _, ...plain } = s;
      return plain;
    }),
  );

export const tidySelected = (): Thunk => (dispatch, getState) => {
  const state = getState();
  const strokes = selected(state);
  const page = strokes.length ? pageOf(state, strokes[0].page) : undefined;
  if (!page) return;
  // What is written on a sticky note or a table does not keep to the lines of the page.
  const put = tidy(strokesOf(strokes).filter((s) => s.on === undefined), writingLines(page.paper)).filter((s) => s.box[3] < areaOf(page)[3] && s.box[1] > areaOf(page)[1]);
  if (put.length) dispatch(change({ put }));
  else dispatch(say('tool', 'info', 'There is no handwriting in the selection to set on the lines.'));
};

// Pages

/** A board has room below itself; what is pushed off a page stops before one. */
function roomPages(state: RootState, from: string): RoomPage[] {
  const pages = state.note.note?.header.pages ?? [];
  const at = pages.findIndex((p) => p.id === from);
  const board = pages.findIndex((p, i) => i > at && p.board);
  const some = pages[at]?.board ? [pages[at]] : pages.slice(0, board < 0 ? undefined : board);
  return some.map((page) => {
    const { id, paper } = page;
    const strokes = state.note.note!.ink[id] ?? [];
    const words = state.note.words[id];
    return { id, h: areaOf(page)[3], ...writingLines(paper), strokes, grouping: words?.of === strokes ? words.grouping : null };
  });
}

/** The edit that makes room of `dy` mm below `y` on a page; null when nothing moves. */
function roomEdit(state: RootState, page: string, y: number, dy: number): Edit | null {
  const { note } = state.note;
  const pages = roomPages(state, page);
  const index = pages.findIndex((p) => p.id === page);
  if (!note || index < 0) return null;
  const fresh: string[] = [];
  const { moved, added } = makeRoom(pages, index, y, dy, (k) => (fresh[k] ??= newId()));
  if (!moved.length) return null;
  const before = new Map<string, string>();
  for (const list of Object.values(note.ink)) for (const s of list) before.set(s.id, s.page);
  const end = note.header.pages.findIndex((p) => p.id === pages[pages.length - 1].id) + 1;
  const last = note.header.pages[end - 1];
  const more = Array.from({ length: added }, (_, k) => newPage((fresh[k] ??= newId()), last));
  return joined({ put: moved, cut: moved.filter((s) => before.get(s.id) !== s.page).map((s) => ({ id: s.id, page: before.get(s.id)! })) }, added ? addPages(note, end, more) : {});
}

export const makeRoomAt =
  (page: string, y: number, dy: number): Thunk =>
  (dispatch, getState) => {
    const edit = roomEdit(getState(), page, y, dy);
    if (edit) dispatch(change(edit));
  };

// Shapes and areas

export const setShape =
  (stroke: Stroke, shape: Shape, hold: boolean): Thunk =>
  (dispatch, getState) => {
    const state = getState();
    const list = strokesOf(state.note.note?.ink[stroke.page] ?? []);
    const put = reshaped(stroke, shape);
    const attached = hold ? attach(shape, list.filter((s) => s.id !== stroke.id)) : shape;
    dispatch(change({ put: withFollowers(state, stroke.page, [attached === shape ? put : reshaped({ ...put, shape }, attached)]) }));
  };

export const setHeads = (heads: Shape['heads'] | null): Thunk =>
  changeSelected((placed) =>
    strokesOf(placed).flatMap((s) => {
      const { shape } = s;
      if (!shape || !isOpen(shape)) return [];
      const { heads: _, ...plain } = shape;
      const name = !isStraight(shape) ? shape.name : heads ? 'arrow' : 'line';
      return [{ ...s, shape: { ...plain, name, ...(heads ? { heads } : {}) } }];
    }),
  );

/** Fills the closed area around x, y (mm), and says so when there is none. */
export const fillAt =
  (page: string, x: number, y: number, downAt: number): Thunk =>
  (dispatch, getState) => {
    const state = getState();
    const sheet = pageOf(state, page);
    if (!sheet) return;
    const list = strokesOf(state.note.note!.ink[page] ?? []);
    const { fill } = state.tools;
    const loop = loopAround(list, x, y);
    if (loop) return void dispatch(change({ put: [{ ...loop, fill }] }));
    const [l, t, r, b] = extentOf(sheet);
    const area = areaBetween(list, x, y, sheet.board ? [Math.max(l, x - A4.w), Math.max(t, y - A4.h), Math.min(r, x + A4.w), Math.min(b, y + A4.h)] : [l, t, r, b]);
    if (!area) return dispatch(say('tool', 'info', 'This area is not closed: its colour would run out over the page. Close the line and touch again.'));
    const made = makeArea(pointsAround(area), { id: newId(), page, fill, stamp: dispatch(stampAt(downAt)), wall: Math.round(performance.timeOrigin + downAt) });
    dispatch(change({ put: [made] }));
  };

/** The same strokes as plain ink again: corners can then be rubbed and redrawn like any other. */
export const asInk = (): Thunk =>
  changeSelected((placed) =>
    strokesOf(placed).flatMap((s) => {
      if (!s.shape) return [];
      const { shape: _, fill, ...rest } = s;
      return [{ ...withPoints(rest, pointsOf(s)), ...(fill ? { fill } : {}) }];
    }),
  );
