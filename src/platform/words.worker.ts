/** Groups the strokes of a page into words, away from the thread that draws. */
import { groupWords } from '../core/ink/words';
import type { WordsAnswer, WordsRequest } from './wordsWorker';

const scope = self as unknown as { onmessage: (e: MessageEvent<WordsRequest>) => void; postMessage: (answer: WordsAnswer) => void };

scope.onmessage = ({ data }) => {
  try {
    scope.postMessage({ id: data.id, grouping: groupWords(data.strokes) });
  } catch (e) {
    scope.postMessage({ id: data.id, error: e instanceof Error ? e.message : String(e) });
  }
};
