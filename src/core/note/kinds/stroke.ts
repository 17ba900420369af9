/** A stroke of a pen, as a kind of placed thing. */
import { rubStroke } from '../../ink/erase';
import { crossesLine, lineDistance } from '../../ink/line';
import { radiusBeyond } from '../../ink/pen';
import { mapShape } from '../../ink/shapes/shape';
import { isDecorative, pointsOf, withPoints, type Stroke } from '../../ink/stroke';
import { apply, mapPoints } from '../../ink/transform';
import { holdsCopied } from '../anchors';
import { extrasSchema } from '../schema';
import type { Kind } from './kind';

/** Long strokes are looked at in so many places. */
const LOOKS = 40;

export const strokeKind: Kind<Stroke> = {
  schema: extrasSchema,
  layer: ({ pen, fill, shape }) => (pen.kind === 'highlighter' ? 'under' : fill && !shape ? 'area' : 'ink'),
  reach: ({ pen, shape }) => radiusBeyond(pen, shape?.heads !== undefined),
  distance: (it, x, y) => lineDistance(pointsOf(it), x, y) - it.pen.width / 2,
  isCrossed: (it, { x0, y0, x1, y1, radius }) => crossesLine(pointsOf(it), x0, y0, x1, y1, radius + it.pen.width / 2),
  rubbed: rubStroke,
  kept: (it) => withPoints(it, pointsOf(it)),
  shareIn(it, isInside) {
    const { n, xy } = pointsOf(it);
    const step = Math.max(1, Math.floor(n / LOOKS));
    let [inside, all] = [0, 0];
    for (let i = 0; i < n; i += step, all++) if (isInside(xy[2 * i] / 100, xy[2 * i + 1] / 100)) inside++;
    return all ? inside / all : 0;
  },
  map(it, m) {
    const { shape } = it;
    return withPoints(it, mapPoints(pointsOf(it), m), shape ? { shape: mapShape(shape, (x, y) => apply(m, x, y)) } : {});
  },
  copied: (it, to) => (it.shape ? { ...it, shape: holdsCopied(it.shape, to) } : it),
  isDecoration: isDecorative,
};
