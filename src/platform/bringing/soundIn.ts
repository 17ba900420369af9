/** Sound of files, read in a worker. */
import { proxy } from 'comlink';
import type { Packet } from '../../core/audio/opus';
import { WorkerCall } from '../worker';
import type { SoundTaken, SoundWork } from './sound.worker';

/** Whose length is not found by then is no sound that anybody could hear. */
const LOOK_MS = 30_000;

const make = (): WorkerCall<SoundWork> => new WorkerCall<SoundWork>(() => new Worker(new URL('./sound.worker', window.location.href)));

/** A worker of its own for each: it is ended with its file, or when that is stopped. */
async function inWorker<R>(signal: AbortSignal | null, ask: (worker: WorkerCall<SoundWork>) => Promise<R>): Promise<R> {
  const worker = make();
  const stop = () => worker.end();
  signal?.addEventListener('abort', stop, { once: true });
  try {
    signal?.throwIfAborted();
    return await ask(worker);
  } finally {
    signal?.removeEventListener('abort', stop);
    worker.end();
  }
}

/** How long the sound of a file is, ms. @throws Error with a clause when there is none that can be read. */
export const lookAtSound = (file: Blob): Promise<SoundTaken> => inWorker(null, (w) => w.call((api) => api.look(file), LOOK_MS));

/** Its packets, in order, as they come. @throws AbortError when stopped, and Error with a clause */
export const soundOfFile = (file: Blob, signal: AbortSignal, next: (packets: Packet[], share: number) => Promise<void>): Promise<SoundTaken> => inWorker(signal, (w) => w.call((api) => api.bring(file, proxy(next))));
