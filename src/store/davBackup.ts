/** Backups on a WebDAV server: only what changed goes there, every backup stays in the history, and any of them can be restored. */
import { ArchiveError, HISTORY, historyName, objectName, readIndex, writeIndex, type ArchiveEntry, type ArchiveIndex } from '../core/formats/archive';
import { RecordError } from '../core/record';
import { DavError, DavFolder } from '../platform/dav';
import { packer } from '../platform/packing';
import { beginWork, isUnderWay } from '../platform/tabs';
import { filing, leavesSealed, packed, packedShut, packedTemplate, restoreFromSource, type Incomplete } from '../storage/archive';
import { readTemplates } from '../storage/templateFile';
import { restoring, sayIncomplete, work } from './backup';
import { vault } from './lockState';
import { isBusy } from './jobs';
import { say } from './messages';
import { settingsSlice } from './slices';
import type { store as Store } from './store';
import type { Thunk } from './thunk';

/** A backup by itself is made once a day, ms. */
const EVERY_MS = 86_400_000;
/** After the start the application has better things to do for a while, ms. */
const WAIT_MS = 20_000;
const TO_SERVER = 'backup to the server';
/** A page that is still there so long after a backup failed is not being left, ms. */
const STAYS_MS = 1000;

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

/** After so many notes that were sent it is written down on the server which they are. */
const NOTED_EVERY = 5;
const PENDING = 'pending.json';

/** What a backup that was broken off had sent; null when none was. */
async function readPending(server: DavFolder): Promise<ArchiveIndex | null> {
  try {
    return readIndex(new TextDecoder().decode(await server.read(PENDING)));
  } catch (e) {
    // There is none, or it cannot be read: then it is sent again.
    if (!(e instanceof ArchiveError || e instanceof DavError)) throw e;
    return null;
  }
}

const notePending = (server: DavFolder, notes: readonly ArchiveEntry[], lock: ArchiveIndex['lock'] | null): Promise<void> =>
  server.write(PENDING, new TextEncoder().encode(writeIndex({ made: Date.now(), folders: [], places: [], notes: [...notes], ...(lock ? { lock: { id: lock.id, derive: lock.derive, wrapped: lock.wrapped, hint: lock.hint } } : {}) })));

/** A backup is under way since then; null when none is. The next visit tells of one that was broken off by leaving the page. */
const begunAt =
  (begun: number | null): Thunk =>
  (dispatch, getState) =>
    void dispatch(settingsSlice.actions.patched({ dav: { ...getState().settings.dav, begun } }));

