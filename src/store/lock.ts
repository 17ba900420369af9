/** Locking notes or everything behind a passphrase, unlocking, and locking by itself. */
import { coverOf, newVault, waitAfter, WrongPassphrase, type Cover } from '../core/vault/vault';
import { deriveInWorker } from '../platform/passphrase';
import { heldNotes, onTold, tell } from '../platform/tabs';
import { isQuotaError } from '../storage/databases';
import { learnedGoWith } from '../storage/learnedFile';
import { writeToday } from '../storage/libraryFile';
import { readNote } from '../storage/noteReading';
import { beginVault, changePassphrase, closeVault, finishSealing, openVault, patchVault, removeVault, sealNotes, sealWhole, TooSoon, unsealNotes, type Sweeping } from '../storage/vaultFile';
import { DEFAULT_SETTINGS } from '../storage/settingsFile';
import { forget } from './forgetting';
import './keepers';
import { isShut, loadLock, showVault, vault } from './lockState';
import { shutBeside } from './beside';
import { LIBRARY_LANE, isBusy, runJob } from './jobs';
import { loadLibrary } from './library';
import { reasonOf, say } from './messages';
import { closeNote, openNote } from './openNote';
import { librarySlice, lockSlice, messagesSlice, settingsSlice, templatesSlice } from './slices';
import type { store as Store } from './store';
import type { Thunk } from './thunk';
import { wouldBeLost } from './unsaved';

const { set } = lockSlice.actions;

/** Why the lock cannot be changed just now; null when it can. */
const obstacle =
  (notes?: readonly string[]): Thunk<Promise<string | null>> =>
  async (dispatch, getState, { other }) => {
    const { recording, note } = getState();
    if (isBusy(getState(), 'sealing')) return 'Something is being locked or unlocked already.';
    if (isBusy(getState(), 'backup', 'restore')) return 'A backup or restore is running. Wait until it is done.';
    if (recording.state !== 'idle') return 'A recording is running. Stop it first.';
    if (note.save === 'failed' || dispatch(wouldBeLost())) return 'Not everything is stored yet. Free some room first, so that nothing is lost.';
    const held = await heldNotes();
    const mine = new Set([note, ...(other ? [other.getState().note] : [])].filter((n) => !n.following).map((n) => n.id));
    if ([...held].some((id) => !mine.has(id) && (!notes || notes.includes(id)))) return 'A note is open in another tab. Close it there first.';
    return null;
  };

/** Works on many records with progress and a way to stop; the open note is put away meanwhile and opened again. */
const working =
  (what: string, notes: readonly string[] | undefined, task: (work: Sweeping) => Promise<void>, stopped: string): Thunk<Promise<boolean>> =>
  async (dispatch, getState) => {
    const why = await dispatch(obstacle(notes));
    if (why) {
      dispatch(say('lock', 'problem', why));
      return false;
    }
    const { id, status } = getState().note;
    const reopen = id !== null && status === 'open' && (!notes || notes.includes(id)) ? id : null;
    await dispatch(shutBeside());
    if (reopen) await dispatch(closeNote());
    const done = await dispatch(
      runJob({
        kind: 'sealing',
        title: what,
        lane: LIBRARY_LANE,
        async task({ signal, progress }) {
          // Another tab may have changed the passphrase since: its record must not be written over with an older one.
          await dispatch(loadLock());
          await task({ signal, progress });
        },
        said: {
          key: 'lock',
          stopped,
          failed: (e) => (isQuotaError(e) ? 'This browser has no room left, so the lock could not be changed to its end. Free some room and try again; every note is whole.' : `The lock could not be changed to its end (${reasonOf(e)}). Every note is whole; try again.`),
        },
      }),
    );
    await dispatch(loadLibrary());
    tell({ kind: 'library' });
    if (reopen) await dispatch(openNote(reopen));
    return done;
  };

/** Sets the passphrase up for the first time. */
export const setUpLock =
  (passphrase: string, hint: string): Thunk<Promise<boolean>> =>
  async (dispatch) => {
    dispatch(set({ trying: true }));
    try {
      const made = await newVault(passphrase, hint, deriveInWorker);
      await beginVault(made.vault, made.keyBytes);
      dispatch(showVault(made.vault));
      tell({ kind: 'library' });
      return true;
    } catch (e) {
      dispatch(say('lock', 'problem', `The passphrase could not be set (${reasonOf(e)}). Nothing is locked; try again.`));
      return false;
    } finally {
      dispatch(set({ trying: false }));
    }
  };

