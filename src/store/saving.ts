/** The middleware that saves: every change of the open note goes to its file, every change of the settings to theirs. */
import { createListenerMiddleware, isAnyOf } from '@reduxjs/toolkit';
import { summaryOf } from '../core/note/schema';
import { coverOf } from '../core/vault/vault';
import { tell } from '../platform/tabs';
import { writeToday } from '../storage/libraryFile';
import { policy } from '../storage/sealing';
import { adopt, keepCovers, sealSound } from '../storage/vaultFile';
import { patchSettings } from '../storage/settingsFile';
import type { Alive } from './alive';
import { noteSlice, type NoteState } from './noteSlice';
import { librarySlice, messagesSlice, settingsSlice, type LibraryState } from './slices';

/** How long a change waits before the history is written, ms: after the note itself. */
const HISTORY_WAIT_MS = 900;

/** Writes the history now if it waits to be. */
export async function flushHistory(state: NoteState, alive: Alive): Promise<void> {
  if (!alive.historyTimer) return;
  clearTimeout(alive.historyTimer);
  alive.historyTimer = null;
  if (state.note && !state.following) await alive.history?.write(state, state.note);
}

const { changed, undone, redone } = noteSlice.actions;
const { loaded, upserted, removed, filed, covered } = librarySlice.actions;
/** Notes that Today shows, and a few to take the place of those that go. */
const TODAY_NOTES = 10;

export function makeSaving(alive: Alive) {
  const saving = createListenerMiddleware();
  /** Of the open note when it was last told of. */
  let contents: readonly string[] | undefined;

  saving.startListening({
    matcher: isAnyOf(changed, undone, redone),
    effect: (_, api) => {
      const { note } = api.getState() as { note: NoteState };
      if (!note.note || !note.last) return;
      alive.file?.record(note.last, note.note);
      // Without room the note comes first: its own failure is told, a lost history costs steps back after a reload.
      alive.historyTimer ??= setTimeout(() => void flushHistory((api.getState() as { note: NoteState }).note, alive).catch(() => undefined), HISTORY_WAIT_MS);
      // Lists, and the covers of locked notes, name the pictures and files of a note too.
      if (note.last.rows || note.note.header.contents !== contents) api.dispatch(upserted(summaryOf(note.note.header)));
      ({ contents } = note.note.header);
    },
  });

  saving.startListening({
    actionCreator: settingsSlice.actions.patched,
    effect: async ({ payload }, api) => {
      try {
        await patchSettings(payload);
        tell({ kind: 'settings' });
      } catch {
        api.dispatch(messagesSlice.actions.said({ key: 'settings', tone: 'problem', text: 'A setting could not be stored on this device and holds until you close this tab.' }));
      }
    },
  });

  saving.startListening({
    matcher: isAnyOf(loaded, upserted, removed, filed),
    effect: async (_, api) => {
      // The last of several changes counts.
      api.cancelActiveListeners();
      await api.delay(700);
      const { library } = api.getState() as { library: LibraryState };
      if (library.status !== 'ready') return;
      const inUse = library.headers.filter((h) => !library.places[h.id]?.archived && !library.places[h.id]?.binned);
      // Only to be quick the next time, and without what is locked.
      await writeToday(inUse.filter((h) => !library.covers[h.id]).slice(0, TODAY_NOTES)).catch(() => undefined);
      await followCovers(library, api.dispatch);
    },
  });

  return saving.middleware;
}

/** Covers of locked notes follow their notes, and sound that was brought into one is sealed with it. */
async function followCovers(library: LibraryState, dispatch: (action: ReturnType<typeof covered>) => void): Promise<void> {
  if (!policy.current.key) return;
  const locked = library.headers.filter((h) => library.covers[h.id]);
  const now = locked.map((h) => coverOf(h, library.places[h.id], library.covers[h.id].title === null));
  const changed = now.filter((c) => JSON.stringify(c) !== JSON.stringify(library.covers[c.id]));
  if (!changed.length) return;
  try {
    await keepCovers(changed);
    dispatch(covered([...Object.values(library.covers).filter((c) => !changed.some((n) => n.id === c.id)), ...changed]));
    await sealSound(locked.flatMap(adopt));
  } catch {
    // The lock may just have been closed: covers are compared anew when it is next opened, and sealing is gone on with.
  }
}
