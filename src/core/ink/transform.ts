/** Moving, scaling and turning ink. Points change their place and nothing else: number, pressure, times and stamp stay. */
import type { Points } from './points';
import type { Box } from './stroke';

/** x' = a x + c y + e, y' = b x + d y + f; mm. */
export interface Affine {
  readonly a: number;
  readonly b: number;
  readonly c: number;
  readonly d: number;
  readonly e: number;
  readonly f: number;
}

export const move = (dx: number, dy: number): Affine => ({ a: 1, b: 0, c: 0, d: 1, e: dx, f: dy });

/** Scales by sx, sy and turns by `angle` (radians, clockwise on the page), both around x, y. */
export function around(x: number, y: number, sx: number, sy: number, angle: number): Affine {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const [a, b, cc, d] = [c * sx, s * sx, -s * sy, c * sy];
  return { a, b, c: cc, d, e: x - a * x - cc * y, f: y - b * x - d * y };
}

export const apply = (m: Affine, x: number, y: number): [number, number] => [m.a * x + m.c * y + m.e, m.b * x + m.d * y + m.f];

export const mapPoints = (points: Points, m: Affine): Points => placed(points, (x, y) => apply(m, x, y));

/** The same points elsewhere; `to` takes and gives mm. */
export function placed(points: Points, to: (x: number, y: number, i: number) => readonly [number, number]): Points {
  const xy = new Int32Array(2 * points.n);
  for (let i = 0; i < points.n; i++) {
    const [x, y] = to(points.xy[2 * i] / 100, points.xy[2 * i + 1] / 100, i);
    xy[2 * i] = Math.round(x * 100);
    xy[2 * i + 1] = Math.round(y * 100);
  }
  return { ...points, xy };
}

/** How far a box may be moved by dx, dy without leaving another one; as much as is possible. */
export function keptIn(box: Box, dx: number, dy: number, [l, t, r, b]: Box): [number, number] {
  const clamp = (v: number, lo: number, hi: number) => (lo > hi ? 0 : Math.min(hi, Math.max(lo, v)));
  return [clamp(dx, l - box[0], r - box[2]), clamp(dy, t - box[1], b - box[3])];
}
