/** Pages of the open note: one edit each, so that every step can be taken back. */
import { createSelector } from '@reduxjs/toolkit';
import { newId } from '../core/id';
import { applyEdit, type Edit, type Note } from '../core/note/edit';
import * as pages from '../core/note/pages';
import { NEW_FORM, type PageForm } from '../core/note/schema';
import { holdNote, tell } from '../platform/tabs';
import { NoteFile } from '../storage/noteFile';
import { change, reasonOf, say, type Thunk } from './session';
import { librarySlice, settingsSlice } from './slices';
import type { RootState } from './store';
import { selected } from './tools';

const edited =
  (edit: (note: Note) => Edit): Thunk =>
  (dispatch, getState) => {
    const { note } = getState().note;
    if (note) dispatch(change(edit(note)));
  };

/** A page before the one at `at` (from 0), of the paper of its neighbour. */
export const addPageAt = (at: number): Thunk => edited((note) => pages.addPage(note, at, note.header.pages[Math.max(0, at - 1)] ?? NEW_FORM, newId()));
export const reorder = (ids: readonly string[], to: number): Thunk => edited((note) => pages.reorderPages(note, ids, to));
export const duplicatePages = (ids: readonly string[]): Thunk => edited((note) => pages.duplicatePages(note, ids, newId));
export const bookmark = (page: string): Thunk => edited((note) => pages.toggleBookmark(note, page));

export const deletePages =
  (ids: readonly string[]): Thunk =>
  (dispatch) => {
    dispatch(edited((note) => pages.deletePages(note, ids, newId())));
    dispatch(say('tool', 'info', ids.length === 1 ? 'The page and its ink were deleted.' : `${ids.length} pages and their ink were deleted.`, 'undo'));
  };

/** Another paper for a page (null for all), which new notes of this kind begin with from now on. */
export const setPaper =
  (page: string | null, form: PageForm): Thunk =>
  (dispatch, getState) => {
    dispatch(edited((note) => pages.changePaper(note, page, form)));
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
    dispatch(edited((note) => (level ? pages.setHeading(note, strokes[0].page, ids, level) : pages.dropHeading(note, ids))));
  };

export const selectOutline = createSelector(
  (s: RootState) => s.note.note?.header,
  (s: RootState) => s.note.note?.ink,
  (header, ink) => (header && ink ? pages.outlineOf({ header, ink }) : []),
);

/**
 * Pages go to the end of another note, with their ink and the takes their stamps point to. They leave this note only when they are
 * stored in the other one.
 */
export const movePagesTo =
  (ids: readonly string[], target: string): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const { note, id } = getState().note;
    const title = getState().library.headers.find((h) => h.id === target)?.title ?? '';
    if (!note || target === id) return;
    const lock = await holdNote(target);
    if (!lock) return void dispatch(say('tool', 'problem', `“${title}” is open in another tab. Close it there, then move the pages.`));
    try {
      const { note: into, file } = await NoteFile.open(target);
      const edit = { ...pages.bringPages(into, note, ids, newId) };
      const next = applyEdit(into, { ...edit, header: { ...edit.header, changed: Date.now() } });
      file.record({ ...edit, header: { ...edit.header, changed: next.note.header.changed } }, next.note);
      await file.close();
      dispatch(librarySlice.actions.upserted(next.note.header));
      tell({ kind: 'library' });
      dispatch(edited((n) => pages.deletePages(n, ids, newId())));
      dispatch(say('tool', 'info', `${ids.length === 1 ? 'The page is' : `${ids.length} pages are`} at the end of “${title}” now.`));
    } catch (e) {
      dispatch(say('tool', 'problem', `The pages could not be moved (${reasonOf(e)}). They are still here.`));
    } finally {
      lock.release();
    }
  };
