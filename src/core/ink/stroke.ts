import type { Stamp } from '../time/timeline';
import { packPoints, unpackPoints, type Points } from './points';

export type PenKind = 'ball' | 'fountain' | 'felt';

export interface Pen {
  readonly kind: PenKind;
  /** CSS colour, `#rrggbb`. */
  readonly color: string;
  /** Line width at middle pressure, mm. */
  readonly width: number;
}

/** Left, top, right, bottom in mm. */
export type Box = readonly [number, number, number, number];

export interface Stroke {
  readonly id: string;
  readonly page: string;
  readonly pen: Pen;
  /** Packed points, see `points.ts`; page coordinates. */
  readonly pts: Uint8Array;
  /** Bounds of the points (without the line's width), mm. */
  readonly box: Box;
  /** The sound at pen-down; null when none was being recorded. */
  readonly stamp: Stamp | null;
  /** Wall clock at pen-down, ms since the epoch. */
  readonly wall: number;
  /** Pen-down to pen-up, ms. */
  readonly ms: number;
}

const cache = new WeakMap<Uint8Array, Points>();

/** Points of a stroke, unpacked once. */
export function pointsOf(stroke: Pick<Stroke, 'pts'>): Points {
  let points = cache.get(stroke.pts);
  if (!points) cache.set(stroke.pts, (points = unpackPoints(stroke.pts)));
  return points;
}

export function boxOf(points: Points): Box {
  let [l, t, r, b] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < points.n; i++) {
    const [x, y] = [points.xy[2 * i], points.xy[2 * i + 1]];
    if (x < l) l = x;
    if (x > r) r = x;
    if (y < t) t = y;
    if (y > b) b = y;
  }
  return points.n ? [l / 100, t / 100, r / 100, b / 100] : [0, 0, 0, 0];
}

export function makeStroke(points: Points, rest: Omit<Stroke, 'pts' | 'box' | 'ms'>): Stroke {
  return Object.freeze({ ...rest, pts: packPoints(points), box: boxOf(points), ms: points.n ? points.t[points.n - 1] : 0 });
}

export const unionBox = (a: Box, b: Box): Box => [Math.min(a[0], b[0]), Math.min(a[1], b[1]), Math.max(a[2], b[2]), Math.max(a[3], b[3])];
export const growBox = (b: Box, by: number): Box => [b[0] - by, b[1] - by, b[2] + by, b[3] + by];
export const boxesMeet = (a: Box, b: Box): boolean => a[0] <= b[2] && b[0] <= a[2] && a[1] <= b[3] && b[1] <= a[3];

/** Order on the page and in time: by wall clock, ties by id, so that two devices agree. */
export const strokeOrder = (a: Stroke, b: Stroke): number => a.wall - b.wall || (a.id < b.id ? -1 : a.id > b.id ? 1 : 0);
