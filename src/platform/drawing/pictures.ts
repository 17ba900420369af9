/** Pictures of pages, drawn in a worker. */
import { transfer } from 'comlink';
import type { Page } from '../../core/note/schema';
import { WorkerCall } from '../worker';
import { decodeFor } from './backdrops';
import type { Pictures } from './picture.worker';

const worker = new WorkerCall<Pictures>(() => new Worker(new URL('./picture.worker', window.location.href)));

/**
 * A picture as WebP, `width` px across, of a page and the records of ink of its note; `behind`: the bytes of the picture behind the page. Null
 * where the browser cannot draw one in a worker: the list then does without.
 */
export async function drawPage(page: Page, ink: readonly string[], width: number, behind: Uint8Array | null): Promise<Uint8Array | null> {
  if (!worker.possible || typeof OffscreenCanvas === 'undefined') return null;
  // A picture that cannot be shown is told where the page is open.
  const bitmap = behind && (await decodeFor(page, behind, width / page.w).catch(() => null));
  return worker.call((w) => w.draw(page, ink, width, bitmap && transfer(bitmap, [bitmap]))).catch(() => null);
}
