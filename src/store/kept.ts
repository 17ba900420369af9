/** What lost against a change of another device, and the way back to before a merge: of the open note or of a stored one. */
import type { Edit, Note } from '../core/note/edit';
import { newId } from '../core/id';
import { allSettled, chosen, keptOf, nameOfKept, surroundings, type Choice, type KeptOne } from '../core/note/kept';
import { checkpointsOf, dropCheckpoint, readCheckpoint } from '../storage/checkpointFile';
import { readNote } from '../storage/noteReading';
import { change } from './change';
import { reasonOf, say } from './messages';
import { editStored } from './storedNotes';
import type { Thunk } from './thunk';

const openNoteOf = (id: string): Thunk<Note | null> => (_, getState) => (getState().note.id === id ? getState().note.note : null);

export interface KeptEntry extends KeptOne {
  readonly name: string;
  /** Where its versions lie on a page; null of what lies on none. */
  readonly where: ReturnType<typeof surroundings>;
}

/** All of a note that waits for somebody to choose. @throws what storage throws */
export const loadKept =
  (id: string): Thunk<Promise<readonly KeptEntry[]>> =>
  async (dispatch) => {
    const note = dispatch(openNoteOf(id)) ?? (await readNote(id)).note;
    return keptOf(note).map((one) => ({ ...one, name: nameOfKept(note, one), where: surroundings(note, one) }));
  };

/** One step, in the open note or in a stored one. @returns whether it was done; why not is said. */
const edited =
  (id: string, make: (note: Note) => Edit): Thunk<Promise<boolean>> =>
  async (dispatch) => {
    try {
      const open = dispatch(openNoteOf(id));
      if (open) return dispatch(change(make(open)));
      await dispatch(editStored(id, make));
      return true;
    } catch (e) {
      dispatch(say('kept', 'problem', `Couldn't change this note (${reasonOf(e)}). Nothing was changed. Close it elsewhere and try again.`));
      return false;
    }
  };

/** One of two versions, or both. What was not chosen is gone with it, and comes back by Undo where the note is open. */
export const chooseKept = (id: string, key: string, choice: Choice): Thunk<Promise<boolean>> =>
  edited(id, (note) => {
    const one = keptOf(note).find((k) => k.key === key);
    return one ? chosen(note, one, choice, newId) : {};
  });

/** What stands goes on standing, of everything. */
export const settleKept = (id: string): Thunk<Promise<boolean>> => edited(id, allSettled);

/** When the note was last merged into, ms since the epoch; null when there is no way back. */
export const lastMerge =
  (id: string): Thunk<Promise<number | null>> =>
  async () =>
    (await checkpointsOf(id).catch(() => []))[0] ?? null;

/** Back to before the last merge. What was written since then stays. */
export const undoMerge =
  (id: string): Thunk<Promise<void>> =>
  async (dispatch) => {
    const [at] = await checkpointsOf(id).catch(() => []);
    const edit = at === undefined ? null : await readCheckpoint(id, at).catch(() => null);
    if (at === undefined || !edit) return void dispatch(say('kept', 'problem', "Couldn't find what this note was before. Nothing was changed."));
    if (!(await dispatch(edited(id, () => edit)))) return;
    // It would only be offered once more.
    await dropCheckpoint(id, at).catch(() => undefined);
    dispatch(say('kept', 'info', 'This note is as it was before the last restore. What you wrote since then is still there.'));
  };
