/** Keeps the player in step with what it plays: the timeline of the open note, and what is jumped over of it. */
import { selectSkips } from './listening';
import { followSkips, followTimeline } from './playing';
import type { Store } from './thunk';

/** Runs for as long as the application does; gives the way to end it. */
export function followPlayer(store: Store): () => void {
  let timeline: unknown = null;
  let skips: unknown = null;
  return store.subscribe(() => {
    const state = store.getState();
    const now = state.note.note?.header.timeline ?? null;
    if (now !== timeline) {
      timeline = now;
      store.dispatch(followTimeline());
    }
    const over = state.settings.skipPauses && now ? selectSkips(state) : null;
    if (over === skips) return;
    skips = over;
    store.dispatch(followSkips());
  });
}
