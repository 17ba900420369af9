/** Finds levels and speech of a take in a worker, which gets its sound in portions and never holds more than one. */
import type { Heard } from '../core/audio/heard';
import type { Packet } from '../core/audio/opus';
import { PIECE_MS } from '../core/audio/pieces';
import type { Hearing } from './hearing.worker';
import { WorkerCall } from './worker';

/** Pieces that are read and decoded at a time: ten seconds of sound. */
const AT_ONCE = 2;

/** What a browser lacks for it, as a sentence; null when nothing. */
export const hearingObstacle = (): string | null => (typeof Worker === 'undefined' || typeof AudioDecoder === 'undefined' ? 'This browser cannot decode sound by itself, so pauses and gaps are not found here. Everything else works.' : null);

export interface HearingWork {
  /** Packets of some pieces of the take. */
  read(pieces: readonly number[]): Promise<readonly (readonly Packet[])[]>;
  /** Length of the take, ms. */
  readonly ms: number;
  /** With the speech model; by levels alone it is several times as fast. */
  readonly model: boolean;
  progress(share: number): void;
  readonly signal: AbortSignal;
}

/** @throws Error with the reason when it cannot be done, DOMException AbortError when it was stopped. */
export async function hear({ read, ms, model, progress, signal }: HearingWork): Promise<Heard> {
  signal.throwIfAborted();
  const worker = new WorkerCall<Hearing>(() => new Worker(new URL('./hearing.worker', window.location.href)));
  const stopped = new Promise<never>((_, reject) => signal.addEventListener('abort', () => reject(new DOMException('Stopped.', 'AbortError')), { once: true }));
  stopped.catch(() => undefined);
  const ask = <R>(use: Parameters<typeof worker.call<R>>[0]): Promise<R> => {
    signal.throwIfAborted();
    return Promise.race([worker.call(use), stopped]);
  };
  try {
    await ask((w) => w.begin(model));
    const count = Math.ceil(ms / PIECE_MS);
    for (let k = 0; k < count; k += AT_ONCE) {
      const pieces = Array.from({ length: Math.min(AT_ONCE, count - k) }, (_, i) => k + i);
      const packets = (await read(pieces)).flat();
      await ask((w) => w.add(packets));
      progress(Math.min(1, (k + AT_ONCE) / count));
    }
    const { levels, speech } = await ask((w) => w.finish());
    return { ms, by: model ? 'model' : 'levels', speech, levels };
  } finally {
    worker.end();
  }
}
