/** Pictures of pages, drawn in a worker. */
import type { Page } from '../../core/note/schema';

export interface PictureRequest {
  readonly id: number;
  readonly page: Page;
  /** Records of ink of the note; strokes of other pages are passed over. */
  readonly ink: readonly string[];
  /** px across. */
  readonly width: number;
}
export type PictureAnswer = { readonly id: number; readonly bytes: Uint8Array } | { readonly id: number; readonly error: string };

let worker: Worker | null = null;
let next = 1;
const waiting = new Map<number, { resolve: (bytes: Uint8Array | null) => void }>();

function give(id: number, bytes: Uint8Array | null): void {
  waiting.get(id)?.resolve(bytes);
  waiting.delete(id);
}

/** A picture as WebP; null where the browser cannot draw one in a worker: the list then does without. */
export function drawPage(page: Page, ink: readonly string[], width: number): Promise<Uint8Array | null> {
  if (typeof Worker === 'undefined' || typeof OffscreenCanvas === 'undefined') return Promise.resolve(null);
  if (!worker) {
    worker = new Worker(new URL('./picture.worker', window.location.href));
    worker.onerror = () => {
      for (const id of [...waiting.keys()]) give(id, null);
      worker?.terminate();
      worker = null;
    };
    worker.onmessage = ({ data }: MessageEvent<PictureAnswer>) => give(data.id, 'bytes' in data ? data.bytes : null);
  }
  const id = next++;
  return new Promise((resolve) => {
    waiting.set(id, { resolve });
    worker!.postMessage({ id, page, ink, width } satisfies PictureRequest);
  });
}
