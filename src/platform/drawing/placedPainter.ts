/** Paints what lies on a page, each kind by its own painter, layer by layer. */
import type { Box } from '../../core/ink/stroke';
import { drawingOrder, isTogether, type Placed } from '../../core/note/kinds/kinds';
import { AreaPainter } from './areaPainter';
import { DrawnPainter } from './drawnPainter';
import type { Context, KindPainter } from './kindPainter';
import type { PageLook } from './pageLook';
import { PicturePainter, type PictureSource } from './pictureOnPage';
import { StrokePainter } from './strokePainter';
import { TypedPainter } from './typedPainter';

const NOT_SHOWN: KindPainter = { one: () => undefined, clear: () => undefined };

export class PlacedPainter {
  private readonly strokes: StrokePainter;
  /** Of typed lines, which are drawn letter by letter. */
  readonly typed: TypedPainter;
  private readonly by: { readonly [K in Placed['kind']]: KindPainter };

  /** `look`: the colours in force whenever something is painted; `pictures`: where pictures come from, without which their places are shown. */
  constructor(look: () => PageLook, pictures: PictureSource = () => null) {
    this.strokes = new StrokePainter(look);
    this.typed = new TypedPainter(look);
    const drawn = new DrawnPainter(look, this.typed);
    this.by = { stroke: this.strokes as KindPainter, area: new AreaPainter(look) as KindPainter, picture: new PicturePainter(pictures) as KindPainter, axes: drawn, slip: drawn, solid: drawn, table: drawn, typed: this.typed as KindPainter, unknown: NOT_SHOWN };
  }

  /** `ctx` counts in mm. `alpha`: how much of a thing shows, 0..1; `part`: what alone has to be drawn, mm. */
  paint(ctx: Context, placed: readonly Placed[], alpha: (it: Placed) => number = () => 1, part?: Box): void {
    const k = ctx.getTransform().a;
    for (const it of drawingOrder(placed)) {
      if (isTogether(it)) this.strokes.together(ctx, it, alpha);
      else this.by[it.kind].one(ctx, k, it, alpha(it), part);
    }
    ctx.globalAlpha = 1;
  }

  /** Something that lies on top of all else. */
  one(ctx: Context, it: Placed, alpha = 1): void {
    this.by[it.kind].one(ctx, ctx.getTransform().a, it, alpha);
  }

  clear(): void {
    for (const painter of Object.values(this.by)) painter.clear();
  }
}
