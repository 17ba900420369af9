/** Changes of notes that are not open: by the same edits, under the lock of the note, and with respect for what may not be changed. */
import { applyEdit, EditError, isEmptyEdit, type Edit, type Note } from '../core/note/edit';
import { summaryOf } from '../core/note/schema';
import { holdToChange, tell } from '../platform/tabs';
import { NoteFile } from '../storage/noteFile';
import { byOf } from './alive';
import { librarySlice } from './slices';
import type { Thunk } from './thunk';

/** Why a note was not changed: a clause. */
export class Refused extends Error {
  readonly name = 'Refused';
}

/**
 * Changes a stored note and gives it as it is then, with the edit that takes the change back. `ownWork`: what it does for itself, which also a read-only one takes.
 * @throws Refused, and what storage throws.
 */
export const editStored =
  (id: string, make: (note: Note) => Edit | null | Promise<Edit | null>, ownWork = false): Thunk<Promise<{ note: Note; inverse: Edit }>> =>
  async (dispatch, getState, alive) => {
    if (getState().note.id === id) throw new Refused('it is open here');
    // It may have been left just now, or stand beside the open note.
    await alive.holders.get(id)?.();
    const lock = await holdToChange(id);
    if (!lock) throw new Refused('it is open in another tab');
    try {
      const { note, file, newer } = await NoteFile.openToWrite(lock, byOf(alive));
      if (newer) throw new Refused('a newer Scrivo wrote it');
      if (note.header.readOnly && !ownWork) throw new Refused('it is read only');
      const edit = await make(note);
      if (!edit || isEmptyEdit(edit)) {
        await file.close();
        return { note, inverse: {} };
      }
      const made = applied(note, edit, alive);
      file.record(edit, made.note);
      await file.close();
      dispatch(librarySlice.actions.upserted(summaryOf(made.note.header)));
      tell({ kind: 'library' });
      return made;
    } finally {
      await lock.release();
    }
  };

function applied(note: Note, edit: Edit, alive: Parameters<typeof byOf>[0]): ReturnType<typeof applyEdit> {
  try {
    return applyEdit(note, edit, byOf(alive));
  } catch (e) {
    if (e instanceof EditError) throw new Refused(e.message);
    throw e;
  }
}
