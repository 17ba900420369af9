/** Several tabs on the same note: one writes, the others follow, and who writes can change. */
import { holdToShow, onTold, tell, type Held } from '../platform/tabs';
import { HistoryFile } from '../storage/historyFile';
import { NoteFile } from '../storage/noteFile';
import { readSettings } from '../storage/settingsFile';
import { byOf } from './alive';
import { loadLibrary } from './library';
import { reasonOf, say } from './messages';
import { noteSlice } from './noteSlice';
import { attach } from './openNote';
import { loadPlayer, pausePlaying } from './playing';
import { messagesSlice, settingsSlice } from './slices';
import { followTemplates } from './templates';
import type { Thunk } from './thunk';

/** How long the writing tab has to let go, ms. */
const PATIENCE_MS = 8000;

/** Asks the writing tab to let go; null when it does not. */
async function handOver(id: string): Promise<Held | null> {
  const giveUp = new AbortController();
  const timer = setTimeout(() => giveUp.abort(), PATIENCE_MS);
  const off = onTold((m) => {
    if (m.kind === 'busy' && m.note === id) giveUp.abort();
  });
  try {
    const lock = holdToShow(id, giveUp.signal);
    tell({ kind: 'please', note: id });
    return await lock;
  } finally {
    clearTimeout(timer);
    off();
  }
}

/** A tab that follows asks the writing one to let go, and writes from then on. */
export const writeHere =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState, alive) => {
    const { id, following } = getState().note;
    if (!id || !following) return;
    const lock = await handOver(id);
    if (!lock) {
      dispatch(say('following', 'problem', 'The other tab is recording this note and keeps it until the recording is stopped there. This tab goes on showing what is written.', 'write-here'));
      return;
    }
    try {
      // The other tab has written everything before it let go; what came meanwhile is read afresh.
      const { note, file, newer } = await NoteFile.openToWrite(lock, byOf(alive));
      alive.held = { note: id, release: lock.release };
      alive.history = newer ? null : new HistoryFile(id);
      dispatch(attach(file));
      dispatch(noteSlice.actions.opened({ note, following: false, newer, mode: getState().note.mode }));
      dispatch(messagesSlice.actions.dismissed('following'));
      dispatch(loadPlayer());
    } catch (e) {
      alive.held = null;
      lock.release();
      dispatch(say('following', 'problem', `This tab could not take over writing (${reasonOf(e)}). Load this page again; nothing is lost.`, 'write-here'));
    }
  };

const followSettings =
  (): Thunk<Promise<void>> =>
  async (dispatch) => {
    // They hold here as they were when they cannot be read, such as behind a lock.
    const settings = await readSettings().catch(() => null);
    if (settings) dispatch(settingsSlice.actions.followed(settings));
  };

/** Answers other tabs in what is the same for all notes; called once. */
export const listenToTabs = (): Thunk => (dispatch) => {
  onTold((m) => {
    if (m.kind === 'library') void dispatch(loadLibrary());
    else if (m.kind === 'templates') void dispatch(followTemplates());
    else if (m.kind === 'settings') void dispatch(followSettings());
  });
};

/** Answers other tabs about the open note; gives the way to end it. */
export const listenAboutNote = (): Thunk<() => void> => (dispatch, getState, alive) =>
  onTold((m) => {
    const { note, recording } = getState();
    if (!('note' in m) || m.note !== note.id) return;
    if (m.kind === 'written' && note.following && alive.file) {
      const { file } = alive;
      file
        .follow(m.keys)
        .then((edit) => {
          if (alive.file === file) dispatch(noteSlice.actions.followed(edit));
        })
        .catch((e: unknown) => dispatch(say('following', 'problem', `What the other tab wrote could not be read (${reasonOf(e)}). Load this page again to see it.`)));
    } else if (m.kind === 'left' && note.following) {
      dispatch(say('following', 'info', 'The other tab has left this note. It can be written here now.', 'write-here'));
    } else if (m.kind === 'please' && alive.held?.note === note.id) {
      if (recording.state !== 'idle') return tell({ kind: 'busy', note: m.note });
      dispatch(pausePlaying());
      dispatch(noteSlice.actions.followingSet(true));
      (alive.file?.flush() ?? Promise.resolve())
        .then(() => {
          alive.held?.release();
          alive.held = null;
          dispatch(say('following', 'info', 'Another tab has taken over writing this note. This tab shows what is written there and cannot change it.', 'write-here'));
        })
        .catch(() => {
          // Not stored means not let go: the strokes are here and nowhere else.
          dispatch(noteSlice.actions.followingSet(false));
          tell({ kind: 'busy', note: m.note });
        });
    }
  });
