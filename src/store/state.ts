/** The whole state: what every slice adds to it. */
import { combineReducers } from '@reduxjs/toolkit';
import { noteSlice } from './noteSlice';
import { backupSlice, besideSlice, bringingSlice, hearingSlice, jobsSlice, librarySlice, lockSlice, messagesSlice, playbackSlice, recordingSlice, reviewSlice, settingsSlice, templatesSlice, toolsSlice } from './slices';

export const rootReducer = combineReducers({
  note: noteSlice.reducer,
  library: librarySlice.reducer,
  lock: lockSlice.reducer,
  settings: settingsSlice.reducer,
  messages: messagesSlice.reducer,
  jobs: jobsSlice.reducer,
  recording: recordingSlice.reducer,
  hearing: hearingSlice.reducer,
  review: reviewSlice.reducer,
  backup: backupSlice.reducer,
  templates: templatesSlice.reducer,
  playback: playbackSlice.reducer,
  tools: toolsSlice.reducer,
  bringing: bringingSlice.reducer,
  beside: besideSlice.reducer,
});

export type RootState = ReturnType<typeof rootReducer>;
