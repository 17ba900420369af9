/** The library: reading it, and notes that are made and deleted. */
import { newId } from '../core/id';
import { unfiled } from '../core/library/folder';
import { noteOf } from '../core/note/edit';
import { newPage, summaryOf, type NoteSummary } from '../core/note/schema';
import { finishedTakes } from '../core/note/takes';
import { heldNotes, holdIfFree, holdToChange, tell } from '../platform/tabs';
import { deleteNotes as deleteFromDisk, readLibrary, readToday, writePlaces } from '../storage/libraryFile';
import { writeNewNote } from '../storage/noteFile';
import { deviceName } from '../storage/deviceFile';
import { readSettings } from '../storage/settingsFile';
import { remainsOf } from '../storage/soundFile';
import { LIBRARY_LANE, runJob } from './jobs';
import { isShut, loadLock } from './lockState';
import { reasonOf, say, storing } from './messages';
import { endOldLeases } from '../storage/leaseFile';
import { forget } from './forgetting';
import { recovered } from './openNote';
import { librarySlice, settingsSlice } from './slices';
import { editStored } from './storedNotes';
import { paperFor } from './newPaper';
import type { Thunk } from './thunk';
import { dropUnsaved } from './unsaved';

/** Reads the library. Of several that are under way the one that began last counts, and the others end with it: they may have read what is no longer so, or is locked by now. */
export const loadLibrary =
  (): Thunk<Promise<void>> =>
  (dispatch, _, alive) => {
    const reading: Promise<void> = dispatch(readIn(() => alive.libraryReading === reading)).then((counts) => (counts ? undefined : alive.libraryReading!));
    alive.libraryReading = reading;
    return reading;
  };

/** What is set while settings are read is newer than what was read. */
const changedSince = <T extends object>(were: T, now: T, read: T): T => ({ ...read, ...Object.fromEntries(Object.entries(now).filter(([key, value]) => were[key as keyof T] !== value)) });

const readIn =
  (counts: () => boolean): Thunk<Promise<boolean>> =>
  async (dispatch, getState, alive) => {
    try {
      await dispatch(loadLock());
      if (isShut(getState())) return counts();
      const were = getState().settings;
      const [settings, today, device] = await Promise.all([readSettings(), getState().library.status === 'loading' ? readToday() : null, alive.device || deviceName()]);
      alive.device = device;
      dispatch(settingsSlice.actions.loaded(changedSince(were, getState().settings, settings)));
      if (today) dispatch(librarySlice.actions.peeked(today));
      const since = getState().library.changes;
      const { headers, folders, places, covers, problems } = await readLibrary(holdIfFree);
      // What a clipboard of another day held.
      await endOldLeases(Date.now()).catch(() => undefined);
      if (!counts()) return false;
      for (const text of problems) dispatch(say('library', 'problem', text));
      const busy = await heldNotes();
      const whole: NoteSummary[] = [];
      for (const header of headers) {
        const broken = header.takes.some((t) => t.state === 'recording') && !busy.has(header.id) && getState().note.id !== header.id;
        whole.push(broken ? await dispatch(mended(header)) : header);
      }
      if (!counts()) return false;
      dispatch(librarySlice.actions.loaded({ since, headers: whole, folders, places, covers }));
    } catch (e) {
      if (!counts()) return false;
      dispatch(librarySlice.actions.failed());
      dispatch(say('library', 'problem', `The notes on this device could not be read (${reasonOf(e)}). Close other tabs of Scrivo and load this page again; nothing was changed.`));
    }
    return true;
  };

/** Ends takes that were left running. */
const mended =
  (header: NoteSummary): Thunk<Promise<NoteSummary>> =>
  async (dispatch) => {
    try {
      const after = summaryOf((await dispatch(editStored(header.id, (note) => finishedTakes(note, remainsOf), true))).note.header);
      dispatch(recovered(header, after));
      return after;
    } catch {
      // Another tab has it, or it cannot be read: whoever opens it is told.
      return header;
    }
  };

/** What a note is called that nobody has named: its subject, where it is known, and its time before all else, so that lists tell such notes apart. */
const unnamed = (subject: string | null, now: number): string => {
  const time = new Date(now).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
  const day = new Date(now).toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric', month: 'short' });
  return `${subject === null ? '' : `${subject}, `}${time}, ${day}`;
};
/** Nobody has named it yet, and its subject was not known. */
export const isUnnamed = (title: string): boolean => /^\d\d:\d\d, /.test(title);
/** Nobody has, whether its subject was known or not. */
export const isByTime = (title: string): boolean => /(^|, )\d\d:\d\d, \p{L}+,? \d{1,2} \p{L}+$/u.test(title);

