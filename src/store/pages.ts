/** Pages of the open note: one edit each, so that every step can be taken back. */
import { createSelector } from '@reduxjs/toolkit';
import { newId } from '../core/id';
import type { Edit, Note } from '../core/note/edit';
import * as pages from '../core/note/pages';
import { newPage, NEW_FORM, type PageForm } from '../core/note/schema';
import { canChange, change, undo } from './change';
import { selectInUse } from './filing';
import { reasonOf, say } from './messages';
import { settingsSlice } from './slices';
import type { RootState } from './state';
import { editStored, Refused } from './storedNotes';
import type { Thunk } from './thunk';
import { heldBy, selected } from './tools';

const edited =
  (edit: (note: Note) => Edit): Thunk<boolean> =>
  (dispatch, getState) => {
    const { note } = getState().note;
    return note !== null && dispatch(change(edit(note)));
  };

/** A page before the one at `at` (from 0), of the paper of its neighbour. */
export const addPageAt = (at: number): Thunk<boolean> => edited((note) => pages.addPages(note, at, [newPage(newId(), note.header.pages[Math.max(0, at - 1)] ?? NEW_FORM)]));
export const reorder = (ids: readonly string[], to: number): Thunk<boolean> => edited((note) => pages.reorderPages(note, ids, to));
export const duplicatePages = (ids: readonly string[]): Thunk<boolean> => edited((note) => pages.duplicatePages(note, ids, newId));
export const bookmark = (page: string): Thunk<boolean> => edited((note) => pages.toggleBookmark(note, page));

export const deletePages =
  (ids: readonly string[]): Thunk =>
  (dispatch) => {
    if (!dispatch(edited((note) => pages.deletePages(note, ids, newId())))) return;
    dispatch(say('tool', 'info', ids.length === 1 ? 'The page and its ink were deleted.' : `${ids.length} pages and their ink were deleted.`, 'undo'));
  };

/** Another paper for a page (null for all), which new notes of this kind begin with from now on; not where it is that of a board. */
export const setPaper =
  (page: string | null, form: PageForm, board = false): Thunk =>
  (dispatch, getState) => {
    // How large a board has grown is no size for others.
    dispatch(edited((note) => pages.changePaper(note, page, board ? { paper: form.paper } : form)));
    if (board) return;
    const header = getState().note.note?.header;
    const kind = header?.takes.length ? 'recorded' : 'written';
    dispatch(settingsSlice.actions.patched({ papers: { ...getState().settings.papers, [kind]: form } }));
  };

/** The selected ink becomes a heading of a level, or none any more. */
export const headSelected =
  (level: 1 | 2 | 3 | null): Thunk =>
  (dispatch, getState) => {
    const strokes = selected(getState());
    if (!strokes.length) return;
    const ids = strokes.map((s) => s.id);
    dispatch(edited((note) => (level ? pages.setHeading(note, strokes[0].page, ids, level, newId()) : pages.dropHeading(note, ids))));
  };

/** Another level for a heading of the outline; null for no heading any more. */
export const changeHeading = (id: string, level: 1 | 2 | 3 | null): Thunk<boolean> => edited((note) => pages.changeHeading(note, id, level));

export const selectOutline = createSelector(
  (s: RootState) => s.note.note?.header,
  (s: RootState) => s.note.note?.rows,
  (s: RootState) => s.note.note?.ink,
  (header, rows, ink) => (header && rows && ink ? pages.outlineOf({ header, rows, ink }) : []),
);

/** The note that was worked on last besides this one: where ink is likely to be copied. */
export const selectOtherNote = createSelector(selectInUse, (s: RootState) => s.note.id, (headers, id) => headers.find((h) => h.id !== id) ?? null);

/** A locked note without its title: that goes into no other note. */
const unnamed = (note: Note, { library }: RootState): Note => (note.header.id in library.covers ? { ...note, header: { ...note.header, title: '' } } : note);

/** What is selected, once more at the end of another note, with its sound. */
export const copySelectedInto =
  (target: string): Thunk<Promise<void>> =>
  async (dispatch, getState, alive) => {
    const { note } = getState().note;
    const chosen = heldBy(getState());
    const title = getState().library.headers.find((h) => h.id === target)?.title ?? '';
    if (!note || !chosen.length) return;
    try {
      alive.there = { note: target, inverse: (await dispatch(editStored(target, (into) => pages.bringInk(into, unnamed(note, getState()), chosen, newId)))).inverse, here: null };
      dispatch(say('tool', 'info', `Copied to the end of “${title}”, with its sound.`, 'undo-there'));
    } catch (e) {
      dispatch(say('tool', 'problem', e instanceof Refused ? `“${title}” takes no ink now: ${e.message}. Nothing was copied.` : `This could not be copied (${reasonOf(e)}). Nothing was changed; try again.`));
    }
  };

/**
 * Pages go to the end of another note, with their ink and the takes their stamps point to. They leave this note only when they are
 * stored in the other one.
 */
export const movePagesTo =
  (ids: readonly string[], target: string): Thunk<Promise<void>> =>
  async (dispatch, getState, alive) => {
    const { note, id } = getState().note;
    const title = getState().library.headers.find((h) => h.id === target)?.title ?? '';
    if (!note || target === id) return;
    if (!canChange(getState())) return;
    try {
      const { inverse } = await dispatch(editStored(target, (into) => pages.bringPages(into, unnamed(note, getState()), ids, newId)));
      const before = getState().note.undo.at(-1);
      // Another note may have been opened meanwhile: it has nothing to do with this.
      const isHere = getState().note.id === id && dispatch(edited((n) => pages.deletePages(n, ids, newId())));
      const here = getState().note.undo.at(-1);
      const canGoBack = isHere && here !== undefined && here !== before;
      if (canGoBack) alive.there = { note: target, inverse, here };
      dispatch(say('tool', 'info', `${ids.length === 1 ? 'The page is' : `${ids.length} pages are`} at the end of “${title}” now.`, canGoBack ? 'undo-there' : undefined));
    } catch (e) {
      const why = e instanceof Refused ? `“${title}” takes no pages now: ${e.message}` : `The pages could not be moved (${reasonOf(e)})`;
      dispatch(say('tool', 'problem', `${why}. They are still here.`));
    }
  };


/** There is something that was done to another note and can be taken back there. */
export const canUndoThere = (): Thunk<boolean> => (_, __, { there }) => there !== null;
/** Takes back what was last done to another note from here. What left this note is stored here again before it goes there. */
export const undoThere =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState, alive) => {
    const { there } = alive;
    alive.there = null;
    if (!there) return;
    const title = getState().library.headers.find((h) => h.id === there.note)?.title ?? '';
    const newest = () => getState().note.undo.at(-1);
    if (there.here && newest() !== there.here) return;
    if (there.here) dispatch(undo());
    try {
      if (there.here && newest() === there.here) throw new Refused('the pages could not come back here');
      if (there.here) await alive.file?.flush();
      await dispatch(editStored(there.note, () => there.inverse));
      dispatch(say('tool', 'info', `“${title}” is as it was.`));
    } catch (e) {
      dispatch(say('tool', 'problem', `What was brought into “${title}” is still there: ${e instanceof Refused ? e.message : reasonOf(e)}. Delete it there.`));
    }
  };
