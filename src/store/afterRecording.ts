/** What waits until a recording has ended: the question about its folder, and, after the very first one, what all this is for. */
import { askOffered } from './filing';
import { say } from './messages';
import { settingsSlice } from './slices';
import type { store as Store } from './store';
import type { Thunk } from './thunk';

const hintOnce = (): Thunk => (dispatch, getState) => {
  if (getState().settings.hinted) return;
  dispatch(settingsSlice.actions.patched({ hinted: true }));
  dispatch(say('hint', 'info', 'Touch a word, and hear what was said then.', 'listen'));
};

/** @returns what ends the watch. */
export function watchRecordingEnd(store: typeof Store): () => void {
  let ran = false;
  return store.subscribe(() => {
    const { state } = store.getState().recording;
    if (ran && state === 'idle') {
      ran = false;
      store.dispatch(askOffered());
      store.dispatch(hintOnce());
    } else if (state === 'recording') ran = true;
  });
}
