import type { Grouping } from '../core/ink/words/grouping';
import { groupWords } from '../core/ink/words/words';
import type { Stroke } from '../core/ink/stroke';
import { WorkerCall } from './worker';
import type { Words } from './words.worker';

const worker = new WorkerCall<Words>(() => new Worker(new URL('./words.worker', window.location.href)));

export async function groupInWorker(strokes: readonly Stroke[]): Promise<Grouping> {
  if (!worker.possible) return groupWords(strokes);
  try {
    return await worker.call((w) => w.groupWords(strokes));
  } catch {
    // A worker that cannot be had costs speed, not words: the same is computed here.
    return groupWords(strokes);
  }
}
