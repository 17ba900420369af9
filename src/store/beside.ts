/** What stands beside the note that is being written: another note, to be read. It is looked at as it is on disk, and never changed. */
import type { Note } from '../core/note/edit';
import { NoteFile } from '../storage/noteFile';
import { besideSlice } from './slices';
import type { Thunk } from './thunk';

/** The border between the two, as a share of the room: so much at least for either. */
export const LEAST_SHARE = 0.25;

export const putBeside =
  (note: string): Thunk =>
  (dispatch) =>
    void dispatch(besideSlice.actions.set({ note }));

export const closeBeside = (): Thunk => (dispatch) => void dispatch(besideSlice.actions.set({ note: null }));

export const moveBorder =
  (share: number): Thunk =>
  (dispatch) =>
    void dispatch(besideSlice.actions.set({ share: Math.min(1 - LEAST_SHARE, Math.max(LEAST_SHARE, share)) }));

/** @throws LockedError, RecordError and what storage throws */
export const readBeside = async (note: string): Promise<Note> => (await NoteFile.open(note)).note;
