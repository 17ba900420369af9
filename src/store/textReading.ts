/** Reads the handwriting of the open note in the background, newest words first, once writing rests; and what the writer says of words. */
import { put, drop } from '../core/note/edit';
import { strokesOf, type Placed } from '../core/note/kinds/kinds';
import type { Trace } from '../core/reading/drawing';
import { taught, withTaught, type Learned } from '../core/reading/learned';
import { MODEL } from '../core/reading/model';
import { shownWord, textLines, wordKey, writtenByKey, type PageText, type ReadWord, type Written } from '../core/reading/pageText';
import type { Grouping, Word } from '../core/ink/words/grouping';
import { foundWords, listed } from '../core/reading/noteWords';
import { traceOfStroke } from '../core/reading/readWords';
import { likesOf, SAME, shapeOf } from '../core/reading/shape';
import { whenIdle } from '../platform/idle';
import { knowInWorker, readInWorker } from '../platform/reading';
import { learnedWords, learnWord } from '../storage/learnedFile';
import { markRead, readTextOf, writeTextOf } from '../storage/textFile';
import { change } from './change';
import { keepsReadable } from './forgetting';
import { say } from './messages';
import { noteSlice } from './noteSlice';
import type { RootState } from './state';
import { tellWordList } from './wordList';
import type { Store, Thunk } from './thunk';

/** The pen has rested so long before words are read, ms. */
const WAIT_MS = 900;
/** Words that are read at a time: what is read is shown and kept in between. */
const AT_ONCE = 12;
/** While sound plays, words are read one by one with so long a rest between them, ms: pictures and sound of a moment come once, text can wait. */
const REST_MS = 150;
/** The model is damaged or missing. */
export const UNREAD = 'Handwriting is not turned into text now: a part of the program could not be loaded. All else works; connect to the network and load the page anew.';
/** Times the reader is asked for when it fails. */
const TRIES = 2;

/** What is kept of a page: what was read of the words that are there, and what can be looked for. */
export function keptText(placed: readonly Placed[], grouping: Grouping, text: PageText | undefined, own: ReadonlyMap<string, Written>): PageText {
  const words = Object.fromEntries(grouping.words.flatMap((w): [string, ReadWord][] => {
    const key = wordKey(w.strokes);
    return text?.words[key] ? [[key, text.words[key]]] : [];
  }));
  return { model: MODEL, words, list: listed(foundWords(placed, grouping, text, own)) };
}

/** Strokes of words as the reader takes them. */
export function tracesOf(placed: readonly Placed[], words: readonly Word[]): Trace[][] {
  const by = new Map(strokesOf(placed).map((s) => [s.id, s]));
  return words.map((w) => w.strokes.flatMap((id) => (by.has(id) ? [traceOfStroke(by.get(id)!)] : [])));
}

/** What the writer taught, read when the first words of a note are due. */
let learned: readonly Learned[] = [];

/** With a lock. */
/** How often the reader was made to forget: then it is told anew what it may know. */
let forgotten = 0;
keepsReadable('words that were put right', { forget: () => void ((learned = []), forgotten++) });

