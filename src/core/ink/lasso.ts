/** What a loop of the pen takes hold of. */
import type { Vec } from './shapes/shape';
import { pointsOf, type Box, type Stroke } from './stroke';

/** Even-odd rule; mm. */
export function insidePolygon(polygon: readonly Vec[], x: number, y: number): boolean {
  let odd = false;
  for (let i = 0, k = polygon.length - 1; i < polygon.length; k = i++) {
    const [xi, yi] = polygon[i];
    const [xk, yk] = polygon[k];
    if (yi > y !== yk > y && x < ((xk - xi) * (y - yi)) / (yk - yi) + xi) odd = !odd;
  }
  return odd;
}

/** Area of a polygon by the shoelace formula, mm2, whatever its winding. */
export function polygonArea(polygon: readonly Vec[]): number {
  let sum = 0;
  for (let i = 0, k = polygon.length - 1; i < polygon.length; k = i++) sum += polygon[k][0] * polygon[i][1] - polygon[i][0] * polygon[k][1];
  return Math.abs(sum) / 2;
}

export function polygonBox(polygon: readonly Vec[]): Box {
  const xs = polygon.map((p) => p[0]);
  const ys = polygon.map((p) => p[1]);
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
}

/** Share of a stroke that must lie in the loop. A hurried loop cuts through ascenders; a neighbour it grazes is not meant. */
const SHARE = 0.6;

/** Strokes of which the loop holds the larger part. */
export function inLoop(strokes: readonly Stroke[], loop: readonly Vec[]): Stroke[] {
  if (loop.length < 3) return [];
  const [l, t, r, b] = polygonBox(loop);
  return strokes.filter((s) => {
    if (s.box[0] > r || s.box[2] < l || s.box[1] > b || s.box[3] < t) return false;
    const { n, xy } = pointsOf(s);
    // Long strokes are looked at in forty places.
    const step = Math.max(1, Math.floor(n / 40));
    let [inside, all] = [0, 0];
    for (let i = 0; i < n; i += step, all++) if (insidePolygon(loop, xy[2 * i] / 100, xy[2 * i + 1] / 100)) inside++;
    return inside >= SHARE * all;
  });
}

/** With a stroke comes its whole group. */
export function withGroups(chosen: readonly Stroke[], all: readonly Stroke[]): Stroke[] {
  const groups = new Set(chosen.flatMap((s) => s.group ?? []));
  if (!groups.size) return [...chosen];
  const ids = new Set(chosen.map((s) => s.id));
  return all.filter((s) => ids.has(s.id) || (s.group !== undefined && groups.has(s.group)));
}
