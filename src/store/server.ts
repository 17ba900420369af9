/** Says so when the server that the application came from has gone, and when it is back. */
import { messagesSlice } from './slices';
import type { store as Store } from './store';

const EVERY_MS = 15_000;
const KEY = 'server';
const GONE = 'The Scrivo server does not answer. Writing, recording and listening go on here and are stored on this device; keep this tab open and start the server again before you load the page anew.';

export function watchServer(store: typeof Store): () => void {
  let gone = false;
  const look = async () => {
    let answers = false;
    try {
      answers = (await fetch('/health', { cache: 'no-store' })).ok;
    } catch {
      // No answer is the answer.
    }
    if (answers === !gone) return;
    gone = !answers;
    if (gone) store.dispatch(messagesSlice.actions.said({ key: KEY, tone: 'problem', text: GONE }));
    else store.dispatch(messagesSlice.actions.dismissed(KEY));
  };
  const timer = setInterval(look, EVERY_MS);
  window.addEventListener('offline', look);
  window.addEventListener('online', look);
  document.addEventListener('visibilitychange', look);
  return () => {
    clearInterval(timer);
    window.removeEventListener('offline', look);
    window.removeEventListener('online', look);
    document.removeEventListener('visibilitychange', look);
  };
}
