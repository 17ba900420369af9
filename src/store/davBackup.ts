/** Backups on a WebDAV server: only what changed goes there, every backup stays in the history, and any of them can be restored. */
import { ArchiveError, HISTORY, historyName, objectName, readIndex, writeIndex, type ArchiveEntry, type ArchiveIndex } from '../core/formats/archive';
import { RecordError } from '../core/note/records';
import { DavError, DavFolder } from '../platform/dav';
import { bundleOf, restoreFromSource, sha256 } from '../storage/archive';
import { restoring, work } from './backup';
import { say, type Thunk } from './session';
import { settingsSlice } from './slices';
import type { store as Store } from './store';

/** A backup by itself is made once a day, ms. */
const EVERY_MS = 86_400_000;
/** After the start the application has better things to do for a while, ms. */
const WAIT_MS = 20_000;

const read = async (folder: DavFolder, name: string): Promise<ArchiveIndex> => readIndex(new TextDecoder().decode(await folder.read(`${HISTORY}/${name}`)));

/** The last index that can be read: what it lists need not be sent again. */
async function lastIndex(folder: DavFolder, names: readonly string[]): Promise<ArchiveIndex | null> {
  for (const name of [...names].reverse()) {
    try {
      return await read(folder, name);
    } catch (e) {
      if (!(e instanceof ArchiveError)) throw e;
    }
  }
  return null;
}

export const backUpToDav = (): Thunk<Promise<void>> => (dispatch, getState) =>
  dispatch(
    work('backup', async (signal, progress) => {
      const { headers, folders, places } = getState().library;
      const server = new DavFolder(getState().settings.dav);
      await server.make(['objects', HISTORY]);
      const [names, objects] = [await server.list(HISTORY), new Set(await server.list('objects'))];
      const before = new Map((await lastIndex(server, names))?.notes.map((n) => [n.id, n]));
      const entries: ArchiveEntry[] = [];
      const left: string[] = [];
      let sent = 0;
      for (const [i, { id, title, changed }] of headers.entries()) {
        signal.throwIfAborted();
        progress(i / headers.length, title);
        const known = before.get(id);
        if (known?.changed === changed && objects.has(objectName(known.sha256).slice('objects/'.length))) {
          entries.push(known);
          continue;
        }
        try {
          const bytes = await bundleOf(id);
          const sum = await sha256(bytes);
          await server.write(objectName(sum), bytes);
          entries.push({ id, title, changed, bytes: bytes.length, sha256: sum });
          sent++;
        } catch (e) {
          if (!(e instanceof RecordError)) throw e;
          left.push(title);
        }
      }
      // The index comes last: a backup that was broken off is none, and costs nothing of the ones before.
      const made = Date.now();
      await server.write(`${HISTORY}/${historyName(made)}`, new TextEncoder().encode(writeIndex({ made, folders: [...folders.values()], places: Object.values(places), notes: entries })));
      dispatch(settingsSlice.actions.patched({ lastBackup: made, dav: { ...getState().settings.dav, last: made } }));
      if (left.length) dispatch(say('backup-left', 'problem', `Not in the backup, because their records are damaged: ${left.join(', ')}. All others are.`));
      dispatch(say('backup', 'info', `The backup on the server is up to date: ${sent} of ${entries.length} notes had changed and were sent.`));
    }),
  );

/** Names of the backups on the server, the newest first; null when they could not be had, which is told. */
export const davHistory =
  (): Thunk<Promise<string[] | null>> =>
  async (dispatch, getState) => {
    try {
      return (await new DavFolder(getState().settings.dav).list(HISTORY)).reverse();
    } catch (e) {
      dispatch(say('backup', 'problem', e instanceof DavError ? e.message : `The backups on the server could not be listed (${String(e)}).`));
      return null;
    }
  };

/** Merges a backup of the server's history into the library. */
export const restoreFromDav = (name: string): Thunk<Promise<void>> => (dispatch, getState) =>
  dispatch(
    restoring(async (here, refuse, workOf) => {
      const server = new DavFolder(getState().settings.dav);
      const index = await read(server, name);
      const content = (entry: ArchiveEntry) =>
        server.read(objectName(entry.sha256)).catch((e: unknown) => {
          throw e instanceof DavError ? new ArchiveError('it is missing on the server or could not be read') : e;
        });
      return restoreFromSource({ index, content }, here, refuse, workOf);
    }),
  );

/** Makes a backup once a day by itself, where that was asked for; gives the way to end it. */
export function watchDav(store: typeof Store): () => void {
  const look = () => {
    const { settings, library, recording, backup } = store.getState();
    const { url, auto, last } = settings.dav;
    if (!url || !auto || library.status !== 'ready' || recording.state !== 'idle' || backup.progress) return;
    if (Date.now() - (last ?? 0) >= EVERY_MS) void store.dispatch(backUpToDav());
  };
  const timer = setInterval(look, 15 * 60_000);
  const first = setTimeout(look, WAIT_MS);
  return () => {
    clearInterval(timer);
    clearTimeout(first);
  };
}
