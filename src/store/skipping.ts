/** Keeps what the player jumps over in step with the settings and with what is known of the sound. */
import { selectSkips } from './listening';
import { followSkips } from './playing';
import type { store as Store } from './store';

export function keepSkips(store: typeof Store): () => void {
  let seen: unknown = null;
  return store.subscribe(() => {
    const state = store.getState();
    const now = state.settings.skipPauses && state.note.note ? selectSkips(state) : null;
    if (now === seen) return;
    seen = now;
    store.dispatch(followSkips());
  });
}