export function readText(store: Store): () => void {
  let timer: ReturnType<typeof setTimeout> | null = null;
  let callOff: () => void = () => undefined;
  let running = false;
  let failures = 0;
  /** Pages whose text on disk was looked at, by note. */
  let looked = { note: '', pages: new Set<string>(), forgotten: 0 };
  let ended = false;

  /** A page with words that nobody has read, and these, the newest first. */
  const due = (): { note: string; page: string; words: Word[]; text: PageText | undefined } | null => {
    const { id, note, words, texts } = store.getState().note;
    if (!id || !note) return null;
    for (const { id: page } of note.header.pages) {
      const found = words[page];
      // Words that are being found anew are read when they are.
      if (!found || found.of !== note.ink[page] || !found.grouping.words.length) continue;
      const text = texts[page];
      const unread = found.grouping.words.filter((w) => !text?.words[wordKey(w.strokes)]);
      if (unread.length) {
        const wall = new Map(note.ink[page].map((it) => [it.id, it.wall]));
        const newest = (w: Word) => wall.get(w.strokes[w.strokes.length - 1]) ?? 0;
        return { note: id, page, words: unread.sort((a, b) => newest(b) - newest(a)), text };
      }
    }
    return null;
  };

  /** Of what each page's text was kept last. */
  const kept = new Map<string, readonly unknown[]>();

  /** All that is read is kept, with what can be looked for. A text that cannot be stored is read again the next time. */
  const keep = async () => {
    const { id, note, words, texts, following } = store.getState().note;
    // The tab that writes the note keeps its text too.
    if (!id || !note || following) return;
    const pages = note.header.pages.filter((p) => note.ink[p.id]?.length);
    if (!pages.every((p) => words[p.id]?.of === note.ink[p.id])) return;
    const own = writtenByKey(note.header.written);
    let wrote = false;
    for (const { id: page } of pages) {
      const of = [words[page], texts[page], note.header.written];
      if (kept.get(page)?.every((it, i) => it === of[i])) continue;
      const next = keptText(note.ink[page], words[page].grouping, texts[page], own);
      try {
        await writeTextOf(id, page, next);
      } catch {
        return;
      }
      kept.set(page, of);
      wrote = true;
    }
    if (wrote) await markRead(id, note.header, pages.map((p) => p.id)).catch(() => undefined);
  };

  const playing = (): boolean => store.getState().playback.playing;
  const rest = (): Promise<void> => new Promise((done) => setTimeout(() => whenIdle(done), REST_MS));

  const readSome = async (traces: readonly Trace[][]): ReturnType<typeof readInWorker> => {
    const read: Awaited<ReturnType<typeof readInWorker>> = [];
    while (read.length < traces.length && !ended) {
      const at = read.length;
      read.push(...(await readInWorker(traces.slice(at, playing() ? at + 1 : traces.length))));
      if (playing()) await rest();
    }
    return read;
  };

  const run = async () => {
    if (running || failures >= TRIES) return;
    running = true;
    try {
      do {
        for (let next = due(); next && !ended; next = due()) {
          const { note, page } = next;
          if (looked.note !== note || looked.forgotten !== forgotten) {
            looked = { note, pages: new Set(), forgotten };
            kept.clear();
            learned = await learnedWords().catch(() => []);
            await tellWordList();
            await knowInWorker(ownWords(store.getState()));
          }
          if (!looked.pages.has(page)) {
            looked.pages.add(page);
            const stored = await readTextOf(note, page).catch(() => null);
            if (stored?.model === MODEL) store.dispatch(noteSlice.actions.textRead({ note, page, text: { model: MODEL, words: { ...stored.words, ...next.text?.words } } }));
            continue;
          }
          const words = next.words.slice(0, AT_ONCE);
          const traces = tracesOf(store.getState().note.note?.ink[page] ?? [], words);
          const read = (await readSome(traces)).map((r, i): ReadWord => ({ ...r, readings: withTaught(r.readings, taught(shapeOf(traces[i]), learned)) }));
          if (ended) break;
          const before = store.getState().note.id === note ? store.getState().note.texts[page] : next.text;
          const text: PageText = { model: MODEL, words: { ...before?.words, ...Object.fromEntries(words.map((w, i) => [wordKey(w.strokes), read[i]])) } };
          store.dispatch(noteSlice.actions.textRead({ note, page, text }));
          failures = 0;
        }
        await keep();
        // Words may have been found while the text was being kept.
      } while (!ended && due());
    } catch (e) {
      // The reader was made to forget, and is started anew.
      if (e instanceof DOMException && e.name === 'AbortError') return soon();
      failures++;
      if (failures >= TRIES) store.dispatch(say('reading', 'info', UNREAD));
      else soon();
    } finally {
      running = false;
    }
  };

  /** When the pen has rested, and the page has nothing else to do. */
  const soon = () => {
    if (timer) clearTimeout(timer);
    callOff();
    timer = setTimeout(() => (callOff = whenIdle(() => void run())), WAIT_MS);
  };

  let seen: RootState['note']['words'] | null = null;
  const stop = store.subscribe(() => {
    const { words } = store.getState().note;
    if (words === seen) return;
    seen = words;
    soon();
  });
  return () => {
    ended = true;
    if (timer) clearTimeout(timer);
    callOff();
    stop();
  };
}

