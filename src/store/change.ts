/** The one path for every change of the open note, and back and forth in its history. */
import { boardsGrown } from '../core/note/board';
import { pointedTo } from '../core/note/contents';
import { applyEdit, EditError, isEmptyEdit, type Edit, type Note } from '../core/note/edit';
import { byOf } from './alive';
import { say } from './messages';
import { noteSlice } from './noteSlice';
import type { RootState } from './state';
import type { Alive, Thunk } from './thunk';

/** False while another tab writes the note, it is read only, or a newer program wrote it. */
export const canChange = ({ note }: RootState): boolean => note.note !== null && !note.following && note.newer === null && !note.note.header.readOnly;

/** What comes near the edge of a board makes it grow, in the same step. */
function withBoards(note: Note, edit: Edit): Edit {
  const rows = boardsGrown(note, edit);
  return rows.length ? { ...edit, rows: [...(edit.rows ?? []), ...rows] } : edit;
}

/** Whether the note would point to a content that it does not hold. What it points to was stored for it (`NoteFile.keep`) or shared with it (`NoteFile.share`) before, so that no content goes that is seen. */
const pointsBeyond = (edit: Edit, { file }: Alive): boolean => file !== null && [...pointedTo(edit)].some((hash) => !file.holds(hash));

/** @param history false for what comes with recording and is no step of the user's. @returns false when the change was refused, which is said where it can be news. */
export const change =
  (edit: Edit, history = true): Thunk<boolean> =>
  (dispatch, getState, alive) => {
    const { following, newer, note } = getState().note;
    if (following || newer !== null || !note) return false;
    // A note that is read only takes only what it does for itself: takes that end, and being let go.
    if (note.header.readOnly && (history || edit.put || edit.cut)) return false;
    if (isEmptyEdit(edit)) return true;
    if (pointsBeyond(edit, alive)) {
      dispatch(say('tool', 'problem', 'A picture or file of it is not on this device any more. Nothing was changed; copy it again where it still is.'));
      return false;
    }
    try {
      const whole = withBoards(note, edit);
      dispatch(noteSlice.actions.changed({ ...applyEdit(note, whole, byOf(alive)), edit: whole, history }));
      return true;
    } catch (e) {
      if (!(e instanceof EditError)) throw e;
      dispatch(say('tool', 'problem', e.message));
      return false;
    }
  };

const step =
  (way: 'undo' | 'redo'): Thunk =>
  (dispatch, getState, alive) => {
    const { note } = getState();
    const edit = note[way].at(-1);
    if (!edit || !note.note || !canChange(getState())) return;
    dispatch(noteSlice.actions[way === 'undo' ? 'undone' : 'redone']({ ...applyEdit(note.note, edit, byOf(alive)), edit }));
  };

export const undo = (): Thunk => step('undo');
export const redo = (): Thunk => step('redo');
