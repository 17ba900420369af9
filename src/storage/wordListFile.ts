/** The user's own word list, for reading handwriting. */
import { z } from 'zod';
import type { LexiconWord } from '../core/reading/lexicon';
import { JsonRecord, NewerError, RecordError } from '../core/record';
import { keys, notesDb } from './databases';

export interface WordList {
  /** Of the file it came from. */
  readonly name: string;
  readonly words: readonly LexiconWord[];
}

const record = new JsonRecord<{ name: string; words: [string, number][] }>({
  what: 'the word list',
  version: 1,
  schema: z.looseObject({ name: z.string().max(300), words: z.array(z.tuple([z.string().min(1).max(60), z.number()])).max(300_000) }),
});

/** Null where there is none; a damaged one is none. */
export async function storedWordList(): Promise<WordList | null> {
  const text = await notesDb().getItem(keys.words);
  if (text === null) return null;
  try {
    const { name, words } = record.read(text);
    return { name, words: words.map(([word, weight]) => ({ text: word, weight })) };
  } catch (e) {
    if (!(e instanceof RecordError || e instanceof NewerError)) throw e;
    return null;
  }
}

/** @throws what storage throws */
export const storeWordList = ({ name, words }: WordList): Promise<void> => notesDb().setItem(keys.words, record.write({ name: name.slice(0, 300), words: words.map(({ text, weight }): [string, number] => [text, weight]) }));

export const dropWordList = (): Promise<void> => notesDb().removeMany([keys.words]);
