/** Notes that were left before they could be stored: they are kept here, tried again, held against other tabs, and said until they are on disk. */
import { summaryOf } from '../core/note/schema';
import type { NoteFile } from '../storage/noteFile';
import type { Alive } from './alive';
import { say, STORING } from './messages';
import { librarySlice, messagesSlice } from './slices';
import type { Thunk } from './thunk';

export interface Unsaved {
  readonly file: NoteFile;
  readonly note: string;
  /** Lets go of the hold on the note. */
  readonly release: () => Promise<void>;
}

const keyOf = (note: string): string => `unsaved-${note}`;

/** Something would be lost with this tab. */
export const wouldBeLost = (): Thunk<boolean> => (_, getState, { unsaved, sound, earlierSound, other }) => {
  const { recording, note } = getState();
  return recording.state !== 'idle' || note.save === 'failed' || other?.getState().note.save === 'failed' || unsaved.size > 0 || [sound, ...earlierSound].some((s) => s !== null && s.unstored().length > 0);
};

/** The file of a note that could not be closed goes on trying. */
export const keepUnsaved =
  ({ file, release, note }: Unsaved): Thunk =>
  (dispatch, _, alive) => {
    const { id, title } = file.current.header;
    alive.unsaved.set(id, { file, release, note });
    dispatch(messagesSlice.actions.dismissed(STORING));
    dispatch(say(keyOf(id), 'problem', `“${title}” is not stored yet. What is missing is kept in this tab and tried again every few seconds: leave the tab open, and free some room if there is none. To be safe, save a copy now.`, 'save-copy', id));
    file.onState = (state) => {
      if (state === 'saved') void dispatch(stored(id));
    };
  };

/** It is on disk, or all but the last of it: then it is tried once more. */
const stored =
  (id: string): Thunk<Promise<void>> =>
  async (dispatch, _, alive) => {
    const kept = alive.unsaved.get(id);
    if (!kept) return;
    kept.file.onState = () => undefined;
    try {
      await kept.file.close();
    } catch {
      if (alive.unsaved.get(id) === kept) dispatch(keepUnsaved(kept));
      return;
    }
    // It may have been opened meanwhile, which takes the file along.
    if (alive.unsaved.get(id) !== kept) return;
    alive.unsaved.delete(id);
    void kept.release();
    dispatch(librarySlice.actions.upserted(summaryOf(kept.file.current.header)));
    dispatch(say(keyOf(id), 'info', `“${kept.file.current.header.title}” is stored.`));
  };

/** Gives the file of a note that is being opened again, with its hold; null when it was stored. */
export const unsavedAgain =
  (id: string): Thunk<Unsaved | null> =>
  (dispatch, _, alive) => {
    const kept = alive.unsaved.get(id) ?? null;
    alive.unsaved.delete(id);
    if (kept) dispatch(messagesSlice.actions.dismissed(keyOf(id)));
    return kept;
  };

/** A note that goes for good takes along what was not stored of it. */
export const dropUnsaved =
  (id: string): Thunk<Promise<void>> =>
  async (dispatch) => {
    const kept = dispatch(unsavedAgain(id));
    kept?.file.giveUp();
    // Only then can it be held to be deleted.
    await kept?.release();
  };

/** A file of sound that has something of a take that is not on disk; null when all of it is. */
export const soundInMemory = (take: string, { sound, earlierSound }: Pick<Alive, 'sound' | 'earlierSound'>) => [sound, ...earlierSound].find((s) => s?.take === take) ?? null;
