/** From one side of the screen to the other: ink, pictures, and cut-outs of a page. What was taken over knows where it came from, and leads back there. */
import { sha256Hex } from '../core/hash';
import { newId } from '../core/id';
import type { Box } from '../core/ink/stroke';
import { areaOf, cornerOn, sizeFor } from '../core/note/board';
import { put as putRow } from '../core/note/edit';
import { coveredBy } from '../core/note/kinds/kinds';
import { makePicture, type Picture } from '../core/note/kinds/picture';
import type { Origin, Page } from '../core/note/schema';
import type { Stamp } from '../core/time/timeline';
import { pictureOfPart } from '../platform/drawing/partPicture';
import { contentsOf } from '../storage/archive';
import { isQuotaError } from '../storage/databases';
import type { View } from './alive';
import { giveHand, putBeside } from './beside';
import { canChange, change } from './change';
import { copySelected, paste, pasteAsks } from './clipboard';
import { reasonOf, say } from './messages';
import { setMode } from './mode';
import { stampOf } from './recording';
import { besideSlice, toolsSlice } from './slices';
import type { RootState } from './state';
import type { Thunk } from './thunk';
import { select, selectAll, selected } from './tools';

/** What shows the pages of the open note; null when it goes. */
export const setView =
  (view: View | null): Thunk =>
  (dispatch, getState, alive) => {
    alive.view = view;
    const { toShow, cameFrom } = alive;
    if (view && cameFrom?.told?.in === getState().note.id) {
      alive.cameFrom = { ...cameFrom, told: undefined };
      dispatch(say('place', 'info', cameFrom.told!.text, 'go-back'));
    }
    if (!view || toShow?.note !== getState().note.id) return;
    alive.toShow = null;
    if (toShow!.found) dispatch(toolsSlice.actions.set({ found: { page: toShow!.page, boxes: toShow!.found } }));
    if (toShow!.box) view.show(toShow!.page, toShow!.box);
    else view.turnTo(toShow!.page);
  };

export const middleInSight = (): Thunk<ReturnType<View['middle']>> => (_, __, { view }) => view?.middle() ?? null;
const seenAt =
  (x: number, y: number): Thunk<ReturnType<View['at']>> =>
  (_, __, { view }) =>
    view?.at(x, y) ?? null;
const showPlace =
  (page: string, box: Box): Thunk =>
  (_, __, { view }) =>
    view?.show(page, box);

/** A link of a page led to another page of the note: there is a way back. `from`: what was in sight. */
export const cameByLink =
  (from: ReturnType<View['middle']>, to: Page): Thunk =>
  (dispatch, getState, alive) => {
    if (!from || from.page === to.id) return;
    const pages = getState().note.note?.header.pages ?? [];
    const number = (id: string) => pages.findIndex((p) => p.id === id) + 1;
    alive.cameFrom = { page: from.page, box: boxAt(from) };
    dispatch(say('place', 'info', `The link led from page ${number(from.page)} to page ${number(to.id)}.`, 'go-back'));
  };

const boxAt = ({ y }: { readonly y: number }): Box => [0, y, 1, y];

/** What was in sight before a link was followed out of the page; `told`: what is said in the note that it led to. */
export const rememberPlace =
  (note: string, from: { readonly page: string; readonly y: number }, told?: { readonly in: string; readonly text: string }): Thunk =>
  (_, __, alive) => {
    alive.cameFrom = { note, page: from.page, box: boxAt(from), ...(told ? { told } : {}) };
  };

/** A page, or a place on it (mm), is shown now where its note is open, else as soon as it is. */
export const showWhenOpen =
  (note: string, page: string, box?: Box, found?: readonly Box[]): Thunk =>
  (dispatch, getState, alive) => {
    if (getState().note.id !== note) {
      alive.toShow = { note, page, ...(box ? { box } : {}), ...(found ? { found } : {}) };
      return;
    }
    if (found) dispatch(toolsSlice.actions.set({ found: { page, boxes: found } }));
    if (box) alive.view?.show(page, box);
    else alive.view?.turnTo(page);
  };

