/** Handwriting is read in a worker of its own, which is started when it is first needed. */
import type { Trace } from '../core/reading/drawing';
import type { LexiconWord } from '../core/reading/lexicon';
import type { ReadWord } from '../core/reading/pageText';
import type { ReadingWorker } from './reading.worker';
import { WorkerCall } from './worker';

const worker = new WorkerCall<ReadingWorker>(() => new Worker(new URL('./reading.worker', window.location.href)));

/** @throws Error when the reader cannot be had */
export const readInWorker = (words: readonly (readonly Trace[])[]): Promise<ReadWord[]> => worker.call((w) => w.read(words));
/** All that it was told goes with it. Who waits for it is told that it was stopped. */
export const forgetReader = (): void => worker.end();
export const knowInWorker = (words: readonly (string | LexiconWord)[]): Promise<void> => worker.call((w) => w.know(words));
