/** Paints pictures that lie on pages. */
import { outlineOf, sizeOf, type Picture } from '../../core/note/kinds/picture';
import { PRINT } from '../../core/note/paper';
import type { Page } from '../../core/note/schema';
import type { Backdrop, Context, KindPainter } from './kindPainter';

/** What is there of a picture at so many device px per mm; null while there is nothing. */
export type PictureSource = (it: Picture, k: number) => Backdrop | null;

const sheets = new WeakMap<Picture, Pick<Page, 'w' | 'h' | 'backdrop'>>();

/** A picture as the sheet that it fills: so it is read, decoded and let go of like one that lies behind a page. */
export function sheetOfPicture(it: Picture): Pick<Page, 'w' | 'h' | 'backdrop'> {
  let sheet = sheets.get(it);
  if (!sheet) sheets.set(it, (sheet = { ...sizeOf(it), backdrop: { content: it.content } }));
  return sheet;
}

/** Where it cannot be shown yet, the place it takes is tinted so much. */
const WAITING = 0.12;

export class PicturePainter implements KindPainter<Picture> {
  constructor(private readonly source: PictureSource) {}

  one(ctx: Context, k: number, it: Picture, alpha: number): void {
    if (alpha === 0) return;
    const { w, h } = sizeOf(it);
    if (!w || !h) return;
    const corners = outlineOf(it);
    ctx.save();
    ctx.globalAlpha = alpha;
    ctx.beginPath();
    for (const [x, y] of corners) ctx.lineTo(x, y);
    ctx.closePath();
    const shown = this.source(it, k);
    if (!shown) {
      ctx.globalAlpha = WAITING * alpha;
      ctx.fillStyle = PRINT;
      ctx.fill();
    } else {
      if (it.crop) ctx.clip();
      const [a, b, c, d, e, f] = it.m;
      ctx.transform(a / w, b / w, c / h, d / h, e, f);
      shown.draw(ctx, [0, 0, w, h]);
    }
    ctx.restore();
  }

  clear(): void {
    // What it shows belongs to the source.
  }
}
