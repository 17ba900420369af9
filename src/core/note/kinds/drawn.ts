/** What things look like besides ink and pictures: lines, areas and text, the same for the screen, SVG and PDF. */
import type { Box } from '../../ink/stroke';
import type { Affine } from '../../ink/transform';
import { apply } from '../../ink/transform';
import type { Line } from '../../text/layout';

/** Matrices as things keep them: a, b, c, d, e, f of x = a u + c v + e, y = b u + d v + f. */
export type Matrix = readonly [number, number, number, number, number, number];

/** One way of the pen: the first two numbers are its beginning; two more are a straight line to them, six more a cubic curve. */
export interface Way {
  readonly from: readonly [number, number];
  readonly to: readonly (readonly number[])[];
  readonly closed?: boolean;
}

/** mm of the page; `#rrggbb`. */
export interface Figure {
  readonly ways: readonly Way[];
  readonly fill?: string;
  readonly line?: string;
  /** Width of its line, mm. */
  readonly width?: number;
  /** Lengths of dashes and of the air between them, mm. */
  readonly dash?: readonly number[];
}

/** Lines of text below each other, `pitch` (mm) apart, the first on `pitch` below its own place, which `m` puts onto the page. */
export interface Block {
  readonly m: Matrix;
  readonly lines: readonly Line[];
  readonly pitch: number;
  /** Where it stands on the page, mm; what does not say so may stand anywhere in its thing. */
  readonly box?: Box;
}

export const affineOf = ([a, b, c, d, e, f]: Matrix): Affine => ({ a, b, c, d, e, f });

/** First `m`, then `by`. */
export const matrixBy = ([ma, mb, mc, md, me, mf]: Matrix, { a, b, c, d, e, f }: Affine): Matrix => [a * ma + c * mb, b * ma + d * mb, a * mc + c * md, b * mc + d * md, a * me + c * mf + e, b * me + d * mf + f];

/** From a place of the page to a thing's own, mm. */
export function within([a, b, c, d, e, f]: Matrix, x: number, y: number): [number, number] {
  const det = a * d - b * c || 1;
  return [(d * (x - e) - c * (y - f)) / det, (a * (y - f) - b * (x - e)) / det];
}

/** A way elsewhere. */
export function mapWay(m: Affine, { from, to, closed }: Way): Way {
  const many = (xy: readonly number[]): number[] => Array.from({ length: xy.length / 2 }, (_, i) => apply(m, xy[2 * i], xy[2 * i + 1])).flat();
  return { from: apply(m, from[0], from[1]), to: to.map(many), ...(closed ? { closed } : {}) };
}

export const polygon = (points: readonly (readonly [number, number])[]): Way => ({ from: points[0], to: points.slice(1), closed: true });
export const straight = (x1: number, y1: number, x2: number, y2: number): Way => ({ from: [x1, y1], to: [[x2, y2]] });

/** How far handles of a quarter circle reach, in radii (common practice: within 0.03 % of the circle). */
const QUARTER = 0.5523;

export function ellipse(x: number, y: number, rx: number, ry: number): Way {
  const [qx, qy] = [QUARTER * rx, QUARTER * ry];
  return { from: [x + rx, y], to: [[x + rx, y + qy, x + qx, y + ry, x, y + ry], [x - qx, y + ry, x - rx, y + qy, x - rx, y], [x - rx, y - qy, x - qx, y - ry, x, y - ry], [x + qx, y - ry, x + rx, y - qy, x + rx, y]], closed: true };
}

/** A rectangle from 0, 0 with corners of a radius. */
export function rounded(w: number, h: number, r: number): Way {
  const q = r * (1 - QUARTER);
  return { from: [r, 0], to: [[w - r, 0], [w - q, 0, w, q, w, r], [w, h - r], [w, h - q, w - q, h, w - r, h], [r, h], [q, h, 0, h - q, 0, h - r], [0, r], [0, q, q, 0, r, 0]], closed: true };
}
