import type { ThunkDispatch, UnknownAction } from '@reduxjs/toolkit';
import type { Alive } from './alive';
import type { RootState } from './state';

export type Dispatch = ThunkDispatch<RootState, Alive, UnknownAction>;

/** Screens dispatch these; nothing else touches storage, microphone or loudspeaker. */
export type Thunk<R = void> = (dispatch: Dispatch, getState: () => RootState, alive: Alive) => R;
