/** Looks through the text of all notes: what was read of them is kept, and what was never read is read for it, the newest notes first. */
import type { Note } from '../core/note/edit';
import { boxesMeet, type Box } from '../core/ink/stroke';
import { coveredBy, strokesOf, type Placed } from '../core/note/kinds/kinds';
import { MODEL } from '../core/reading/model';
import { folderByText, termsOf, wordsApart, type NoteTerms } from '../core/library/byText';
import { isOf, madeOf, type MadeOf, type NoteSummary } from '../core/note/schema';
import { wordsInTime, type WordInTime } from '../core/reading/inTime';
import { foundIn, type FoundWord } from '../core/reading/noteWords';
import { shownWord, wordKey, writtenByKey, type PageText, type ReadWord } from '../core/reading/pageText';
import { queryOf, searchWords } from '../core/reading/search';
import { readInWorker } from '../platform/reading';
import { groupInWorker } from '../platform/wordsWorker';
import { readNote } from '../storage/noteReading';
import { markRead, readNoteText, readTextOf, writeTextOf } from '../storage/textFile';
import { LockedError } from '../storage/sealing';
import { isIn, keepsReadable } from './forgetting';
import { isBusy, runJob } from './jobs';
import { say } from './messages';
import { keptText, tracesOf, UNREAD } from './textReading';
import type { Thunk } from './thunk';
import { tellWordList } from './wordList';

interface NoteWords {
  readonly of: MadeOf;
  readonly pages: readonly { readonly page: string; readonly words: readonly FoundWord[] }[];
}

/** By note; in memory only, and gone with a lock. */
const index = new Map<string, NoteWords>();
/** Notes that cannot be read: they are left alone until the program starts anew. */
const unreadable = new Set<string>();

/** Ink of notes of which a hit is shown, the last few. */
const inks = new Map<string, { readonly of: MadeOf; readonly note: Promise<Pick<Note, 'header' | 'ink'>> }>();
const INKS = 6;

keepsReadable('texts of notes that were looked through, and ink of hits', {
  forget: (of) => {
    for (const kept of [index, inks, unreadable]) for (const id of [...kept.keys()]) if (isIn(of, id)) kept.delete(id);
  },
});

const wordsOf = (pages: readonly { readonly page: string; readonly text: PageText }[], of: MadeOf): NoteWords => ({ of: madeOf(of), pages: pages.map(({ page, text }) => ({ page, words: foundIn(text) })) });

/** Words that the worker reads at a time. */
const AT_ONCE = 24;

/** Reads a note that is not open, and keeps what was read. @throws what storage and the reader throw */
async function readClosed(id: string, signal: AbortSignal): Promise<NoteWords> {
  const { note } = await readNote(id);
  const own = writtenByKey(note.header.written);
  const pages: { page: string; text: PageText }[] = [];
  for (const { id: page } of note.header.pages) {
    const placed = note.ink[page] ?? [];
    if (!placed.length) continue;
    signal.throwIfAborted();
    const grouping = await groupInWorker(strokesOf(placed));
    const stored = await readTextOf(id, page);
    const words: Record<string, ReadWord> = stored?.model === MODEL ? { ...stored.words } : {};
    const unread = grouping.words.filter((w) => !words[wordKey(w.strokes)] && !shownWord(w, undefined, own));
    for (let i = 0; i < unread.length; i += AT_ONCE) {
      signal.throwIfAborted();
      const some = unread.slice(i, i + AT_ONCE);
      (await readInWorker(tracesOf(placed, some))).forEach((read, k) => (words[wordKey(some[k].strokes)] = read));
    }
    const text = keptText(placed, grouping, { model: MODEL, words }, own);
    // Without room it is read again the next time.
    await writeTextOf(id, page, text).catch(() => undefined);
    pages.push({ page, text });
  }
  await markRead(id, note.header, pages.map((p) => p.page)).catch(() => undefined);
  return wordsOf(pages, note.header);
}

/** What is to be looked through is in memory afterwards: read from where it is kept at once, and the rest in the background. `told`: more can be found now; `only`: these notes, not all. */
export const loadTexts =
  (told: () => void, only?: ReadonlySet<string>): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    // Of the open note lists know only what it was when it was last put away.
    const { note: open } = getState().note;
    const headers = () => getState().library.headers.filter((h) => !only || only.has(h.id)).map((h) => (open?.header.id === h.id ? { ...h, ...madeOf(open.header) } : h));
    const isDue = (h: NoteSummary) => !isOf(index.get(h.id)?.of, h) && !unreadable.has(h.id);
    const closed: string[] = [];
    for (const header of [...headers()].filter(isDue).sort((a, b) => b.changed - a.changed)) {
      const { id } = header;
      const pages = await readNoteText(id, header).catch(() => null);
      if (pages) index.set(id, wordsOf(pages, header));
      else closed.push(id);
    }
    told();
    if (!closed.length || isBusy(getState(), 'reading')) return;
    try {
      await readInWorker([]);
      await tellWordList();
    } catch {
      return dispatch(say('reading', 'info', UNREAD));
    }
    await dispatch(
      runJob({
        kind: 'reading',
        title: closed.length === 1 ? 'Reading a note' : `Reading ${closed.length} notes`,
        async task({ signal, progress }) {
          for (const [i, id] of closed.entries()) {
            signal.throwIfAborted();
            progress(i / closed.length);
            // What cannot be opened is said where one opens it.
            try {
              index.set(id, await readClosed(id, signal));
              told();
            } catch (e) {
              signal.throwIfAborted();
              // What is locked by now is not unreadable: it waits for the lock.
              if (!(e instanceof LockedError || (e instanceof DOMException && e.name === 'AbortError'))) unreadable.add(id);
            }
          }
        },
      }),
    );
  };

