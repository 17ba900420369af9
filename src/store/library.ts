/** The library: reading it, and notes that are made and deleted. */
import { newId } from '../core/id';
import { noteOf } from '../core/note/edit';
import { newPage, summaryOf, type NoteSummary } from '../core/note/schema';
import { finishedTakes } from '../core/note/takes';
import { heldNotes, holdNote, tell } from '../platform/tabs';
import { deleteNote as deleteFromDisk, readLibrary, readToday } from '../storage/libraryFile';
import { writeNewNote } from '../storage/noteFile';
import { deviceName } from '../storage/deviceFile';
import { readSettings } from '../storage/settingsFile';
import { storedLength } from '../storage/soundFile';
import { isShut, loadLock } from './lockState';
import { reasonOf, say, storing } from './messages';
import { closeNote, recovered } from './openNote';
import { librarySlice, settingsSlice } from './slices';
import { editStored } from './storedNotes';
import type { Thunk } from './thunk';
import { dropUnsaved } from './unsaved';

export const loadLibrary =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState, alive) => {
    try {
      await dispatch(loadLock());
      if (isShut(getState())) return;
      const [settings, today, device] = await Promise.all([readSettings(), getState().library.status === 'loading' ? readToday() : null, alive.device || deviceName()]);
      alive.device = device;
      dispatch(settingsSlice.actions.loaded(settings));
      if (today) dispatch(librarySlice.actions.peeked(today));
      const { headers, folders, places, covers, problems } = await readLibrary(holdNote);
      for (const text of problems) dispatch(say('library', 'problem', text));
      const busy = await heldNotes();
      const whole: NoteSummary[] = [];
      for (const header of headers) {
        const broken = header.takes.some((t) => t.state === 'recording') && !busy.has(header.id) && getState().note.id !== header.id;
        whole.push(broken ? await dispatch(mended(header)) : header);
      }
      dispatch(librarySlice.actions.loaded({ headers: whole, folders, places, covers }));
    } catch (e) {
      dispatch(librarySlice.actions.failed());
      dispatch(say('library', 'problem', `The notes on this device could not be read (${reasonOf(e)}). Close other tabs of Scrivo and load this page again; nothing was changed.`));
    }
  };

/** Ends takes that were left running. */
const mended =
  (header: NoteSummary): Thunk<Promise<NoteSummary>> =>
  async (dispatch) => {
    try {
      const after = summaryOf((await dispatch(editStored(header.id, (note) => finishedTakes(note, storedLength), true))).header);
      dispatch(recovered(header, after));
      return after;
    } catch {
      // Another tab has it, or it cannot be read: whoever opens it is told.
      return header;
    }
  };

/** Notes begin with the paper chosen last for their kind; a spoken memo says in its title what it is. */
export type NoteKind = 'recorded' | 'written' | 'sound';

export const createNote =
  (kind: NoteKind): Thunk<Promise<string | null>> =>
  async (dispatch, getState) => {
    const now = Date.now();
    const { papers } = getState().settings;
    const when = new Date(now).toLocaleString('en-GB', { weekday: 'short', day: 'numeric', month: 'long', year: 'numeric', hour: '2-digit', minute: '2-digit' });
    const title = kind === 'sound' ? `Memo, ${when}` : when;
    const note = noteOf({ v: 2, id: newId(), title, made: now, changed: now, pages: [newPage(newId(), papers[kind === 'written' ? 'written' : 'recorded'])], takes: [], timeline: [] });
    try {
      await writeNewNote(note);
    } catch (e) {
      dispatch(storing('ink', e));
      return null;
    }
    dispatch(librarySlice.actions.upserted(summaryOf(note.header)));
    tell({ kind: 'library' });
    return note.header.id;
  };

export const deleteNotes =
  (ids: readonly string[]): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    for (const id of ids) {
      const header = getState().library.headers.find((h) => h.id === id);
      if (!header) continue;
      if (getState().recording.state !== 'idle' && getState().recording.note === id) {
        dispatch(say('delete', 'problem', `“${header.title}” is being recorded. Stop the recording first, then delete it.`));
        continue;
      }
      if (getState().note.id === id) await dispatch(closeNote());
      dispatch(dropUnsaved(id));
      const held = await holdNote(id);
      if (!held) {
        dispatch(say('delete', 'problem', `“${header.title}” is open in another tab. Close it there first, then delete it.`));
        continue;
      }
      try {
        await deleteFromDisk(header);
        dispatch(librarySlice.actions.removed([id]));
      } catch (e) {
        dispatch(say('delete', 'problem', `“${header.title}” could not be deleted (${reasonOf(e)}). Try again.`));
      } finally {
        held.release();
      }
    }
    tell({ kind: 'library' });
  };
