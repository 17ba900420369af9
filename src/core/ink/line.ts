/** A line of points: how far from it a place is, and whether an eraser on its way touches it. Given and returned in mm. */
import type { Points } from './points';

/** Distance from a point to a segment, same unit as given. */
export function segmentDistance(px: number, py: number, ax: number, ay: number, bx: number, by: number): number {
  const [dx, dy] = [bx - ax, by - ay];
  const l2 = dx * dx + dy * dy;
  const u = l2 ? Math.min(1, Math.max(0, ((px - ax) * dx + (py - ay) * dy) / l2)) : 0;
  return Math.hypot(px - ax - u * dx, py - ay - u * dy);
}

/** Distance from a point to the line. */
export function lineDistance({ n, xy }: Points, x: number, y: number): number {
  const [px, py] = [x * 100, y * 100];
  let best = n ? Math.hypot(px - xy[0], py - xy[1]) : Infinity;
  for (let i = 1; i < n; i++) best = Math.min(best, segmentDistance(px, py, xy[2 * i - 2], xy[2 * i - 1], xy[2 * i], xy[2 * i + 1]));
  return best / 100;
}

const side = (ax: number, ay: number, bx: number, by: number, px: number, py: number) => Math.sign((bx - ax) * (py - ay) - (by - ay) * (px - ax));

/** Whether the straight way from one place to another comes within `radius` of the line. */
export function crossesLine({ n, xy }: Points, x0: number, y0: number, x1: number, y1: number, radius: number): boolean {
  const [ax, ay, bx, by, r] = [x0 * 100, y0 * 100, x1 * 100, y1 * 100, radius * 100];
  for (let i = 0; i < n; i++) {
    const [qx, qy] = [xy[2 * i], xy[2 * i + 1]];
    if (segmentDistance(qx, qy, ax, ay, bx, by) <= r) return true;
    if (i === 0) continue;
    const [px, py] = [xy[2 * i - 2], xy[2 * i - 1]];
    if (segmentDistance(ax, ay, px, py, qx, qy) <= r || segmentDistance(bx, by, px, py, qx, qy) <= r) return true;
    if (side(ax, ay, bx, by, px, py) !== side(ax, ay, bx, by, qx, qy) && side(px, py, qx, qy, ax, ay) !== side(px, py, qx, qy, bx, by)) return true;
  }
  return false;
}
