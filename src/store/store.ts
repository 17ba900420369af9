import { configureStore } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { makeAlive } from './alive';
import { makeSaving } from './saving';
import { rootReducer, type RootState } from './state';
import type { Dispatch } from './thunk';

/** @param alive what lives beside the state; of its own for every store. */
export const makeStore = (alive = makeAlive()) =>
  configureStore({
    reducer: rootReducer,
    // Packed points are byte arrays, and a note has tens of thousands of strokes: the checks would take longer than the work.
    middleware: (defaults) => defaults({ serializableCheck: false, immutableCheck: false, thunk: { extraArgument: alive } }).concat(makeSaving(alive)),
  });

const alive = makeAlive();
export const store = makeStore(alive);
/** The level of the microphone, ten times a second while recording. */
export const liveLevel = alive.level;
export const useAppDispatch = useDispatch.withTypes<Dispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();
