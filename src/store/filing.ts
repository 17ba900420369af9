/** Putting notes in order: folders, tags, archive, bin, copies. Every step can be taken back by the message that tells of it. */
import { createSelector } from '@reduxjs/toolkit';
import { newId } from '../core/id';
import { canMoveInto, dueOn, foldersIn, isDue, unfiled, within, type Folder, type Place } from '../core/library/folder';
import { suggestFolder } from '../core/library/suggest';
import { copiedNote } from '../core/note/copy';
import { put } from '../core/note/edit';
import { tell } from '../platform/tabs';
import { isQuotaError } from '../storage/databases';
import { removeFolders, writeFolders, writePlaces } from '../storage/libraryFile';
import { readDue, writeDue } from '../storage/dueFile';
import { writeNewNote } from '../storage/noteFile';
import { readNote } from '../storage/noteReading';
import { summaryOf, type NoteSummary } from '../core/note/schema';
import { deleteNotes, isUnnamed } from './library';
import { change } from './change';
import { keepsReadable } from './forgetting';
import { reasonOf, say } from './messages';
import { librarySlice, messagesSlice } from './slices';
import type { RootState } from './state';
import { editStored, Refused } from './storedNotes';
import type { Thunk } from './thunk';

const { filed, foldersSet, upserted } = librarySlice.actions;

/** Notes that lie in a folder or in one within it, but those in the bin. */
export function notesWithin({ headers, folders, places }: RootState['library'], folder: string): NoteSummary[] {
  const inside = within(folders, folder);
  return headers.filter(({ id }) => {
    const place = places[id];
    return place?.folder && inside.has(place.folder) && !place.binned;
  });
}

export const placeOf = (state: Pick<RootState, 'library'>, note: string): Place => state.library.places[note] ?? unfiled(note);

/** Notes that are in use: neither archived nor in the bin. */
export const selectInUse = createSelector(
  (s: RootState) => s.library.headers,
  (s: RootState) => s.library.places,
  (headers, places) => headers.filter((h) => !places[h.id]?.archived && !places[h.id]?.binned),
);
/** Notes that are not in the bin: what waits in an archived note is still there, what waits in the bin is not. */
export const selectKept = createSelector(
  (s: RootState) => s.library.headers,
  (s: RootState) => s.library.places,
  (headers, places) => headers.filter((h) => !places[h.id]?.binned),
);

/** What takes the last step of filing back. */
let backAgain: Thunk<Promise<void>> | null = null;
/** The folder that was offered to a new note. */
let offered: { note: string; folder: string } | null = null;

keepsReadable('what could be taken back in the library', { forget: () => void (backAgain = offered = null) });

export const canUndoFiling = (): boolean => backAgain !== null;

export const undoFiling = (): Thunk<Promise<void>> => async (dispatch) => {
  const back = backAgain;
  backAgain = null;
  dispatch(messagesSlice.actions.dismissed('filing'));
  try {
    if (back) await dispatch(back);
  } catch (e) {
    backAgain = back;
    dispatch(say('filing', 'problem', `This could not be taken back (${reasonOf(e)}). Try again.`, 'undo-filing'));
  }
};

const failed = (what: string, e: unknown): Thunk => say('filing', 'problem', `${what} (${reasonOf(e)}). Nothing was changed; try again.`);

/** Brings places as they are given to disk and to the screen. */
const putPlaces =
  (places: readonly Place[]): Thunk<Promise<void>> =>
  async (dispatch) => {
    await writePlaces(places);
    dispatch(filed(places));
    tell({ kind: 'library' });
  };

export type Filing = Partial<Pick<Place, 'folder' | 'tags' | 'archived' | 'binned'>>;

/** Files notes anew. `told`: the sentence that says so and carries the way back. `unstored`: what is said where there is no room to store it, and it holds for this tab alone. */
export const file =
  (notes: readonly string[], change: (place: Place) => Filing, told: string, unstored?: string): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const before = notes.map((id) => placeOf(getState(), id));
    const changed = Date.now();
    const after = before.map((p) => ({ ...p, ...change(p), changed }));
    try {
      await dispatch(putPlaces(after));
      backAgain = putPlaces(before);
      dispatch(say('filing', 'info', told, 'undo-filing'));
    } catch (e) {
      if (!unstored || !isQuotaError(e)) return dispatch(failed('This could not be filed', e));
      dispatch(filed(after));
      dispatch(say('filing', 'problem', unstored));
    }
  };

