import { configureStore, type Middleware } from '@reduxjs/toolkit';
import { useDispatch, useSelector, useStore } from 'react-redux';
import { makeAlive } from './alive';
import { makeSaving } from './saving';
import { rootReducer, type RootState } from './state';
import type { Dispatch, Store } from './thunk';

/**
 * @param alive what lives beside the state; of its own for every store.
 * @param reducer the whole state, where some of it comes from elsewhere.
 * @param first sees every action before anything else does.
 */
export const makeStore = (alive = makeAlive(), reducer: typeof rootReducer = rootReducer, first: readonly Middleware[] = []) =>
  configureStore({
    reducer,
    // Packed points are byte arrays, and a note has tens of thousands of strokes: the checks would take longer than the work.
    middleware: (defaults) => defaults({ serializableCheck: false, immutableCheck: false, thunk: { extraArgument: alive } }).concat(...first, makeSaving(alive)),
  });

const alive = makeAlive();
export const store = makeStore(alive);
/** What lives beside it. */
export const storeAlive = alive;
/** The level of the microphone, ten times a second while recording. */
export const liveLevel = alive.level;
export const useAppDispatch = useDispatch.withTypes<Dispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();
/** The store of the side of the screen that a component stands on. */
export const useAppStore = useStore as () => Store;
