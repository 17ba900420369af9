import type { Alive } from './alive';
import type { Dispatch, RootState } from './store';

/** Screens dispatch these; nothing else touches storage, microphone or loudspeaker. */
export type Thunk<R = void> = (dispatch: Dispatch, getState: () => RootState, alive: Alive) => R;