/** `go` opens a note, where one came from another. */
export const goBack =
  (go?: (note: string) => void): Thunk =>
  (_, getState, alive) => {
    const { cameFrom } = alive;
    alive.cameFrom = null;
    if (!cameFrom) return;
    if (cameFrom.note === undefined || cameFrom.note === getState().note.id) return alive.view?.show(cameFrom.page, cameFrom.box);
    alive.toShow = { note: cameFrom.note, page: cameFrom.page, box: cameFrom.box };
    go?.(cameFrom.note);
  };

/** The other side of the screen takes what comes: it is written there. */
const ready = (): Thunk<boolean> => (dispatch, getState) => {
  if (!canChange(getState())) {
    dispatch(say('tool', 'info', 'This note takes nothing now: it is read only, or another tab writes it.'));
    return false;
  }
  if (getState().note.mode !== 'write') dispatch(setMode('write'));
  return true;
};

/**
 * What is selected here, once more on the other side: into the middle of what is in sight, or at a place of the window, px. Its sound stays where it is,
 * with a way to it.
 */
export const takeOverSelected =
  (to?: readonly [number, number]): Thunk =>
  (dispatch, _, { other }) => {
    const at = other?.dispatch(to ? seenAt(...to) : middleInSight());
    if (!other || !at || !other.dispatch(ready())) return;
    dispatch(copySelected());
    void other.dispatch(paste(at.page, 'reach', at));
    if (to) dispatch(giveHand());
  };

/** The next loop of the lasso cuts out. */
export const startCutOut = (): Thunk => (dispatch) => {
  dispatch(toolsSlice.actions.set({ cropping: 'out' }));
  dispatch(say('tool', 'info', 'Draw around what is to be taken over: the rectangle that holds it goes to the other page as a picture.'));
};

const overlaps = (a: Box, b: Box): boolean => a[0] < b[2] && b[0] < a[2] && a[1] < b[3] && b[1] < a[3];

/** A rectangle of a page with all that is on it, as a picture on the other side. `loop`: mm of the page. */
export const cutOut =
  (page: string, loop: readonly (readonly [number, number])[]): Thunk<Promise<void>> =>
  async (dispatch, getState, { other }) => {
    dispatch(toolsSlice.actions.set({ cropping: null }));
    const { note } = getState().note;
    const sheet = note?.header.pages.find((p) => p.id === page);
    if (!note || !sheet || !other) return;
    const [xs, ys] = [loop.map((p) => p[0]), loop.map((p) => p[1])];
    const [l, t, r, b] = areaOf(sheet);
    const part: Box = [Math.max(l, Math.min(...xs)), Math.max(t, Math.min(...ys)), Math.min(r, Math.max(...xs)), Math.min(b, Math.max(...ys))];
    if (part[2] - part[0] < 2 || part[3] - part[1] < 2) return dispatch(say('tool', 'info', 'That is too little to cut out. Draw around a larger part of the page.'));
    // The moment is that of the loop, however long the picture takes.
    const stamp = other.dispatch(stampOf(performance.now()));
    try {
      const list = (note.ink[page] ?? []).filter((it) => overlaps(coveredBy(it), part));
      const png = await pictureOfPart({ page: sheet, placed: list, part, paper: true, contents: () => contentsOf(note) });
      await other.dispatch(layPicture(new Uint8Array(await png.arrayBuffer()), [part[2] - part[0], part[3] - part[1]], { note: note.header.id, page, box: part }, stamp));
    } catch (e) {
      dispatch(say('tool', 'problem', isQuotaError(e) ? 'There is no room left for this cut-out. Nothing was changed; free some room (Settings, Storage) and cut it out once more.' : `This could not be cut out (${reasonOf(e)}). Nothing was changed; try again.`));
    }
  };

