/** What the writer taught the reader, for all notes that are not locked one by one. */
import { readLearned, writeLearned, type Learned } from '../core/reading/learned';
import { NewerError, RecordError } from '../core/record';
import { alone } from './alone';
import { keys, notesDb } from './databases';

/** A damaged record is none. */
export async function learnedWords(): Promise<Learned[]> {
  const text = await notesDb().getItem(keys.learned);
  if (text === null) return [];
  try {
    return readLearned(text);
  } catch (e) {
    if (!(e instanceof RecordError || e instanceof NewerError)) throw e;
    return [];
  }
}

/** Another tab may have learned others meanwhile: they stay. @throws what storage throws */
export const learnWord = (word: Learned): Promise<void> => alone('learned', async () => notesDb().setItem(keys.learned, writeLearned([...(await learnedWords()), word])));
