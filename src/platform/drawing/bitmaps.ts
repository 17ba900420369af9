/** Pictures of a page decoded where it is drawn: in a worker as well as on the page's own thread. */
import type { Picture } from '../../core/note/kinds/picture';
import type { Placed } from '../../core/note/kinds/kinds';
import { backdropOf } from './backdrops';
import type { Backdrop } from './kindPainter';
import { sheetOfPicture } from './pictureOnPage';

/** Bytes of a picture; null where they are not here. */
export type ReadContent = (hash: string) => Promise<Uint8Array | null>;

/** Pictures among what is placed, as fine as they are seen at `k` px to the mm; one that cannot be shown leaves its place empty. */
export async function bitmapsOf(placed: readonly Placed[], k: number, content: ReadContent): Promise<Map<Picture, Backdrop>> {
  const shown = new Map<Picture, Backdrop>();
  for (const it of placed) {
    if (it.kind !== 'picture') continue;
    const sheet = sheetOfPicture(it);
    const bytes = await content(it.content).catch(() => null);
    const bitmap = bytes && (await createImageBitmap(new Blob([bytes as Uint8Array<ArrayBuffer>]), { resizeWidth: Math.max(1, Math.round(sheet.w * k)), resizeQuality: 'high' }).catch(() => null));
    if (bitmap) shown.set(it, backdropOf(bitmap, sheet));
  }
  return shown;
}