/** Notes begin with the paper chosen last for their kind; a spoken memo says in its title what it is. `folder`: where it is to lie. */
export type NoteKind = 'recorded' | 'written' | 'sound';

export const createNote =
  (kind: NoteKind, folder: string | null = null): Thunk<Promise<string | null>> =>
  async (dispatch, getState) => {
    const now = Date.now();
    const title = unnamed(kind === 'sound' ? 'Memo' : folder === null ? null : (getState().library.folders.get(folder)?.name ?? null), now);
    const note = noteOf({ v: 2, id: newId(), title, made: now, changed: now, pages: [newPage(newId(), paperFor(getState(), kind === 'written' ? 'written' : 'recorded'))], takes: [], timeline: [] });
    try {
      await writeNewNote(note);
      if (folder !== null) {
        const place = { ...unfiled(note.header.id), folder, changed: now };
        await writePlaces([place]);
        dispatch(librarySlice.actions.filed([place]));
      }
    } catch (e) {
      dispatch(storing('ink', e));
      return null;
    }
    dispatch(librarySlice.actions.upserted(summaryOf(note.header)));
    tell({ kind: 'library' });
    return note.header.id;
  };

/** More notes than this go as a job, which can be stopped between steps. A step looks once at what all other notes need, so it is no small one. */
const FEW = 20;
const STEP = 400;
const STEPS = 4;

/** Deletes notes for good, but those that somebody has open or records, which is told. */
export const deleteNotes =
  (ids: readonly string[]): Thunk<Promise<void>> =>
  async (dispatch) => {
    if (ids.length <= FEW) return void (await dispatch(deleteSome(ids)));
    const step = Math.max(STEP, Math.ceil(ids.length / STEPS));
    await dispatch(
      runJob({
        kind: 'delete',
        title: `Deleting ${ids.length} notes`,
        lane: LIBRARY_LANE,
        async task({ signal, progress }) {
          for (let i = 0; i < ids.length; i += step) {
            signal.throwIfAborted();
            progress(i / ids.length);
            if (!(await dispatch(deleteSome(ids.slice(i, i + step))))) return;
          }
        },
        said: {
          key: 'delete',
          stopped: 'Deleting was stopped. What is still listed is whole.',
          failed: (e) => `The notes could not be deleted (${reasonOf(e)}). What is still listed is whole; try again.`,
        },
      }),
    );
  };

/** @returns false when storing failed, which is told. */
const deleteSome =
  (ids: readonly string[]): Thunk<Promise<boolean>> =>
  async (dispatch, getState, alive) => {
    const held: { header: NoteSummary; release(): void }[] = [];
    const headers = new Map(getState().library.headers.map((h) => [h.id, h]));
    const mine: NoteSummary[] = [];
    try {
      for (const id of ids) {
        const header = headers.get(id);
        if (!header) continue;
        if (getState().recording.state !== 'idle' && getState().recording.note === id) {
          dispatch(say('delete', 'problem', `“${header.title}” is being recorded. Stop the recording first, then delete it.`));
          continue;
        }
        // Open on either side of the screen, or just being left.
        await alive.holders.get(id)?.();
        await dispatch(dropUnsaved(id));
        mine.push(header);
      }
      // All at once: the browser answers each in its own time.
      const holds = await Promise.all(mine.map((h) => holdToChange(h.id)));
      holds.forEach((hold, i) => {
        const header = mine[i];
        if (hold) held.push({ header, release: () => hold.release() });
        else dispatch(say('delete', 'problem', `“${header.title}” is open in another tab. Close it there first, then delete it.`));
      });
      if (held.length) await deleteFromDisk(held.map((h) => h.header));
      dispatch(librarySlice.actions.removed(held.map((h) => h.header.id)));
      dispatch(forget({ notes: new Set(held.map((h) => h.header.id)), takes: held.flatMap((h) => h.header.takes.map((t) => t.id)) }));
      return true;
    } catch (e) {
      const what = held.length === 1 ? `“${held[0].header.title}”` : 'The notes';
      dispatch(say('delete', 'problem', `${what} could not be deleted (${reasonOf(e)}). Try again.`));
      return false;
    } finally {
      for (const h of held) h.release();
      tell({ kind: 'library' });
    }
  };