const notesOf = (notes: readonly string[], { library }: RootState): string => {
  const first = library.headers.find((h) => h.id === notes[0]);
  return notes.length === 1 && first ? `“${first.title}”` : `${notes.length} notes`;
};
const areWere = (n: number): string => (n === 1 ? 'is' : 'are');

export const moveNotes =
  (notes: readonly string[], folder: string | null): Thunk<Promise<void>> =>
  (dispatch, getState) => {
    const name = folder === null ? null : getState().library.folders.get(folder)?.name;
    return dispatch(file(notes, () => ({ folder }), name ? `${notesOf(notes, getState())} ${areWere(notes.length)} in “${name}” now.` : `${notesOf(notes, getState())} ${areWere(notes.length)} outside of any folder now.`));
  };

export const archiveNotes =
  (notes: readonly string[], archive: boolean): Thunk<Promise<void>> =>
  (dispatch, getState) =>
    dispatch(file(notes, () => ({ archived: archive ? Date.now() : null }), `${notesOf(notes, getState())} ${areWere(notes.length)} ${archive ? 'in the archive' : 'out of the archive'} now.`));

export const binNotes =
  (notes: readonly string[]): Thunk<Promise<void>> =>
  (dispatch, getState) => {
    const { recording } = getState();
    const running = recording.state !== 'idle' ? recording.note : null;
    const rest = notes.filter((id) => id !== running);
    if (rest.length < notes.length) dispatch(say('delete', 'problem', `${notesOf([running!], getState())} is being recorded. Stop the recording first, then delete it.`));
    if (!rest.length) return Promise.resolve();
    return dispatch(file(rest, () => ({ binned: Date.now() }), `${notesOf(rest, getState())} ${areWere(rest.length)} in the bin and will be kept there for 30 days.`, `${notesOf(rest, getState())} ${areWere(rest.length)} in the bin for as long as this tab is open: there is no room left to store that. Empty the bin now to make room.`));
  };

/** Another title for a note, open or not. */
export const renameNote =
  (id: string, title: string): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const before = getState().library.headers.find((h) => h.id === id)?.title ?? '';
    const value = title.trim().slice(0, 200);
    if (!value || value === before) return;
    const row = (to: string) => ({ rows: [put('note', 'title', { value: to })] });
    if (getState().note.id === id && getState().note.note) return void dispatch(change(row(value)));
    try {
      await dispatch(editStored(id, () => row(value)));
      backAgain = renameNote(id, before);
      dispatch(say('filing', 'info', `“${before}” is called “${value}” now.`, 'undo-filing'));
    } catch (e) {
      dispatch(say('filing', 'problem', e instanceof Refused ? `“${before}” cannot be renamed now: ${e.message}.` : `The note could not be renamed (${reasonOf(e)}). Nothing was changed; try again.`));
    }
  };

export const putBack =
  (notes: readonly string[]): Thunk<Promise<void>> =>
  (dispatch, getState) =>
    dispatch(file(notes, () => ({ binned: null }), `${notesOf(notes, getState())} ${areWere(notes.length)} out of the bin.`));

/** Adds tags to some notes, and takes others away. */
export const tagNotes =
  (notes: readonly string[], add: readonly string[], drop: readonly string[]): Thunk<Promise<void>> =>
  (dispatch, getState) =>
    dispatch(file(notes, ({ tags }) => ({ tags: [...new Set([...tags.filter((t) => !drop.includes(t)), ...add])].slice(0, 40) }), `The tags of ${notesOf(notes, getState())} were changed.`));

/** What has lain in the bin for its time goes for good, on the third day of use that finds it so; and everything in it when `all` is asked for. */
export const emptyBin =
  (all: boolean): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const { headers, places } = getState().library;
    const now = Date.now();
    const due = headers.filter((h) => places[h.id] && (all ? places[h.id].binned !== null : isDue(places[h.id], now))).map((h) => h.id);
    if (all) return dispatch(deleteNotes(due));
    const before = await readDue().catch(() => ({}));
    const { seen, gone } = dueOn(new Date(now).toLocaleDateString('sv'), due, before);
    // Without room to count on nothing goes today.
    if (due.length || Object.keys(before).length) await writeDue(seen).catch(() => undefined);
    if (gone.length) await dispatch(deleteNotes(gone));
  };

