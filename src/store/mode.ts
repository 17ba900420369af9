/** Write or Listen. */
import { canChange } from './change';
import { say } from './messages';
import { noteSlice, type Mode } from './noteSlice';
import { letGo, loadPlayer, pausePlaying } from './playing';
import { isTextSheet, messagesSlice, playbackSlice, toolsSlice } from './slices';
import type { Thunk } from './thunk';

/** A pen that comes down in Listen while a recording runs was meant to write: that is said, and one touch makes it so. */
export const penIdle = (): Thunk => (dispatch, getState) => {
  const { note, recording, beside } = getState();
  if (note.mode === 'listen' && beside.note === note.id && !note.note?.header.timeline.length && canChange(getState())) {
    dispatch(say('mode', 'info', 'The source is open to be read. Press Write, and the pen writes on it.', 'write'));
    return;
  }
  if (note.mode !== 'listen' || recording.state === 'idle' || recording.note !== note.id) return;
  dispatch(say('mode', 'info', 'This is Listen, where the pen does not write. The recording goes on.', 'write'));
};

export const setMode =
  (mode: Mode): Thunk =>
  (dispatch, getState, { player }) => {
    const { note, newer } = getState().note;
    if (mode === 'write' && newer) return dispatch(say('read-only', 'info', newer));
    if (mode === 'write' && note?.header.readOnly) return dispatch(say('read-only', 'info', 'This note is read only. Its menu above the page lets it be changed.'));
    if (mode === 'write') {
      dispatch(pausePlaying());
      dispatch(letGo());
    }
    if (getState().playback.second) dispatch(playbackSlice.actions.set({ second: false, answering: null }));
    // Sheets of Write have no place in Listen, nor the other way round; the text is the same in both.
    if (!isTextSheet(getState().tools.sheet)) dispatch(toolsSlice.actions.set({ sheet: 'none' }));
    dispatch(messagesSlice.actions.dismissed('mode'));
    dispatch(noteSlice.actions.modeSet(mode));
    if (mode === 'listen' && note && !player) dispatch(loadPlayer());
  };
