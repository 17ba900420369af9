/** The middleware that saves: every change of the open note goes to its file, every change of the settings to theirs. */
import { createListenerMiddleware, isAnyOf } from '@reduxjs/toolkit';
import type { NoteFile } from '../storage/noteFile';
import { writeSettings } from '../storage/settingsFile';
import { noteSlice, type NoteState } from './noteSlice';
import { librarySlice, messagesSlice, settingsSlice } from './slices';
import type { Settings } from '../storage/settingsFile';

/** The file of the open note; the session sets it. */
export const openFile: { current: NoteFile | null } = { current: null };

export const saving = createListenerMiddleware();

const { changed, undone, redone } = noteSlice.actions;

saving.startListening({
  matcher: isAnyOf(changed, undone, redone),
  effect: (_, api) => {
    const { note } = api.getState() as { note: NoteState };
    if (!note.note || !note.last) return;
    openFile.current?.record(note.last, note.note);
    if (note.last.header) api.dispatch(librarySlice.actions.upserted(note.note.header));
  },
});

saving.startListening({
  actionCreator: settingsSlice.actions.patched,
  effect: async (_, api) => {
    try {
      await writeSettings((api.getState() as { settings: Settings }).settings);
    } catch {
      api.dispatch(messagesSlice.actions.said({ key: 'settings', tone: 'problem', text: 'A setting could not be stored on this device and holds until you close this tab.' }));
    }
  },
});