export const backUpToDav = (): Thunk<Promise<void>> => async (dispatch, getState) => {
  // Two at once do no harm: each names by its content what it sends. Where locks fail, only the word to other tabs is missing.
  const saysSo = beginWork(TO_SERVER).catch(() => null);
  await dispatch(
    work('backup', async (signal, progress) => {
      const { headers, folders, places, covers } = getState().library;
      const lock = vault.current;
      const server = new DavFolder(getState().settings.dav);
      await server.make(['objects', HISTORY]);
      const [names, objects] = [await server.list(HISTORY), new Set(await server.list('objects'))];
      const last = await lastIndex(server, names);
      // What a backup had sent that was broken off need not be sent again.
      const broken = await readPending(server);
      const before = new Map([...(last?.notes ?? []), ...(broken?.lock?.id === last?.lock?.id || !last ? (broken?.notes ?? []) : [])].map((n) => [n.id, n]));
      dispatch(begunAt(Date.now()));
      const isThere = (n: ArchiveEntry): boolean => objects.has(objectName(n.sha256).slice('objects/'.length));
      /** Sent before as it would be sent now: in the open, or sealed by the same lock. */
      const stands = (n: ArchiveEntry): boolean => isThere(n) && (leavesSealed(n.id) ? n.sealed === true && last?.lock?.id === lock?.id : !n.sealed);
      const entries: ArchiveEntry[] = [];
      const left: string[] = [];
      const incomplete: Incomplete[] = [];
      let sent = 0;
      for (const [i, header] of headers.entries()) {
        const { id, title, state } = header;
        signal.throwIfAborted();
        progress(i / headers.length, title);
        const known = before.get(id);
        if (known?.state && known.state === state && stands(known)) {
          entries.push(known);
          continue;
        }
        try {
          const { entry, content, problems } = await packed(header, covers, packer);
          if (problems.length) incomplete.push({ title, problems });
          await server.write(objectName(entry.sha256), content);
          entries.push(entry);
          sent++;
          if (sent % NOTED_EVERY === 0) await notePending(server, entries, lock);
        } catch (e) {
          if (!(e instanceof RecordError)) throw e;
          left.push(title);
        }
      }
      const templates: ArchiveEntry[] = [];
      const sentBefore = new Map(last?.templates?.map((t) => [t.id, t]));
      // A template never changes: what was sent once stands, as long as it is as open or as sealed as now.
      for (const template of await readTemplates()) {
        const known = sentBefore.get(template.id);
        if (known && stands(known)) {
          templates.push(known);
          continue;
        }
        const { entry, content } = await packedTemplate(template, packer);
        await server.write(objectName(entry.sha256), content);
        templates.push(entry);
      }
      // What is locked now cannot have changed since it was: where the last backup has it so, that stands for it in this one too.
      const shut = Object.values(covers).filter((c) => !headers.some((h) => h.id === c.id));
      const carried = shut.flatMap((c) => {
        const known = before.get(c.id);
        return known?.changed === c.changed && isThere(known) ? [known] : [];
      });
      for (const cover of shut) {
        if (carried.some((n) => n.id === cover.id)) continue;
        const { entry, content } = await packedShut(cover);
        await server.write(objectName(entry.sha256), content);
        carried.push(entry);
      }
      const filed = await filing([...folders.values()], Object.values(places), lock);
      const parts = carried.length && last?.lock ? { lock: last.lock, shut: [...(last.shut ?? []), ...(filed.shut ?? [])] } : {};
      // The index comes last: a backup that was broken off is none, and costs nothing of the ones before.
      const made = Date.now();
      await server.write(`${HISTORY}/${historyName(made)}`, new TextEncoder().encode(writeIndex({ made, ...filed, ...parts, notes: [...entries, ...carried], ...(templates.length ? { templates } : {}) })));
      if (broken || sent >= NOTED_EVERY) await notePending(server, [], null);
      dispatch(settingsSlice.actions.patched({ lastBackup: made, dav: { ...getState().settings.dav, last: made, begun: null } }));
      dispatch(sayIncomplete(left, incomplete));
      dispatch(say('backup', 'info', `The backup on the server is up to date: ${sent} of ${entries.length} notes had changed and were sent.`));
    }),
  );
  await (await saysSo)?.();
  // Stopped by hand, or failed: that was said. Leaving the page fails its requests too, and is no end: a page that stays is still there in a moment.
  const { begun } = getState().settings.dav;
  if (begun) setTimeout(() => getState().settings.dav.begun === begun && dispatch(begunAt(null)), STAYS_MS);
};

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
    restoring(async (here, enter, workOf, keyOf, by) => {
      const server = new DavFolder(getState().settings.dav);
      const index = await read(server, name);
      const content = (entry: ArchiveEntry) =>
        server.read(objectName(entry.sha256)).catch((e: unknown) => {
          throw e instanceof DavError ? new ArchiveError('it is missing on the server or could not be read') : e;
        });
      return restoreFromSource({ index, content }, here, enter, workOf, keyOf, by);
    }),
  );

/** Makes a backup once a day by itself, where that was asked for; gives the way to end it. */
export function watchDav(store: typeof Store): () => void {
  const look = () => {
    const { settings, library, recording } = store.getState();
    const { url, auto, last } = settings.dav;
    if (!url || !auto || library.status !== 'ready' || recording.state !== 'idle' || isBusy(store.getState(), 'backup', 'restore')) return;
    // A last one in the future was made by a clock that ran ahead.
    const since = Date.now() - (last ?? 0);
    if (since >= EVERY_MS || since < 0) void store.dispatch(backUpToDav());
  };
  /** One that was broken off by leaving the page is said, and goes on where it is made by itself. */
  const goOn = async () => {
    // Not broken off: another tab is at it.
    if (await isUnderWay(TO_SERVER)) return;
    const { settings, library, recording } = store.getState();
    const { url, auto, begun } = settings.dav;
    if (library.status === 'loading') {
      // What was begun is known when the library is read.
      first = setTimeout(() => void goOn(), STAYS_MS);
      return;
    }
    if (!url || !begun || library.status !== 'ready' || isBusy(store.getState(), 'backup', 'restore')) return look();
    store.dispatch(begunAt(null));
    if (auto && recording.state === 'idle') {
      store.dispatch(say('backup', 'info', 'The last backup to the server was broken off when the page was closed. It goes on now.'));
      void store.dispatch(backUpToDav());
    } else store.dispatch(say('backup', 'problem', 'The last backup to the server was broken off when the page was closed. Press Back up to the server to go on; what was sent is not sent again.'));
  };
  const timer = setInterval(look, 15 * 60_000);
  let first = setTimeout(() => void goOn(), WAIT_MS);
  return () => {
    clearInterval(timer);
    clearTimeout(first);
  };
}
