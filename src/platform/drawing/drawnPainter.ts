/** Paints things that say themselves what they look like: sticky notes, tables. */
import { boxesMeet, type Box } from '../../core/ink/stroke';
import type { Way } from '../../core/note/kinds/drawn';
import { textIn, figuresOf, type Placed } from '../../core/note/kinds/kinds';
import type { Context, KindPainter } from './kindPainter';
import type { PageLook } from './pageLook';
import type { TypedPainter } from './typedPainter';

function pathOf(ways: readonly Way[]): Path2D {
  const path = new Path2D();
  for (const { from, to, closed } of ways) {
    path.moveTo(...from);
    for (const p of to) {
      if (p.length === 2) path.lineTo(p[0], p[1]);
      else path.bezierCurveTo(p[0], p[1], p[2], p[3], p[4], p[5]);
    }
    if (closed) path.closePath();
  }
  return path;
}

export class DrawnPainter implements KindPainter {
  private paths = new WeakMap<readonly Way[], Path2D>();

  constructor(
    private readonly look: () => PageLook,
    private readonly text: TypedPainter,
  ) {}

  one(ctx: Context, k: number, it: Placed, alpha: number, part?: Box): void {
    if (alpha === 0) return;
    const look = this.look();
    ctx.globalAlpha = alpha;
    for (const { ways, fill, line, width = 0.2, dash = [] } of figuresOf(it)) {
      let path = this.paths.get(ways);
      if (!path) this.paths.set(ways, (path = pathOf(ways)));
      if (fill) {
        ctx.fillStyle = look.ink(fill);
        ctx.fill(path, 'evenodd');
      }
      if (!line) continue;
      ctx.strokeStyle = look.ink(line);
      ctx.lineWidth = width;
      ctx.lineCap = 'round';
      ctx.lineJoin = 'round';
      ctx.setLineDash([...dash]);
      ctx.stroke(path);
      ctx.setLineDash([]);
    }
    for (const block of textIn(it)) if (!part || !block.box || boxesMeet(block.box, part)) this.text.block(ctx, k, block, alpha);
  }

  clear(): void {
    // Paths go with what they are of.
  }
}
