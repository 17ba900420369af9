/** Draws the picture of a page from its records of ink, away from the thread that answers the hand. */
import type { Placed } from '../../core/note/kinds/kinds';
import { readInk } from '../../core/note/records/inkChunk';
import { NewerError, RecordError } from '../../core/record';
import { paintPage } from './pagePainter';
import type { PictureAnswer, PictureRequest } from './pictures';

const scope = self as unknown as { onmessage: (e: MessageEvent<PictureRequest>) => void; postMessage: (answer: PictureAnswer, transfer?: Transferable[]) => void };

async function draw({ page, ink, width }: PictureRequest): Promise<Uint8Array> {
  const placed: Placed[] = [];
  for (const text of ink) {
    try {
      placed.push(...readInk(text).placed.filter((s) => s.page === page.id));
    } catch (e) {
      // A damaged record is told when the note is opened; its picture is made of the rest.
      if (!(e instanceof RecordError || e instanceof NewerError)) throw e;
    }
  }
  const k = width / page.w;
  const canvas = new OffscreenCanvas(width, Math.max(1, Math.round(page.h * k)));
  const ctx = canvas.getContext('2d')!;
  ctx.scale(k, k);
  paintPage(ctx, { page, placed, part: [0, 0, page.w, page.h], k });
  return new Uint8Array(await (await canvas.convertToBlob({ type: 'image/webp', quality: 0.8 })).arrayBuffer());
}

scope.onmessage = ({ data }) => {
  draw(data).then(
    (bytes) => scope.postMessage({ id: data.id, bytes }, [bytes.buffer]),
    (e: unknown) => scope.postMessage({ id: data.id, error: e instanceof Error ? e.message : String(e) }),
  );
};
