/** Draws the picture of a page from its records of ink, away from the thread that answers the hand. */
import { expose, transfer } from 'comlink';
import { inSight, type Placed } from '../../core/note/kinds/kinds';
import { readInk } from '../../core/note/records/inkChunk';
import { wholePage } from '../../core/note/board';
import type { Page } from '../../core/note/schema';
import { NewerError, RecordError } from '../../core/record';
import { backdropOf } from './backdrops';
import { bitmapsOf, type ReadContent } from './bitmaps';
import { paintPage } from './pagePainter';
import { facesOf } from './typedFaces';

/** Strokes of other pages in the records are passed over. `width`: px. `content`: bytes of pictures, null where they are not here. */
async function draw(page: Page, ink: readonly string[], width: number, backdrop: ImageBitmap | null, content: ReadContent): Promise<Uint8Array> {
  const placed: Placed[] = [];
  for (const text of ink) {
    try {
      placed.push(...readInk(text).placed.filter((s) => s.page === page.id));
    } catch (e) {
      // A damaged record is told when the note is opened; its picture is made of the rest.
      if (!(e instanceof RecordError || e instanceof NewerError)) throw e;
    }
  }
  const whole = wholePage(page, inSight(placed));
  const k = width / page.w;
  const pictures = await bitmapsOf(placed, k, content);
  await facesOf(placed);
  const canvas = new OffscreenCanvas(width, Math.max(1, Math.round(page.h * k)));
  const ctx = canvas.getContext('2d')!;
  ctx.scale(k, k);
  paintPage(ctx, { page: whole.page, placed: whole.placed, part: [0, 0, page.w, page.h], k, backdrop: backdrop && backdropOf(backdrop, page), pictures: (it) => pictures.get(it) ?? null });
  backdrop?.close();
  const bytes = new Uint8Array(await (await canvas.convertToBlob({ type: 'image/webp', quality: 0.8 })).arrayBuffer());
  return transfer(bytes, [bytes.buffer]);
}

const pictures = { draw };
export type Pictures = typeof pictures;

expose(pictures);