/** Tries a passphrase. True when the lock is open. */
export const tryPassphrase =
  (passphrase: string): Thunk<Promise<boolean>> =>
  async (dispatch, getState) => {
    if (getState().lock.trying) return false;
    dispatch(set({ trying: true, failure: null }));
    try {
      const opened = await openVault(passphrase, deriveInWorker, Date.now());
      dispatch(showVault(opened));
      if (opened.unfinished) await dispatch(goOn());
      else await dispatch(loadLibrary());
      // Something else may have been asked meanwhile.
      const { asking } = getState().lock;
      if (asking?.kind === 'unlock') dispatch(set({ asking: asking.toLock ? { kind: 'lock', notes: asking.toLock } : null }));
      dispatch(messagesSlice.actions.dismissed('lock'));
      return true;
    } catch (e) {
      if (e instanceof WrongPassphrase) {
        const wrong = (vault.current?.wrong ?? 0) + 1;
        const wait = waitAfter(wrong);
        if (vault.current) vault.current = { ...vault.current, wrong };
        dispatch(set({ failure: 'This is not the passphrase.', notBefore: Date.now() + wait }));
      } else dispatch(set({ failure: e instanceof TooSoon ? 'After a wrong passphrase one has to wait.' : `It could not be unlocked (${reasonOf(e)}). Nothing was changed; try again.` }));
      return false;
    } finally {
      dispatch(set({ trying: false }));
    }
  };

/** What was broken off the last time is brought to its end. */
const goOn = (): Thunk<Promise<void>> => async (dispatch) => {
  // Which notes are locked is known once the library is read.
  await dispatch(loadLibrary());
  await dispatch(working('Going on with locking', undefined, async (work) => void dispatch(showVault(await finishSealing(vault.current!, work))), 'This will be gone on with when Scrivo is next unlocked.'));
};

/** From here on nothing that is locked can be read, and nothing of it stays on the screen. */
const lockNow =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const { lock, library, note, settings } = getState();
    if (lock.status !== 'open') return;
    const why = await dispatch(obstacle([]));
    if (why) return dispatch(say('lock', 'problem', `Not locked: ${why.charAt(0).toLowerCase()}${why.slice(1)}`));
    const shut = lock.whole;
    const open = note.id !== null && (shut || note.id in library.covers) ? note.id : null;
    await dispatch(shutBeside());
    if (open) await dispatch(closeNote());
    closeVault();
    // Messages may name a locked note in passing.
    dispatch(messagesSlice.actions.forgotten());
    dispatch(forget({ notes: shut ? null : new Set(Object.keys(library.covers)), takes: library.headers.filter((h) => shut || h.id in library.covers).flatMap((h) => h.takes.map((t) => t.id)) }));
    if (shut) {
      dispatch(templatesSlice.actions.forgotten());
      dispatch(librarySlice.actions.forgotten());
      dispatch(settingsSlice.actions.loaded({ ...DEFAULT_SETTINGS, theme: settings.theme }));
    }
    await dispatch(loadLibrary());
    if (open) await dispatch(openNote(open));
  };

const filingOf = (notes: readonly string[], hidden: boolean): Thunk<Cover[]> => (_, getState) => {
  const { headers, places } = getState().library;
  return headers.filter((h) => notes.includes(h.id)).map((h) => coverOf(h, places[h.id], hidden));
};

export const lockNotes =
  (notes: readonly string[], hidden: boolean): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const done = await dispatch(
      working(
        'Locking',
        notes,
        async (work) => {
          const { headers } = getState().library;
          const covers = dispatch(filingOf(notes, hidden));
          const inUse = headers.filter((h) => !notes.includes(h.id) && !(h.id in getState().library.covers));
          // What Today keeps to be quick must not know them any more.
          await writeToday(inUse.slice(0, 10));
          // So must what was taught in them.
          const texts = new Map<string, ReadonlySet<string>>();
          for (const id of notes) texts.set(id, new Set((await readNote(id)).note.header.written?.map((w) => w.text)));
          await learnedGoWith(texts);
          await sealNotes(vault.current!, covers, headers.filter((h) => notes.includes(h.id)), work, () => tell({ kind: 'library' }));
        },
        'Stopped: the notes are not locked.',
      ),
    );
    if (done) dispatch(say('lock', 'info', `${notes.length === 1 ? 'The note is' : `${notes.length} notes are`} locked from now on. It closes when you press Lock now, or by itself.`));
  };

