/** Keeps the words of the open note's pages up to date, in the worker, a moment after the pen has rested. */
import { strokesOf } from '../core/note/kinds/kinds';
import { groupInWorker } from '../platform/wordsWorker';
import { noteSlice } from './noteSlice';
import type { Store } from './thunk';

const WAIT_MS = 250;

const isSame = (a: readonly unknown[], b: readonly unknown[]): boolean => a.length === b.length && a.every((it, i) => it === b[i]);

export function findWords(store: Store): () => void {
  let timer: ReturnType<typeof setTimeout> | null = null;
  let running = false;

  const run = async () => {
    if (running) return;
    running = true;
    try {
      for (;;) {
        const { note, id, words } = store.getState().note;
        const page = note?.header.pages.find((p) => note.ink[p.id]?.length && words[p.id]?.of !== note.ink[p.id]);
        if (!note || !id || !page) return;
        const of = note.ink[page.id];
        const [before, strokes] = [words[page.id], strokesOf(of)];
        // Typing changes the page and none of its strokes.
        const grouping = before && isSame(strokesOf(before.of), strokes) ? before.grouping : await groupInWorker(strokes);
        store.dispatch(noteSlice.actions.wordsFound({ note: id, page: page.id, words: { grouping, of } }));
      }
    } finally {
      running = false;
    }
  };

  let seen = store.getState().note.note?.ink;
  return store.subscribe(() => {
    const ink = store.getState().note.note?.ink;
    if (ink === seen) return;
    const fresh = !seen;
    seen = ink;
    if (timer) clearTimeout(timer);
    timer = setTimeout(() => void run(), fresh ? 0 : WAIT_MS);
  });
}