export const duplicateNotes =
  (notes: readonly string[]): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const made: string[] = [];
    try {
      for (const id of notes) {
        const header = getState().library.headers.find((h) => h.id === id);
        if (!header || header.takes.some((t) => t.state === 'recording')) continue;
        const { note } = getState().note.id === id && getState().note.note ? { note: getState().note.note! } : await readNote(id);
        const copy = copiedNote(note, `${header.title} (copy)`.slice(0, 500), Date.now(), newId);
        const { folder, tags } = placeOf(getState(), id);
        await writeNewNote(copy, id);
        await dispatch(putPlaces([{ ...unfiled(copy.header.id), folder, tags, changed: Date.now() }]));
        dispatch(upserted(summaryOf(copy.header)));
        made.push(copy.header.id);
      }
      backAgain = deleteNotes(made);
      if (made.length) dispatch(say('filing', 'info', `${made.length === 1 ? 'A copy was' : `${made.length} copies were`} made.`, 'undo-filing'));
    } catch (e) {
      dispatch(say('filing', 'problem', `A copy could not be made (${reasonOf(e)}). The notes themselves are unchanged.`));
    }
  };

export const putFolder =
  (given: Pick<Folder, 'name' | 'parent' | 'color' | 'emblem'>, id?: string): Thunk<Promise<string | null>> =>
  async (dispatch, getState) => {
    const now = Date.now();
    const before = id ? getState().library.folders.get(id) : undefined;
    if (before && !canMoveInto(getState().library.folders, before.id, given.parent)) {
      dispatch(say('filing', 'problem', `“${before.name}” cannot be put into itself.`));
      return null;
    }
    const folder: Folder = { v: 1, id: id ?? newId(), made: before?.made ?? now, ...given, name: given.name.trim().slice(0, 80), changed: now };
    try {
      await writeFolders([folder]);
      dispatch(foldersSet({ put: [folder] }));
      tell({ kind: 'library' });
      return folder.id;
    } catch (e) {
      dispatch(failed('The folder could not be stored', e));
      return null;
    }
  };

/** A folder goes; what lay in it moves up to where the folder was. */
export const removeFolder =
  (id: string): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const { folders, places } = getState().library;
    const folder = folders.get(id);
    if (!folder) return;
    const changed = Date.now();
    const inner = foldersIn(folders, id);
    const lay = Object.values(places).filter((p) => p.folder === id);
    try {
      const [movedFolders, movedPlaces] = [inner.map((f) => ({ ...f, parent: folder.parent, changed })), lay.map((p) => ({ ...p, folder: folder.parent, changed }))];
      await removeFolders([id], movedFolders, movedPlaces);
      dispatch(foldersSet({ put: movedFolders, cut: [id] }));
      dispatch(filed(movedPlaces));
      tell({ kind: 'library' });
      backAgain = async (then) => {
        await writeFolders([folder, ...inner]);
        then(foldersSet({ put: [folder, ...inner] }));
        await then(putPlaces(lay));
      };
      dispatch(say('filing', 'info', `The folder “${folder.name}” is gone; what lay in it moved up.`, 'undo-filing'));
    } catch (e) {
      dispatch(failed('The folder could not be removed', e));
    }
  };

/** The folder that a note made now probably belongs to. */
function folderFor(state: RootState, now: number): Folder | null {
  const { headers, places, folders } = state.library;
  const filedNotes = headers.map((h) => ({ made: h.made, folder: places[h.id]?.binned ? null : (places[h.id]?.folder ?? null) }));
  const id = suggestFolder(filedNotes, now, (wall) => new Date(wall).getTimezoneOffset());
  return id === null ? null : (folders.get(id) ?? null);
}

/** Offers a new note the folder it probably belongs to: at once, or when its recording has ended. Nobody need answer. */
export const offerFolder =
  (note: string): Thunk =>
  (dispatch, getState) => {
    const folder = folderFor(getState(), Date.now());
    if (!folder) return;
    offered = { note, folder: folder.id };
    if (getState().recording.state === 'idle') dispatch(askOffered());
  };

/** Asks about the folder that was offered; while a note is being recorded the question waits. */
export const askOffered = (): Thunk => (dispatch, getState) => {
  const folder = offered && offered.note === getState().note.id ? getState().library.folders.get(offered.folder) : undefined;
  if (folder) dispatch(say('folder', 'info', `Does this note belong in “${folder.name}”?`, 'put-there'));
};

export const acceptOffer = (): Thunk<Promise<void>> => async (dispatch, getState) => {
  dispatch(messagesSlice.actions.dismissed('folder'));
  const accepted = offered;
  offered = null;
  if (!accepted) return;
  const { library } = getState();
  const title = library.headers.find((h) => h.id === accepted.note)?.title ?? '';
  const subject = library.folders.get(accepted.folder)?.name;
  await dispatch(moveNotes([accepted.note], accepted.folder));
  if (subject && isUnnamed(title)) await dispatch(renameNote(accepted.note, `${subject}, ${title}`));
};
