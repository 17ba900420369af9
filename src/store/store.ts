import { configureStore } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { noteSlice } from './noteSlice';
import { makeAlive } from './alive';
import { jobsSlice } from './jobs';
import { makeSaving } from './saving';
import { backupSlice, hearingSlice, librarySlice, lockSlice, messagesSlice, playbackSlice, recordingSlice, reviewSlice, settingsSlice, templatesSlice, toolsSlice } from './slices';

/** @param alive what lives beside the state; of its own for every store. */
export const makeStore = (alive = makeAlive()) =>
  configureStore({
    reducer: {
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
    },
    // Packed points are byte arrays, and a note has tens of thousands of strokes: the checks would take longer than the work.
    middleware: (defaults) => defaults({ serializableCheck: false, immutableCheck: false, thunk: { extraArgument: alive } }).concat(makeSaving(alive)),
  });

const alive = makeAlive();
export const store = makeStore(alive);
/** The level of the microphone, ten times a second while recording. */
export const liveLevel = alive.level;
export type RootState = ReturnType<typeof store.getState>;
export type Dispatch = typeof store.dispatch;
export const useAppDispatch = useDispatch.withTypes<Dispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();