/** The words of a note in the order of time, as far as it was read before; nothing is read for it. */
export const readWordsInTime =
  (header: Pick<NoteSummary, 'id' | 'changed' | 'state' | 'timeline'>): Thunk<Promise<WordInTime[]>> =>
  async () => {
    const { id, timeline } = header;
    const known = index.get(id);
    const pages = isOf(known?.of, header) ? known!.pages : ((await readNoteText(id, header).catch(() => null)) ?? []).map(({ text }) => ({ words: foundIn(text) }));
    return wordsInTime(pages.map((p) => p.words), timeline);
  };

/** What the text of a note proposes: tags, and a folder by its id. It is never done by itself. */
export const proposals =
  (id: string): Thunk<Promise<{ readonly tags: readonly string[]; readonly folder: string | null }>> =>
  async (_, getState) => {
    const { headers, places } = getState().library;
    const terms: NoteTerms[] = [];
    for (const h of headers) {
      if (places[h.id]?.binned) continue;
      const known = index.get(h.id);
      // What was read before is good enough for this, also where a note was changed since.
      const words = known?.pages.flatMap((p) => p.words) ?? ((await readNoteText(h.id, null).catch(() => null)) ?? []).flatMap(({ text }) => foundIn(text));
      if (words.length) terms.push(termsOf(h.id, places[h.id]?.folder ?? null, words.filter((w) => (w.sure[0] ?? 1) > SURE)));
    }
    const own = terms.find((t) => t.note === id);
    if (!own) return { tags: [], folder: null };
    const has = new Set((places[id]?.tags ?? []).map((t) => t.toLowerCase()));
    return { tags: wordsApart(own, terms).filter((t) => !has.has(t.toLowerCase())), folder: folderByText(own, terms) };
  };
/** A word that was read less surely proposes nothing. */
const SURE = 0.5;

export interface LibraryHit {
  readonly note: string;
  readonly page: string;
  /** The words that were found, and those around them on their line. */
  readonly found: readonly FoundWord[];
  readonly around: readonly FoundWord[];
  readonly score: number;
}

/** What lies in a line of the page and not just reaches into it, by the heights of both. */
function liesIn(it: Placed, line: Box): boolean {
  const box = coveredBy(it);
  return boxesMeet(box, line) && Math.min(box[3], line[3]) - Math.max(box[1], line[1]) >= (box[3] - box[1]) / 2;
}

/** What is in a line of a note that may be closed, for a picture of it, and the number of its page. @throws what storage throws */
export const inkOfLine =
  ({ id, ...of }: Pick<NoteSummary, 'id' | 'changed' | 'state'>, page: string, line: Box): Thunk<Promise<{ readonly placed: readonly Placed[]; readonly number: number }>> =>
  async (_, getState) => {
    const open = getState().note;
    const known = inks.get(id);
    const { header, ink } = open.id === id && open.note ? open.note : await (isOf(known?.of, of) ? known!.note : opened(id, of));
    return { placed: (ink[page] ?? []).filter((it) => liesIn(it, line)), number: header.pages.findIndex((p) => p.id === page) + 1 };
  };

function opened(id: string, of: MadeOf): Promise<Pick<Note, 'header' | 'ink'>> {
  const note = readNote(id).then((o) => o.note);
  note.catch(() => inks.delete(id));
  inks.delete(id);
  inks.set(id, { of: madeOf(of), note });
  for (const oldest of inks.keys()) {
    if (inks.size <= INKS) break;
    inks.delete(oldest);
  }
  return note;
}

/** Words before and after what was found. */
const AROUND = 4;
/** Hits that are shown of a note. */
const OF_A_NOTE = 5;

/** What is found in the text of notes, the best first; a few of each. */
export function searchTextsOf(notes: readonly string[], query: string): LibraryHit[] {
  const asked = queryOf(query);
  if (!asked.all.length) return [];
  return notes
    .flatMap((note) => {
      const pages = index.get(note)?.pages ?? [];
      const words = pages.flatMap((p) => p.words);
      const pageOf = pages.flatMap((p) => p.words.map(() => p.page));
      return searchWords(words, asked)
        .slice(0, OF_A_NOTE)
        .map(({ words: at, score }): LibraryHit => {
          const page = pageOf[at[0]];
          const around = words.slice(Math.max(0, at[0] - AROUND), at[at.length - 1] + AROUND + 1).filter((w, i) => pageOf[Math.max(0, at[0] - AROUND) + i] === page && w.line === words[at[0]].line);
          return { note, page, found: at.map((i) => words[i]), around, score };
        });
    })
    .sort((a, b) => b.score - a.score);
}
