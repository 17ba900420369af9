/** Opening and closing a note: its file, its history, the hold on it against other tabs. */
import { finishedTakes } from '../core/note/takes';
import { countPlaced } from '../core/note/edit';
import { summaryOf, type NoteSummary } from '../core/note/schema';
import { spokenTime } from '../core/time/format';
import { holdToShow, tell } from '../platform/tabs';
import { HistoryFile } from '../storage/historyFile';
import { NoteFile } from '../storage/noteFile';
import { LockedError } from '../storage/sealing';
import { remainsOf } from '../storage/soundFile';
import { byOf, type Alive } from './alive';
import { change } from './change';
import { reasonOf, say, storing } from './messages';
import { noteSlice } from './noteSlice';
import { loadPlayer, unloadPlayer } from './playing';
import { stopRecording } from './recording';
import { flushHistory } from './saving';
import { librarySlice, messagesSlice, toolsSlice } from './slices';
import type { Thunk } from './thunk';
import { hearWaiting } from './touching';
import { keepUnsaved, unsavedAgain } from './unsaved';

/** Opens a note, or waits for the opening that is under way. */
export const openNote =
  (id: string): Thunk<Promise<void>> =>
  (dispatch, getState, alive) => {
    const { opening } = alive;
    if (opening?.id === id) return opening.done;
    if (getState().note.id === id && getState().note.status === 'open') return Promise.resolve();
    const done = (opening?.done ?? Promise.resolve()).then(() => dispatch(openNow(id)));
    const mine = { id, done };
    alive.opening = mine;
    return done.finally(() => {
      if (alive.opening === mine) alive.opening = null;
    });
  };

const openNow =
  (id: string): Thunk<Promise<void>> =>
  async (dispatch, _, alive) => {
    await dispatch(closeNote());
    dispatch(noteSlice.actions.opening(id));
    try {
      // What could not be stored when it was left is here and nowhere else.
      // It may stand on the other side of the screen, or be on its way from there.
      await alive.holders.get(id)?.();
      const kept = dispatch(unsavedAgain(id));
      const lock = kept ?? (await holdToShow(id));
      alive.held = lock ? { note: id, release: lock.release } : null;
      alive.holders.set(id, () => dispatch(closeNote()));
      const { note, file, problems, newer } = kept ? { note: kept.file.current, file: kept.file, problems: [], newer: null } : await (lock ? NoteFile.openToWrite(lock, byOf(alive)) : NoteFile.openToFollow(id));
      dispatch(attach(file));
      const listen = newer !== null || note.header.readOnly || (note.header.timeline.length > 0 && countPlaced(note.ink) > 0);
      alive.history = lock && !newer ? new HistoryFile(id) : null;
      const history = await alive.history?.read(note);
      dispatch(toolsSlice.actions.cleared());
      dispatch(noteSlice.actions.opened({ note, following: !lock, newer, mode: listen ? 'listen' : 'write', ...history }));
      if (kept) file.flush(true).catch(() => undefined);
      if (problems.length) dispatch(say('repair', 'problem', problems.join(' ')));
      if (newer) dispatch(say('read-only', 'info', newer));
      if (lock) await dispatch(finishTakes());
      else dispatch(say('following', 'info', 'This note is being written in another tab. This tab shows what is written there and cannot change it.', 'write-here'));
      dispatch(loadPlayer());
      dispatch(hearWaiting());
    } catch (e) {
      alive.held?.release();
      alive.held = null;
      alive.holders.delete(id);
      dispatch(noteSlice.actions.openFailed({ reason: reasonOf(e), locked: e instanceof LockedError }));
    }
  };

/** From here on changes go to this file. */
export const attach =
  (file: NoteFile): Thunk =>
  (dispatch, _, alive) => {
    alive.file = file;
    file.onState = (state, error) => {
      dispatch(noteSlice.actions.saveSet(state));
      if (state === 'failed') dispatch(storing('ink', error ?? new Error('unknown reason')));
      if (state === 'saved') dispatch(storing('ink', null));
    };
    file.onWritten = (written) => {
      const note = alive.held?.note;
      if (note) tell({ kind: 'written', note, keys: written });
    };
  };

