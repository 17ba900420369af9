/** Where it is wanted, a line becomes typed text as soon as one has gone on from it: what is written from then on, and what was read surely. */
import { isStroke } from '../core/note/kinds/kinds';
import { linesToConvert } from '../core/reading/converting';
import { shownWord, writtenByKey } from '../core/reading/pageText';
import { becomeText } from './converting';
import { canChange } from './change';
import type { Store } from './thunk';

/** A line is done when the pen has gone on to another and rested so long, or rested longer, ms. */
const [GONE_ON_MS, RESTED_MS] = [1200, 4000];
/** A line with a word that was read less surely stays ink. */
const SURE = 0.3;

export function liveText(store: Store): () => void {
  let timer: ReturnType<typeof setTimeout> | null = null;
  /** What is older than this was written before it was wanted. */
  let since = Infinity;
  let of: string | null = null;
  /** Strokes that became text once: taken back, they stay ink. */
  const once = new Set<string>();

  /** @returns whether something may be due later, without anything else happening */
  const run = (): boolean => {
    const state = store.getState();
    const { note, id, words, texts, mode } = state.note;
    if (!note || !id || mode !== 'write' || !canChange(state) || state.tools.selection) return false;
    const own = writtenByKey(note.header.written);
    const now = Date.now();
    let later = false;
    for (const { id: page } of note.header.pages) {
      const found = words[page];
      const ink = note.ink[page] ?? [];
      if (!found || found.of !== ink) continue;
      const fresh = ink.filter(isStroke).filter(({ wall, pen }) => wall >= since && pen.kind !== 'highlighter');
      if (!fresh.length) continue;
      const last = fresh.reduce((a, b) => (b.wall + b.ms > a.wall + a.ms ? b : a));
      for (const line of linesToConvert(found.grouping, fresh)) {
        if (line.strokes.some((s) => once.has(s.id))) continue;
        const shown = line.words.map(({ word }) => shownWord(word, texts[page], own));
        if (shown.some((w) => w !== null && w.confidence < SURE)) continue;
        const rest = now - Math.max(...line.strokes.map((s) => s.wall + s.ms));
        if (shown.includes(null) || rest < (line.strokes.includes(last) ? RESTED_MS : GONE_ON_MS)) later = true;
        // One at a time: what stands on the page is another afterwards.
        else if (store.dispatch(becomeText(page, [line], [shown.map((w) => w!.text)])).length) {
          for (const s of line.strokes) once.add(s.id);
          return true;
        }
      }
    }
    return later;
  };

  const look = () => {
    if (timer) clearTimeout(timer);
    timer = setTimeout(() => {
      timer = null;
      if (store.getState().settings.liveText && run()) look();
    }, GONE_ON_MS / 2);
  };

  let seen: unknown[] = [];
  const stop = store.subscribe(() => {
    const { note, settings } = store.getState();
    if (!settings.liveText) {
      since = Infinity;
      return;
    }
    // Turned on, or another note: from now on.
    if (since === Infinity || note.id !== of) [since, of] = [Date.now(), note.id];
    const now = [note.words, note.texts];
    if (now.every((v, i) => v === seen[i])) return;
    seen = now;
    look();
  });
  return () => {
    if (timer) clearTimeout(timer);
    stop();
  };
}
