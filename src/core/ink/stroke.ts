import type { Past, Version } from '../note/version';
import type { Stamp } from '../time/timeline';
import type { Pen } from './pen';
import { packPoints, unpackPoints, type Points } from './points';
import { pointsMoved, type Shape } from './shapes/shape';

/** Left, top, right, bottom in mm. */
export type Box = readonly [number, number, number, number];

/** What everything has that lies on a page. Its kinds are in `core/note/kinds`. */
export interface PlacedBase {
  readonly id: string;
  readonly page: string;
  /** Bounds (of ink: of its points, without the line's width), mm. */
  readonly box: Box;
  /** The sound at pen-down; null when none was being recorded. */
  readonly stamp: Stamp | null;
  /** Wall clock at pen-down, ms since the epoch. */
  readonly wall: number;
  /** Pen-down to pen-up, ms. */
  readonly ms: number;
  /** What has the same group is selected together. */
  readonly group?: string;
  /** The sticky note or table that it lies on: moved, folded, copied and deleted with it. */
  readonly on?: string;
  /** How far it was brought forward (above 0) or put back; what has the same number lies in its usual layers. */
  readonly lift?: number;
  /** It stays where it is, whatever is taken hold of. */
  readonly locked?: boolean;
  /** Placed while listening: its stamp is the moment that was being heard. */
  readonly second?: true;
  /** Its version, and by device the last one that was known when it was made; none is the oldest. */
  readonly s?: Version;
  readonly past?: Past;
}

export interface Stroke extends PlacedBase {
  readonly kind: 'stroke';
  readonly pen: Pen;
  /** Packed points, see `points.ts`; page coordinates. */
  readonly pts: Uint8Array;
  /** The clean shape that the points run along, where the hand held still at the end. */
  readonly shape?: Shape;
  /** Colour of the area inside a loop or shape, `#rrggbb`. */
  readonly fill?: string;
}

const cache = new WeakMap<Uint8Array, Points>();

/** Points of a stroke, unpacked once. */
export function pointsOf(stroke: Pick<Stroke, 'pts'>): Points {
  let points = cache.get(stroke.pts);
  if (!points) cache.set(stroke.pts, (points = unpackPoints(stroke.pts)));
  return points;
}

/** How far a place lies from a box, mm; 0 within it. */
export const distanceToBox = ([l, t, r, b]: Box, x: number, y: number): number => Math.hypot(Math.max(l - x, 0, x - r), Math.max(t - y, 0, y - b));

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

/** Says nothing by itself and is never part of a word: highlighter, shapes, what is filled. */
export const isDecorative = ({ pen, shape, fill }: Pick<Stroke, 'pen' | 'shape' | 'fill'>): boolean => pen.kind === 'highlighter' || shape !== undefined || fill !== undefined;

export function makeStroke(points: Points, rest: Omit<Stroke, 'kind' | 'pts' | 'box' | 'ms'>): Stroke {
  return Object.freeze({ ...rest, kind: 'stroke', pts: packPoints(points), box: boxOf(points), ms: points.n ? points.t[points.n - 1] : 0 });
}

/** The same stroke with other points; everything else, its stamp above all, stays. */
export const withPoints = (stroke: Stroke, points: Points, change: Partial<Pick<Stroke, 'id' | 'page' | 'shape' | 'group'>> = {}): Stroke => makeStroke(points, { ...bare(stroke), ...change });

/** A stroke whose shape was changed: its points run along the new one at the old pace. */
export const reshaped = (stroke: Stroke, shape: Shape): Stroke => withPoints(stroke, pointsMoved(pointsOf(stroke), stroke.shape!, shape), { shape });

/** Stands in for a stroke while a tool is moving: looks like the final one but is packed only when the tool lets go. */
export function draftStroke(stroke: Stroke, points: Points, id: string): Stroke {
  const pts = new Uint8Array(0);
  cache.set(pts, points);
  const { shape: _, fill: __, ...rest } = bare(stroke);
  return { ...rest, kind: 'stroke', id, pts, box: boxOf(points), ms: points.n ? points.t[points.n - 1] : 0 };
}

function bare(stroke: Stroke): Omit<Stroke, 'kind' | 'pts' | 'box' | 'ms'> {
  const { pts: _, box: __, ms: ___, ...rest } = stroke;
  return rest;
}

export const unionBox = (a: Box, b: Box): Box => [Math.min(a[0], b[0]), Math.min(a[1], b[1]), Math.max(a[2], b[2]), Math.max(a[3], b[3])];
export const growBox = (b: Box, by: number): Box => [b[0] - by, b[1] - by, b[2] + by, b[3] + by];
export const boxesMeet = (a: Box, b: Box): boolean => a[0] <= b[2] && b[0] <= a[2] && a[1] <= b[3] && b[1] <= a[3];
export const boxAround = (placed: readonly { readonly box: Box }[]): Box | null => (placed.length ? placed.map((s) => s.box).reduce(unionBox) : null);

/** Order on the page and in time: by wall clock, ties by id, so that two devices agree. */
export const placedOrder = (a: Pick<PlacedBase, 'wall' | 'id'>, b: Pick<PlacedBase, 'wall' | 'id'>): number => a.wall - b.wall || (a.id < b.id ? -1 : a.id > b.id ? 1 : 0);