/** A take of this note that some earlier visit left running. */
const finishTakes =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const before = getState().note.note;
    const edit = before && (await finishedTakes(before, remainsOf));
    if (!before || !edit) return;
    dispatch(change(edit, false));
    dispatch(recovered(summaryOf(before.header), summaryOf(getState().note.note!.header)));
  };

/** Says what was saved of a recording that ended with the program. */
export const recovered = (before: NoteSummary, after: NoteSummary): Thunk => {
  const take = after.takes.find((t) => t.state === 'done' && before.takes.some((b) => b.id === t.id && b.state === 'recording'));
  const length = take ? spokenTime(take.ms) : '';
  const lost = Math.ceil((take?.lost ?? 0) / 1000);
  const missing = take && !take.ms ? 'No sound of it had been stored.' : lost > 1 ? `The last ${spokenTime(lost * 1000)} of its sound are lost.` : 'At most the last second of its sound is lost.';
  return say(`recovered-${after.id}`, 'info', `Scrivo was closed while “${after.title}” was being recorded. ${length} of ${take?.name ?? 'the take'} and all ink were recovered. ${missing}`);
};

/** The session of the note ends, and with it what can be taken back. Left-over records do no harm and go with the next one. */
async function endHistory(alive: Alive): Promise<void> {
  if (alive.historyTimer) clearTimeout(alive.historyTimer);
  alive.historyTimer = null;
  const { history } = alive;
  alive.history = null;
  await history?.clear().catch(() => undefined);
}

/** Puts the open note away, or waits for that where it is under way. */
export const closeNote =
  (): Thunk<Promise<void>> =>
  (dispatch, _, alive) =>
    (alive.closing ??= dispatch(closeNow()).finally(() => (alive.closing = null)));

const closeNow =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState, alive) => {
    const { recording, note } = getState();
    if (recording.state !== 'idle' && recording.note === note.id) await dispatch(stopRecording());
    dispatch(unloadPlayer());
    const { file } = alive;
    if (note.note && file && !note.following && !note.newer) {
      try {
        await file.flush(true);
        // With what can be taken back goes the last reason to keep pictures that are no longer shown.
        await endHistory(alive);
        await file.close();
        // What came with the last stop of a recording is in it too.
        dispatch(librarySlice.actions.upserted(summaryOf((getState().note.note ?? note.note).header)));
      } catch {
        if (alive.held) dispatch(keepUnsaved({ file, note: alive.held.note, release: alive.held.release }));
        alive.held = null;
      }
    }
    alive.file = null;
    await endHistory(alive);
    const { held } = alive;
    alive.held = null;
    if (held) {
      await held.release();
      tell({ kind: 'left', note: held.note });
    }
    if (note.id) alive.holders.delete(note.id);
    for (const key of ['repair', 'following', 'listen', 'mark', 'gap', 'read-only', 'folder', 'place', 'tool']) dispatch(messagesSlice.actions.dismissed(key));
    dispatch(noteSlice.actions.closed());
  };

/** Everything of the open note goes to the disk. @throws what storage throws */
export const flushNote = (): Thunk<Promise<void>> => async (_, __, { file }) => void (await file?.flush(true));

/** Writes what waits, when the page is hidden or about to go. */
export const flushAll = (): Thunk => (dispatch, getState, alive) => {
  const { note, following, newer } = getState().note;
  if (!newer) alive.file?.flush(true).catch(() => undefined);
  // Lists show when the note was last written in.
  if (note && !following && !newer && getState().library.headers.find((h) => h.id === note.header.id)?.changed !== note.header.changed) dispatch(librarySlice.actions.upserted(summaryOf(note.header)));
  flushHistory(getState().note, alive).catch(() => undefined);
  for (const sound of [alive.sound, ...alive.earlierSound]) sound?.flush().catch(() => undefined);
  for (const { file } of alive.unsaved.values()) file.flush(true).catch(() => undefined);
};

/** The same on both sides of the screen. */
export const flushBoth = (): Thunk => (dispatch, _, { other }) => {
  dispatch(flushAll());
  other?.dispatch(flushAll());
};
