/** Paints areas of colour. */
import { pointsOf } from '../../core/ink/stroke';
import type { Area } from '../../core/note/kinds/area';
import type { Context, KindPainter } from './kindPainter';
import type { PageLook } from './pageLook';

/** The area inside a line of points, closed from its last to its first. */
export function areaPath(it: { readonly pts: Uint8Array }): Path2D {
  const { n, xy } = pointsOf(it);
  const path = new Path2D();
  for (let i = 0; i < n; i++) path.lineTo(xy[2 * i] / 100, xy[2 * i + 1] / 100);
  path.closePath();
  return path;
}

export class AreaPainter implements KindPainter<Area> {
  private paths = new Map<Uint8Array, Path2D>();

  constructor(private readonly look: () => PageLook) {}

  one(ctx: Context, _: number, it: Area, alpha: number): void {
    if (alpha === 0) return;
    let path = this.paths.get(it.pts);
    if (!path) this.paths.set(it.pts, (path = areaPath(it)));
    ctx.globalAlpha = alpha;
    ctx.fillStyle = this.look().ink(it.fill);
    ctx.fill(path, 'evenodd');
  }

  clear(): void {
    this.paths.clear();
  }
}
