/** Backing up and restoring: the whole library or a folder, with progress and a way to stop. */
import { within } from '../core/library/folder';
import type { RestoreReport } from '../core/library/merge';
import { quoted } from '../core/quoted';
import { summaryOf } from '../core/note/schema';
import type { By } from '../core/note/version';
import { ArchiveError } from '../core/formats/archive';
import { BundleError } from '../core/formats/bundle';
import { notesWithin } from './filing';
import { DavError } from '../platform/dav';
import { chooseFile, saveFile } from '../platform/files';
import { packer, stopPacking } from '../platform/packing';
import { holdToChange, tell } from '../platform/tabs';
import { restoreArchive, writeArchive, type Enter, type Incomplete, type Here, type KeyOf, type Work } from '../storage/archive';
import { isQuotaError } from '../storage/databases';
import { readForeign } from '../storage/foreignFile';
import { readTemplates } from '../storage/templateFile';
import { keyOfArchive } from './archiveLock';
import { vault } from './lockState';
import { byOf } from './alive';
import { LIBRARY_LANE, runJob } from './jobs';
import { loadLibrary } from './library';
import { reasonOf, say } from './messages';
import { shutBeside } from './beside';
import { closeNote, flushNote } from './openNote';
import { backupSlice, librarySlice, settingsSlice, templatesSlice } from './slices';
import type { RootState } from './state';
import type { Thunk } from './thunk';

const { reported } = backupSlice.actions;

export const work =
  (kind: 'backup' | 'restore', task: (signal: AbortSignal, progress: (share: number, title: string) => void) => Promise<void>): Thunk<Promise<void>> =>
  async (dispatch, getState, alive) => {
    // Against a library that is not read yet every note of an archive would be new.
    if (getState().library.status !== 'ready') return dispatch(say('backup', 'info', 'Your notes are still being read. Try once more in a moment.'));
    if (getState().recording.state !== 'idle') return dispatch(say('backup', 'info', 'A recording is running. Stop it first, so that all of it is in the backup.'));
    await dispatch(
      runJob({
        kind,
        title: kind === 'backup' ? 'Backing up' : 'Restoring',
        lane: LIBRARY_LANE,
        async task({ signal, progress }) {
          signal.addEventListener('abort', stopPacking);
          await Promise.all([alive.file?.flush(true), alive.other?.dispatch(flushNote())]);
          // Another tab may have written: what has changed is told by what is on disk. Of the last strokes lists know some seconds late.
          if (kind === 'backup') await dispatch(loadLibrary());
          if (alive.file && !getState().note.following) dispatch(librarySlice.actions.upserted(summaryOf(alive.file.current.header)));
          await task(signal, progress);
        },
        said: {
          key: 'backup',
          stopped: kind === 'backup' ? 'The backup was stopped; no file was made.' : 'The restore was stopped. What was restored by then is here and whole; press Restore to go on.',
          failed(e) {
            if (e instanceof ArchiveError || e instanceof BundleError || e instanceof DavError) return e.message;
            if (isQuotaError(e)) return 'This browser has no room left. What was restored by then is here and whole. Free some room and press Restore once more.';
            return kind === 'backup' ? `The backup could not be made (${reasonOf(e)}). The notes themselves are unchanged.` : `The restore stopped (${reasonOf(e)}). What was restored by then is here and whole; try once more.`;
          },
        },
      }),
    );
  };

/** What a backup could not read, and of which notes. */
export const sayIncomplete =
  (left: readonly string[], incomplete: readonly Incomplete[]): Thunk =>
  (dispatch) => {
    if (left.length) dispatch(say('backup-left', 'problem', `Not in the backup, because their records are damaged: ${quoted(left)}. All other notes are.`));
    if (incomplete.length) dispatch(say('backup-incomplete', 'problem', `Parts of these notes are damaged and are in the backup only as they are: ${quoted(incomplete.map((i) => i.title))}. Open them to see what is missing.`));
  };

/** Everything, or a folder with all in it, as one file. */
export const backUp = (folder: string | null): Thunk<Promise<void>> => (dispatch, getState) =>
  dispatch(
    work('backup', async (signal, progress) => {
      const { headers, folders, places, covers } = getState().library;
      const inside = folder === null ? null : within(folders, folder);
      const notes = folder === null ? headers : notesWithin(getState().library, folder);
      const ids = new Set(notes.map((h) => h.id));
      const now = Date.now();
      const shutCovers = Object.values(covers).filter((c) => !headers.some((h) => h.id === c.id) && (!inside || (c.folder && inside.has(c.folder))));
      const { blob, left, incomplete } = await writeArchive({ notes, shut: shutCovers, folders: [...folders.values()].filter((f) => !inside || inside.has(f.id)), places: Object.values(places).filter((p) => ids.has(p.note)), covers, lock: vault.current, ...(inside ? { templates: [] } : { templates: await readTemplates(), foreign: await readForeign() }) }, now, { packer, signal, progress });
      const shut = shutCovers.length;
      const name = folder === null ? 'Scrivo' : `Scrivo ${(folders.get(folder)?.name ?? '').replace(/[^\p{L}\p{N} _-]+/gu, '').trim()}`;
      saveFile(`${name} ${new Date(now).toISOString().slice(0, 10)}.zip`, blob, 'application/zip');
      if (folder === null) dispatch(settingsSlice.actions.patched({ lastBackup: now }));
      dispatch(sayIncomplete(left, incomplete));
      dispatch(say('backup', 'info', `${notes.length - left.length} ${notes.length - left.length === 1 ? 'note was' : 'notes were'} handed to the browser as one file${shut ? `, and ${shut === 1 ? 'a locked note' : `${shut} locked notes`} sealed` : ''}. Keep it on another device.`));
    }),
  );

/** Asks for a file and merges it into the library. */
export const restore = (): Thunk<Promise<void>> => async (dispatch) => {
  const file = await chooseFile('.zip,.scrivo,application/zip');
  if (file) await dispatch(restoreFrom(file));
};

const restoreFrom = (file: Blob): Thunk<Promise<void>> => restoring((here, into, w, keyOf, by) => restoreArchive(file, here, into, w, by, keyOf));

/** The hold on a note that is restored, or why it may not be written now. */
async function enter(note: string, { lock, library }: RootState): ReturnType<Enter> {
  if (lock.status !== 'open' && note in library.covers) return 'it is here and locked; unlock it and restore once more';
  return (await holdToChange(note)) ?? 'it is open, here or in another tab; close it and restore once more';
}

/** A restore from wherever: nothing is open meanwhile, and what is stored by the end of it is shown. */
export const restoring =
  (task: (here: Here, enter: Enter, work: Work, keyOf: KeyOf, by: By) => Promise<RestoreReport>): Thunk<Promise<void>> =>
  (dispatch, getState, alive) =>
    dispatch(
      work('restore', async (signal, progress) => {
        try {
          await dispatch(shutBeside());
          await dispatch(closeNote());
          dispatch(reported(await task(getState().library, (note) => enter(note, getState()), { packer, signal, progress }, (lock) => dispatch(keyOfArchive(lock)), byOf(alive))));
        } finally {
          // Read anew when they are next shown.
          dispatch(templatesSlice.actions.forgotten());
          await dispatch(loadLibrary());
          tell({ kind: 'library' });
        }
      }),
    );
