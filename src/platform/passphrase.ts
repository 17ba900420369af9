import { deriveKey, type Derive } from '../core/vault/passphrase';
import type { Deriving } from './passphrase.worker';
import { WorkerCall } from './worker';

/** The key of a passphrase (32 bytes), from a worker that ends with it, so that its memory goes. */
export async function deriveInWorker(passphrase: string, derive: Derive): Promise<Uint8Array> {
  const worker = new WorkerCall<Deriving>(() => new Worker(new URL('./passphrase.worker', window.location.href)));
  if (!worker.possible) return deriveKey(passphrase, derive);
  try {
    return await worker.call((w) => w.deriveKey(passphrase, derive));
  } catch {
    // A worker that cannot be had costs a pause of the screen, not the notes.
    return deriveKey(passphrase, derive);
  } finally {
    worker.end();
  }
}
