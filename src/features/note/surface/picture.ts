/** A selection as a picture. */
import { growBox, unionBox } from '../../../core/ink/stroke';
import { coveredBy, type Placed } from '../../../core/note/kinds/kinds';
import type { Page } from '../../../core/note/schema';
import { paintPage } from '../../../platform/drawing/pagePainter';

/** 300 pixels to the inch, as for print, unless the picture would be too large for a canvas. */
const PX_PER_MM = 300 / 25.4;
const LARGEST_PX = 8000;
const AIR_MM = 2;

/** A PNG of things on one page, with its paper or see-through. @throws Error when the browser cannot make one so large. */
export async function pictureOf(placed: readonly Placed[], page: Page, withPaper: boolean): Promise<Blob> {
  const box = growBox(placed.map(coveredBy).reduce(unionBox), AIR_MM);
  const [w, h] = [box[2] - box[0], box[3] - box[1]];
  const k = Math.min(PX_PER_MM, LARGEST_PX / Math.max(w, h));
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [Math.ceil(w * k), Math.ceil(h * k)];
  const ctx = canvas.getContext('2d')!;
  ctx.setTransform(k, 0, 0, k, -box[0] * k, -box[1] * k);
  paintPage(ctx, { page, placed, part: box, k, sheet: withPaper, bare: !withPaper });
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'));
  if (!blob) throw new Error('this browser cannot make a picture of that size');
  return blob;
}
