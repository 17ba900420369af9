/** Draws the picture of a page from its records of ink, away from the thread that answers the hand. */
import { paintOrder, type Stroke } from '../../core/ink/stroke';
import { readChunk, RecordError } from '../../core/note/records';
import { InkPainter } from './inkPainter';
import { LIGHT_PAGE } from './pageLook';
import { rulePaper } from './paperPainter';
import type { PictureAnswer, PictureRequest } from './pictures';

const scope = self as unknown as { onmessage: (e: MessageEvent<PictureRequest>) => void; postMessage: (answer: PictureAnswer, transfer?: Transferable[]) => void };

async function draw({ page, ink, width }: PictureRequest): Promise<Uint8Array> {
  const strokes: Stroke[] = [];
  for (const text of ink) {
    try {
      strokes.push(...readChunk(text).strokes.filter((s) => s.page === page.id));
    } catch (e) {
      // A damaged record is told when the note is opened; its picture is made of the rest.
      if (!(e instanceof RecordError)) throw e;
    }
  }
  const k = width / page.w;
  const canvas = new OffscreenCanvas(width, Math.max(1, Math.round(page.h * k)));
  const ctx = canvas.getContext('2d')!;
  ctx.scale(k, k);
  ctx.fillStyle = LIGHT_PAGE.sheet(page.paper);
  ctx.fillRect(0, 0, page.w, page.h);
  rulePaper(ctx, page, [0, 0, page.w, page.h], k, LIGHT_PAGE);
  new InkPainter(() => LIGHT_PAGE).paint(ctx, strokes.sort(paintOrder));
  return new Uint8Array(await (await canvas.convertToBlob({ type: 'image/webp', quality: 0.8 })).arrayBuffer());
}

scope.onmessage = ({ data }) => {
  draw(data).then(
    (bytes) => scope.postMessage({ id: data.id, bytes }, [bytes.buffer]),
    (e: unknown) => scope.postMessage({ id: data.id, error: e instanceof Error ? e.message : String(e) }),
  );
};
