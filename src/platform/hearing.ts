/** Finds levels and speech of a take in a worker, which gets its sound in portions and never holds more than one. */
import type { Heard } from '../core/audio/heard';
import type { Packet } from '../core/audio/opus';
import { PIECE_MS } from '../core/audio/pieces';
import type { Span } from '../core/audio/speech';

export type HearingRequest = { readonly kind: 'begin'; readonly model: boolean } | { readonly kind: 'sound'; readonly packets: readonly Packet[] } | { readonly kind: 'end' };
export type HearingAnswer = { readonly kind: 'ready' } | { readonly kind: 'done'; readonly levels: Uint8Array; readonly speech: readonly Span[] } | { readonly kind: 'failed'; readonly reason: string };

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
  const worker = new Worker(new URL('./hearing.worker', window.location.href));
  try {
    const ask = (request: HearingRequest) =>
      new Promise<HearingAnswer>((resolve, reject) => {
        // Stopped while sound was being read: there is no event to come.
        signal.throwIfAborted();
        const stop = () => reject(new DOMException('Stopped.', 'AbortError'));
        signal.addEventListener('abort', stop, { once: true });
        worker.onerror = (e) => reject(new Error(e.message || 'the worker could not be started'));
        worker.onmessage = ({ data }: MessageEvent<HearingAnswer>) => {
          signal.removeEventListener('abort', stop);
          if (data.kind === 'failed') reject(new Error(data.reason));
          else resolve(data);
        };
        worker.postMessage(request);
      });
    await ask({ kind: 'begin', model });
    const count = Math.ceil(ms / PIECE_MS);
    for (let k = 0; k < count; k += AT_ONCE) {
      const pieces = Array.from({ length: Math.min(AT_ONCE, count - k) }, (_, i) => k + i);
      const packets = (await read(pieces)).flat();
      await ask({ kind: 'sound', packets });
      progress(Math.min(1, (k + AT_ONCE) / count));
    }
    const end = await ask({ kind: 'end' });
    if (end.kind !== 'done') throw new Error('the worker gave no answer');
    return { ms, by: model ? 'model' : 'levels', speech: end.speech, levels: end.levels };
  } finally {
    worker.terminate();
  }
}
