import { deriveKey, type Derive } from '../core/vault/passphrase';

export interface DeriveRequest {
  readonly passphrase: string;
  readonly derive: Derive;
}
export type DeriveAnswer = { readonly key: Uint8Array } | { readonly error: string };

/** The key of a passphrase (32 bytes), from a worker that ends with it, so that its memory goes. */
export function deriveInWorker(passphrase: string, derive: Derive): Promise<Uint8Array> {
  if (typeof Worker === 'undefined') return deriveKey(passphrase, derive);
  return new Promise<Uint8Array>((resolve, reject) => {
    const worker = new Worker(new URL('./passphrase.worker', window.location.href));
    const end = (then: () => void) => {
      worker.terminate();
      then();
    };
    // A worker that cannot be had costs a pause of the screen, not the notes.
    worker.onerror = () => end(() => deriveKey(passphrase, derive).then(resolve, reject));
    worker.onmessage = ({ data }: MessageEvent<DeriveAnswer>) => end(() => ('key' in data ? resolve(data.key) : reject(new Error(data.error))));
    worker.postMessage({ passphrase, derive } satisfies DeriveRequest);
  });
}
