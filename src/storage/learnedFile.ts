/** What the writer taught the reader: for all notes in one record, and what was taught in a locked note with that note. */
import { readLearned, writeLearned, type Learned } from '../core/reading/learned';
import { NewerError, RecordError } from '../core/record';
import { alone } from './alone';
import { keys, keysStarting, notesDb, readMany } from './databases';
import { policy } from './sealing';

/** A damaged record is none. */
function read(text: string | null | undefined): Learned[] {
  try {
    return text ? readLearned(text) : [];
  } catch (e) {
    if (!(e instanceof RecordError || e instanceof NewerError)) throw e;
    return [];
  }
}

/** All that may be known while the lock is as it is. */
export async function learnedWords(): Promise<Learned[]> {
  const found = await readMany({ getMany: (some) => notesDb().getOpen(some) }, [keys.learned, ...(await keysStarting('notes', keys.taught('')))]);
  return [...found.values()].flatMap(read);
}

/** Another tab may have learned others meanwhile: they stay. @throws what storage throws */
export const learnWord = (word: Learned): Promise<void> =>
  alone('learned', async () => {
    const key = word.note !== undefined && policy.current.notes.has(word.note) ? keys.taught(word.note) : keys.learned;
    await notesDb().setItem(key, writeLearned([...read(await notesDb().getItem(key)), word]));
  });

/**
 * Notes are about to be locked: what was taught in them goes with them. `texts`: words that were put right in each; what was learned before it was written down
 * where belongs to a note that has such a word.
 */
export const learnedGoWith = (texts: ReadonlyMap<string, ReadonlySet<string>>): Promise<void> =>
  alone('learned', async () => {
    const all = read(await notesDb().getItem(keys.learned));
    const noteOf = ({ note, text }: Learned): string | undefined => (note === undefined ? [...texts].find(([, words]) => words.has(text))?.[0] : texts.has(note) ? note : undefined);
    const going = all.filter((word) => noteOf(word) !== undefined);
    if (!going.length) return;
    const entries: Record<string, string> = { [keys.learned]: writeLearned(all.filter((word) => noteOf(word) === undefined)) };
    for (const note of new Set(going.map((word) => noteOf(word)!))) {
      const key = keys.taught(note);
      entries[key] = writeLearned([...read(await notesDb().getItem(key)), ...going.filter((word) => noteOf(word) === note).map((word) => ({ ...word, note }))]);
    }
    await notesDb().setMany(entries);
  });