export const unlockNotes =
  (notes: readonly string[]): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const done = await dispatch(working('Taking the lock off', notes, (work) => unsealNotes(vault.current!, notes, getState().library.headers, work), 'Stopped: the notes stay locked.'));
    if (done) dispatch(say('lock', 'info', `${notes.length === 1 ? 'The note is' : `${notes.length} notes are`} no longer locked.`));
  };

export const lockEverything =
  (whole: boolean): Thunk<Promise<void>> =>
  async (dispatch) =>
    void (await dispatch(
      working(whole ? 'Locking everything' : 'Taking the lock off', undefined, async (work) => void dispatch(showVault(await sealWhole(vault.current!, whole, work))), 'Stopped: all is as it was.'),
    ));

/** Another passphrase for the same lock. @returns whether the old one was right. */
export const setPassphrase =
  (old: string, passphrase: string, hint: string): Thunk<Promise<boolean>> =>
  async (dispatch) => {
    if (!(await dispatch(tryPassphrase(old)))) return false;
    try {
      dispatch(showVault(await changePassphrase(vault.current!, passphrase, hint, deriveInWorker)));
      tell({ kind: 'library' });
      dispatch(say('lock', 'info', 'The passphrase was changed.'));
      return true;
    } catch (e) {
      dispatch(say('lock', 'problem', `The passphrase could not be changed (${reasonOf(e)}). The old one holds; try again.`));
      return false;
    }
  };

/** Everything is made readable again, and there is no passphrase any more. */
export const removeLock = (): Thunk<Promise<void>> => async (dispatch) => {
  const done = await dispatch(
    working(
      'Taking the lock off',
      undefined,
      async (work) => {
        await removeVault(vault.current!, work);
      },
      'Stopped: all is locked as it was.',
    ),
  );
  if (done) dispatch(say('lock', 'info', 'There is no passphrase any more; all notes open without one.'));
};

export const setIdle =
  (idle: number): Thunk<Promise<void>> =>
  async (dispatch) => {
    try {
      await dispatch(loadLock());
      if (!vault.current) return;
      dispatch(showVault(await patchVault(vault.current.id, () => ({ idle }))));
    } catch (e) {
      dispatch(say('lock', 'problem', `This could not be stored (${reasonOf(e)}). Try again.`));
    }
  };

/** How often it is looked whether the lock is due, ms. */
const LOOK_MS = 5000;

/** Locks by itself after a time without a touch, and with the other tabs; gives the way to end it. */
export function watchLock(store: typeof Store): () => void {
  let last = Date.now();
  const touched = () => void (last = Date.now());
  const look = () => {
    const { lock, recording, playback } = store.getState();
    // Who records or listens is there, though the hand rests.
    if (recording.state !== 'idle' || playback.playing) return touched();
    if (lock.status !== 'open' || lock.idle === 0 || isBusy(store.getState(), 'sealing') || Date.now() - last < lock.idle * 60_000) return;
    touched();
    void store.dispatch(lockNow());
  };
  const timer = setInterval(look, LOOK_MS);
  const events = ['pointerdown', 'pointermove', 'keydown', 'wheel'] as const;
  for (const e of events) window.addEventListener(e, touched, { passive: true, capture: true });
  document.addEventListener('visibilitychange', look);
  const off = onTold((m) => {
    if (m.kind === 'lock') void store.dispatch(lockNow());
  });
  return () => {
    clearInterval(timer);
    for (const e of events) window.removeEventListener(e, touched, { capture: true });
    document.removeEventListener('visibilitychange', look);
    off();
  };
}

/** Locks here and in the other tabs. */
export const lockAll = (): Thunk<Promise<void>> => async (dispatch, getState) => {
  tell({ kind: 'lock' });
  await dispatch(lockNow());
  if (!isShut(getState()) && getState().lock.status === 'locked') dispatch(say('lock', 'info', 'Locked.'));
};
