/** An area of colour between lines: a closed outline and what fills it. It lies under the ink. */
import { z } from 'zod';
import { crossesLine, lineDistance } from '../../ink/line';
import { insidePolygon } from '../../ink/polygon';
import { packPoints, type Points } from '../../ink/points';
import { boxOf, pointsOf, type PlacedBase, type Stroke } from '../../ink/stroke';
import { mapPoints } from '../../ink/transform';
import type { Kind } from './kind';

export interface Area extends PlacedBase {
  readonly kind: 'area';
  /** `#rrggbb`. */
  readonly fill: string;
  /** Its outline, packed as the points of a stroke; it closes from the last to the first. */
  readonly pts: Uint8Array;
}

export function makeArea(outline: Points, rest: Omit<Area, 'kind' | 'pts' | 'box' | 'ms'>): Area {
  return Object.freeze({ ...rest, kind: 'area', pts: packPoints(outline), box: boxOf(outline), ms: 0 });
}

function isWithin(it: Area, x: number, y: number): boolean {
  const { n, xy } = pointsOf(it);
  return insidePolygon(Array.from({ length: n }, (_, i) => [xy[2 * i] / 100, xy[2 * i + 1] / 100] as const), x, y);
}

export const areaKind: Kind<Area> = {
  schema: z.looseObject({ fill: z.string().regex(/^#[0-9a-f]{6}$/i) }),
  layer: () => 'area',
  reach: () => 0,
  distance: (it, x, y) => (isWithin(it, x, y) ? 0 : lineDistance(pointsOf(it), x, y)),
  // What is written on it can be rubbed out without it: it goes when its edge is rubbed.
  isCrossed: (it, { x0, y0, x1, y1, radius }) => crossesLine(pointsOf(it), x0, y0, x1, y1, radius),
  rubbed: (it, rub) => (areaKind.isCrossed(it, rub) ? [] : null),
  kept: (it) => it,
  shareIn(it, isInside) {
    const { n, xy } = pointsOf(it);
    let inside = 0;
    for (let i = 0; i < n; i++) if (isInside(xy[2 * i] / 100, xy[2 * i + 1] / 100)) inside++;
    return n ? inside / n : 0;
  },
  map: (it, m) => {
    const points = mapPoints(pointsOf(it), m);
    return Object.freeze({ ...it, pts: packPoints(points), box: boxOf(points) });
  },
  isDecoration: () => true,
};

/** Before areas were a kind of their own they were filled outlines drawn with a felt pen too fine to be seen; null for any other stroke. */
export function areaInDisguise({ kind: _, pen, shape, fill, ...rest }: Stroke): Area | null {
  return fill && !shape && pen.kind === 'felt' && pen.width <= 0.05 ? Object.freeze({ ...rest, kind: 'area', fill, ms: 0 }) : null;
}
