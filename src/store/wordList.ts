/** The user's own word list: added from a file, taken away. */
import { readWordList } from '../core/reading/lexicon';
import { knowInWorker } from '../platform/reading';
import { dropWordList, storeWordList, storedWordList } from '../storage/wordListFile';
import { keepsReadable } from './forgetting';
import { reasonOf, say } from './messages';
import type { Thunk } from './thunk';

export interface KnownList {
  readonly name: string;
  readonly words: number;
}

/** The list that is there; null where there is none, or it cannot be read now. */
export const wordList = (): Thunk<Promise<KnownList | null>> => async () => {
  const list = await storedWordList().catch(() => null);
  return list && { name: list.name, words: list.words.length };
};

/** Another file takes the place of the one before. */
export const addWordList =
  (file: File): Thunk<Promise<void>> =>
  async (dispatch) => {
    try {
      const words = readWordList(new Uint8Array(await file.arrayBuffer()));
      await storeWordList({ name: file.name, words });
      // A reader that does not run yet hears of them when it is started.
      if (isTold) await knowInWorker(words).catch(() => undefined);
      dispatch(say('reading', 'info', `${words.length.toLocaleString('en')} words of “${file.name}” are known from now on. What was read before stays as it is.`));
    } catch (e) {
      dispatch(say('reading', 'problem', `“${file.name}” was not taken as a word list: ${reasonOf(e)}. A word list is a text file with a word on each line; nothing was changed.`));
    }
  };

export const removeWordList = (): Thunk<Promise<void>> => async (dispatch) => {
  try {
    await dropWordList();
    dispatch(say('reading', 'info', 'The word list is taken away; its words are forgotten when Scrivo is started the next time.'));
  } catch (e) {
    dispatch(say('reading', 'problem', `The word list could not be taken away (${reasonOf(e)}). Try again.`));
  }
};

let isTold = false;
keepsReadable('whether the reader knows the word list', { forget: () => void (isTold = false) });
/** The reader of this visit hears of the list once; behind a lock there is none yet. */
export async function tellWordList(): Promise<void> {
  if (isTold) return;
  let list;
  try {
    list = await storedWordList();
  } catch {
    return;
  }
  isTold = true;
  if (list) await knowInWorker(list.words);
}
