import { groupWords, type Grouping } from '../core/ink/words';
import type { Stroke } from '../core/ink/stroke';

export interface WordsRequest {
  readonly id: number;
  readonly strokes: readonly Stroke[];
}
export type WordsAnswer = { readonly id: number; readonly grouping: Grouping } | { readonly id: number; readonly error: string };

let worker: Worker | null = null;
let broken = false;
let next = 1;
const waiting = new Map<number, { strokes: readonly Stroke[]; resolve: (g: Grouping) => void }>();

/** A worker that cannot be had (or dies) costs speed, not words: the same is computed here. */
function giveUp(): void {
  broken = true;
  worker?.terminate();
  worker = null;
  for (const { strokes, resolve } of waiting.values()) resolve(groupWords(strokes));
  waiting.clear();
}

export function groupInWorker(strokes: readonly Stroke[]): Promise<Grouping> {
  if (broken || typeof Worker === 'undefined') return Promise.resolve(groupWords(strokes));
  if (!worker) {
    worker = new Worker(new URL('./words.worker', window.location.href));
    worker.onerror = giveUp;
    worker.onmessage = ({ data }: MessageEvent<WordsAnswer>) => {
      const asked = waiting.get(data.id);
      waiting.delete(data.id);
      if (!asked) return;
      if ('grouping' in data) asked.resolve(data.grouping);
      else giveUp();
    };
  }
  const id = next++;
  return new Promise((resolve) => {
    waiting.set(id, { strokes, resolve });
    worker!.postMessage({ id, strokes } satisfies WordsRequest);
  });
}
