/** The whole state: what every slice adds to it. */
import { combineReducers } from '@reduxjs/toolkit';
import { noteSlice } from './noteSlice';
import { backupSlice, besideSlice, bringingSlice, clipboardSlice, hearingSlice, jobsSlice, librarySlice, lockSlice, messagesSlice, playbackSlice, recordingSlice, reviewSlice, settingsSlice, tabsSlice, templatesSlice, toolsSlice } from './slices';

export const rootParts = {
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
  clipboard: clipboardSlice.reducer,
  tabs: tabsSlice.reducer,
};

export const rootReducer = combineReducers(rootParts);

export type RootState = ReturnType<typeof rootReducer>;
