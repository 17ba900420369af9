/** Groups the strokes of a page into words, away from the thread that draws. */
import { expose } from 'comlink';
import { groupWords } from '../core/ink/words/words';

const words = { groupWords };
export type Words = typeof words;

expose(words);