/** A picture of `w` by `h` mm, into the middle of what is in sight. */
const layPicture =
  (bytes: Uint8Array, [w, h]: readonly [number, number], from: Omit<Origin, 'placed'> | null, stamp: Stamp | null, more: Pick<Picture, 'name' | 'text'> = {}): Thunk<Promise<void>> =>
  async (dispatch, getState, alive) => {
    const { file } = alive;
    if (!file || !dispatch(ready())) return;
    const bitmap = await createImageBitmap(new Blob([bytes as Uint8Array<ArrayBuffer>]));
    const px = [bitmap.width, bitmap.height] as const;
    bitmap.close();
    await file.keep(bytes);
    const at = dispatch(middleInSight());
    const page = getState().note.note?.header.pages.find((p) => p.id === at?.page);
    // It may have been put away meanwhile: what nothing points to goes with it.
    if (alive.file !== file || !page || !at) return;
    const size = sizeFor(page);
    const k = Math.min(1, size.w / w, size.h / h);
    const m = [w * k, 0, 0, h * k, ...cornerOn(page, at.x - (w * k) / 2, at.y - (h * k) / 2, w * k, h * k)] as const;
    const picture = makePicture({ id: newId(), page: page.id, stamp, wall: Date.now(), content: await sha256Hex(bytes), px, m, ...more });
    if (!dispatch(change({ put: [picture], rows: from ? [putRow('origins', newId(), { ...from, placed: [picture.id] })] : [] }))) return;
    dispatch(toolsSlice.actions.toolChosen('lasso'));
    dispatch(select(page.id, [picture.id]));
  };

/** Where something came from; null where it was made here. */
export const originOf = ({ note }: RootState, placedId: string): Origin | null => note.note?.header.origins?.find((o) => o.placed.includes(placedId)) ?? null;
/** Of what is selected: where all of it came from. */
export const originOfSelected = (state: RootState): Origin | null => {
  const [first, ...rest] = selected(state);
  const origin = first ? originOf(state, first.id) : null;
  return origin && rest.every((it) => origin.placed.includes(it.id)) ? origin : null;
};

/** Shows the place that something was taken over from, on the other side of the screen. `onWeb`: it is an address. */
export const showOrigin =
  ({ note, page, box, url }: Origin, onWeb: (url: string) => void): Thunk =>
  (dispatch, getState, alive) => {
    if (url !== undefined) return onWeb(url);
    if (note === undefined || page === undefined || !box) return;
    if (alive.other?.getState().note.id === note) return void alive.other.dispatch(showPlace(page, box));
    if (!getState().library.headers.some((h) => h.id === note)) return dispatch(say('tool', 'info', 'The note this was taken from is not on this device, or is locked.'));
    alive.toShow = { note, page, box: box };
    dispatch(putBeside(note));
  };

/** Pastes into the middle of what is in sight; ink with sound elsewhere asks first what becomes of it. */
export const pasteInSight =
  (sound?: 'bring' | 'reach'): Thunk =>
  (dispatch, getState) => {
    const at = dispatch(middleInSight());
    if (!at) return;
    if (!sound && pasteAsks(getState())) return void dispatch(toolsSlice.actions.set({ sheet: 'paste' }));
    void dispatch(paste(at.page, sound ?? 'bring', at));
  };

export const selectInSight = (): Thunk => (dispatch) => {
  const at = dispatch(middleInSight());
  if (at) dispatch(selectAll(at.page));
};

/** Printed text of a page was copied: pasted, it knows where it came from. `box`: mm of the page. */
export const textCopied =
  (text: string, page: string, box: Box): Thunk =>
  (dispatch, getState) => {
    const { id } = getState().note;
    if (id) dispatch(besideSlice.actions.set({ copied: { text: text.trim(), note: id, page, box } }));
  };
