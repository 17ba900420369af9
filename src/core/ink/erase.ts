/** Rubbing out by area: a stroke is cut where the eraser went, and every part that stays keeps its stamp and its points' times. */
import type { Points } from './points';
import { draftStroke, growBox, pointsOf, type Box, type Stroke } from './stroke';

/** A straight move of the eraser's middle, mm. */
export interface Rub {
  readonly x0: number;
  readonly y0: number;
  readonly x1: number;
  readonly y1: number;
  readonly radius: number;
}

export const rubBox = ({ x0, y0, x1, y1, radius }: Rub): Box => growBox([Math.min(x0, x1), Math.min(y0, y1), Math.max(x0, x1), Math.max(y0, y1)], radius);

/**
 * The share of the way from p to q (0..1 each end) that lies within `r` of the segment a-b, null for none. What lies within is a
 * stadium, which is convex, so it is one interval: the hull of those with the two discs and the band between.
 */
export function withinStadium(px: number, py: number, qx: number, qy: number, ax: number, ay: number, bx: number, by: number, r: number): [number, number] | null {
  const [dx, dy] = [qx - px, qy - py];
  let [lo, hi] = [Infinity, -Infinity];
  const meet = (u: number, v: number) => {
    if (v < 0 || u > 1 || u > v) return;
    lo = Math.min(lo, Math.max(0, u));
    hi = Math.max(hi, Math.min(1, v));
  };
  const d2 = dx * dx + dy * dy;
  for (const [cx, cy] of [[ax, ay], [bx, by]]) {
    const [ex, ey] = [px - cx, py - cy];
    const c = ex * ex + ey * ey - r * r;
    if (d2 === 0) {
      if (c <= 0) meet(0, 1);
      continue;
    }
    const b = ex * dx + ey * dy;
    const root = b * b - d2 * c;
    if (root < 0) continue;
    const q = Math.sqrt(root);
    meet((-b - q) / d2, (-b + q) / d2);
  }
  const length = Math.hypot(bx - ax, by - ay);
  if (length > 0) {
    const [ux, uy] = [(bx - ax) / length, (by - ay) / length];
    let [from, to] = [0, 1];
    /** Keeps the part of the way where `at + slope u` lies between `min` and `max`. */
    const clip = (at: number, slope: number, min: number, max: number) => {
      if (Math.abs(slope) < 1e-12) {
        if (at < min || at > max) to = -1;
        return;
      }
      const [u, v] = [(min - at) / slope, (max - at) / slope];
      from = Math.max(from, Math.min(u, v));
      to = Math.min(to, Math.max(u, v));
    };
    clip((px - ax) * ux + (py - ay) * uy, dx * ux + dy * uy, 0, length);
    clip((px - ax) * -uy + (py - ay) * ux, dx * -uy + dy * ux, -r, r);
    meet(from, to);
  }
  return lo <= hi ? [lo, hi] : null;
}

/** Parts shorter than this are the rounding of a cut and no ink, 0.01 mm. */
const CRUMB = 3;

/** What stays of a line of points when a disc of `rub.radius` mm goes over it; null when it is not touched. */
export function cutPoints(points: Points, rub: Rub): Points[] | null {
  const { n, xy, p, t } = points;
  const [ax, ay, bx, by, r] = [rub.x0 * 100, rub.y0 * 100, rub.x1 * 100, rub.y1 * 100, rub.radius * 100];
  const parts: Points[] = [];
  let touched = false;
  let part: number[] = [];
  const close = (cut: boolean) => {
    const m = part.length / 4;
    let length = 0;
    for (let i = 1; i < m; i++) length += Math.hypot(part[4 * i] - part[4 * i - 4], part[4 * i + 1] - part[4 * i - 3]);
    if (m > 0 && (length > CRUMB || (!cut && parts.length === 0))) {
      const made: Points = { n: m, xy: new Int32Array(2 * m), p: new Uint8Array(m), t: new Int32Array(m) };
      for (let i = 0; i < m; i++) {
        made.xy[2 * i] = part[4 * i];
        made.xy[2 * i + 1] = part[4 * i + 1];
        made.p[i] = part[4 * i + 2];
        made.t[i] = part[4 * i + 3];
      }
      parts.push(made);
    }
    part = [];
  };
  const keep = (i: number) => part.push(xy[2 * i], xy[2 * i + 1], p[i], t[i]);
  const between = (i: number, u: number) => {
    const mix = (a: number, b: number) => Math.round(a + u * (b - a));
    part.push(mix(xy[2 * i - 2], xy[2 * i]), mix(xy[2 * i - 1], xy[2 * i + 1]), mix(p[i - 1], p[i]), mix(t[i - 1], t[i]));
  };
  if (n > 0 && !withinStadium(xy[0], xy[1], xy[0], xy[1], ax, ay, bx, by, r)) keep(0);
  else touched = true;
  for (let i = 1; i < n; i++) {
    const gone = withinStadium(xy[2 * i - 2], xy[2 * i - 1], xy[2 * i], xy[2 * i + 1], ax, ay, bx, by, r);
    if (!gone) {
      keep(i);
      continue;
    }
    touched = true;
    if (part.length) {
      if (gone[0] > 0) between(i, gone[0]);
      close(true);
    }
    if (gone[1] < 1) {
      between(i, gone[1]);
      keep(i);
    }
  }
  if (!touched) return null;
  close(true);
  return parts;
}

/**
 * Strokes as drafts without what the rub takes of them; null when it does not touch the stroke. The eraser grows by half the line's
 * width, so that no ink is left under it. The longest part keeps the id, and with it whatever is tied to the stroke.
 */
export function rubStroke(stroke: Stroke, rub: Rub, id: () => string): Stroke[] | null {
  const parts = cutPoints(pointsOf(stroke), { ...rub, radius: rub.radius + stroke.pen.width / 2 });
  if (!parts) return null;
  const lengths = parts.map(lengthOf);
  const longest = lengths.indexOf(Math.max(...lengths));
  return parts.map((p, i) => draftStroke(stroke, p, i === longest ? stroke.id : id()));
}

/** Of a line of points, 0.01 mm. */
function lengthOf({ n, xy }: Points): number {
  let length = 0;
  for (let i = 1; i < n; i++) length += Math.hypot(xy[2 * i] - xy[2 * i - 2], xy[2 * i + 1] - xy[2 * i - 1]);
  return length;
}
