/** Pictures of pages, drawn in a worker. */
import { proxy, transfer } from 'comlink';
import type { Page } from '../../core/note/schema';
import { WorkerCall } from '../worker';
import type { ReadContent } from './bitmaps';
import type { Pictures } from './picture.worker';

const worker = new WorkerCall<Pictures>(() => new Worker(new URL('./picture.worker', window.location.href)));

/**
 * A picture as WebP, `width` px across, of a page and the records of ink of its note; `behind`: what lies behind the page; `content`: bytes of pictures on it. Null
 * where the browser cannot draw one in a worker: the list then does without.
 */
export async function drawPage(page: Page, ink: readonly string[], width: number, behind: ImageBitmap | null, content: ReadContent): Promise<Uint8Array | null> {
  if (!worker.possible || typeof OffscreenCanvas === 'undefined') return null;
  return worker.call((w) => w.draw(page, ink, width, behind && transfer(behind, [behind]), proxy(content))).catch(() => null);
}