/** Words that the writer uses, and the course: what was put right and typed in the note, its title, and the titles and tags of notes. */
function ownWords({ note, library }: RootState): string[] {
  const typed = Object.values(note.note?.ink ?? {}).flatMap((list) => list.flatMap((it) => (it.kind === 'typed' ? [it.text] : [])));
  const tags = Object.values(library.places).flatMap((p) => p.tags ?? []);
  const said = [...(note.note?.header.written ?? []).map((w) => w.text), ...typed, ...library.headers.map((h) => h.title), ...tags];
  // Numbers need no list.
  return [...new Set(said.flatMap((text) => text.split(/[^\p{L}\p{N}'-]+/u)).filter((w) => w.length > 1 && /\p{L}/u.test(w)))];
}

/** The reader learns what the writer says of a word; what was taught in a note that is locked for itself stays in that note. */
const teach =
  (strokes: readonly string[], text: string): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const { note } = getState();
    if (!note.note || !note.id) return;
    const word = { text, note: note.id };
    const ids = new Set(strokes);
    const shape = shapeOf(Object.values(note.note.ink).flatMap((list) => strokesOf(list).flatMap((s) => (ids.has(s.id) ? [traceOfStroke(s)] : []))));
    if (!shape) return;
    learned = [...learned, { ...word, shape }];
    // Its likes in this note are read so from now on.
    for (const [page, { grouping, of }] of Object.entries(note.words)) {
      const known = getState().note.texts[page];
      const traces = known ? tracesOf(of, grouping.words) : [];
      const likes = known ? likesOf(shape, traces.map(shapeOf), SAME) : [];
      const words = likes.flatMap(({ index }): [string, ReadWord][] => {
        const key = wordKey(grouping.words[index].strokes);
        return known.words[key] ? [[key, { ...known.words[key], readings: withTaught(known.words[key].readings, text) }]] : [];
      });
      if (words.length) dispatch(noteSlice.actions.textRead({ note: note.id, page, text: { ...known, words: { ...known.words, ...Object.fromEntries(words) } } }));
    }
    // Without room, or without the reader, the word is put right all the same.
    await Promise.allSettled([learnWord({ ...word, shape }), knowInWorker([text])]);
  };

/** The word is this, by the writer; null: as it was read. */
export const correct =
  (strokes: readonly string[], text: string | null): Thunk<boolean> =>
  (dispatch, getState) => {
    const old = getState().note.note?.header.written?.find((w) => wordKey(w.strokes) === wordKey(strokes));
    const said = text?.trim().slice(0, 500);
    if (!said && !old) return false;
    if (!said) return dispatch(change({ rows: [drop('written', old!.strokes[0])] }));
    void dispatch(teach(strokes, said));
    return dispatch(change({ rows: [...(old && old.strokes[0] !== strokes[0] ? [drop('written', old.strokes[0])] : []), put('written', strokes[0], { strokes: [...strokes], text: said })] }));
  };

/** The text of the open note as far as it is read: lines, an empty line between paragraphs and pages. */
export const textOfNote = (): Thunk<string> => (_, getState) => {
  const { note, words, texts } = getState().note;
  const own = writtenByKey(note?.header.written);
  const pages = (note?.header.pages ?? []).map(({ id }) => {
    const grouping = words[id]?.grouping;
    if (!grouping) return '';
    return textLines(grouping)
      .map((line) => `${line.begins ? '\n' : ''}${line.words.flatMap((i) => shownWord(grouping.words[i], texts[id], own)?.text ?? []).join(' ')}`)
      .join('\n')
      .trim();
  });
  return pages.filter(Boolean).join('\n\n');
};
