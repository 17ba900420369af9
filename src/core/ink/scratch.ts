/**
 * Scratching out: a dense to-and-fro over written words deletes them. It must never eat a letter, so all of this has to hold: many
 * turns, close together, along one direction; drawn fast; and what lies under it is finished handwriting that it covers almost
 * wholly. Hatching covers drawings or nothing, letters cover nothing that is already there, a line through a sum turns too seldom.
 */
import type { Vec } from './shapes/shape';
import { hullOf } from './outline';
import { insidePolygon, polygonArea } from './polygon';
import type { Points } from './points';
import { boxAround, pointsOf, type Stroke } from './stroke';

/** Turns from one way to the other. A written m turns 5 times at most, a crossing-out in zigzag three or four (common practice, no source). */
const TURNS = 7;
/** Share of its hull that the line would fill with a pen of a third of its height: how dense it is. */
const DENSE = 3.4;
/** Share of a word's ink that must lie under the scratch. */
const COVER = 0.78;
/** A hand does not reach quite to a word's edges, mm. */
const SWELL = 0.7;

/** The strokes that a stroke scratches out; none when it is no scratch. `before`: what was on the page, `words`: stroke ids of written words. */
export function scratched(points: Points, before: readonly Stroke[], words: readonly (readonly string[])[]): Stroke[] {
  const { n, xy } = points;
  if (n < 12) return [];
  const at: Vec[] = Array.from({ length: n }, (_, i) => [xy[2 * i] / 100, xy[2 * i + 1] / 100]);
  let length = 0;
  let [mx, my] = [0, 0];
  for (let i = 0; i < n; i++) {
    if (i) length += Math.hypot(at[i][0] - at[i - 1][0], at[i][1] - at[i - 1][1]);
    mx += at[i][0] / n;
    my += at[i][1] / n;
  }
  // The direction most of the way is made in.
  let [xx, yy, xy2] = [0, 0, 0];
  for (let i = 1; i < n; i++) {
    const [dx, dy] = [at[i][0] - at[i - 1][0], at[i][1] - at[i - 1][1]];
    xx += dx * dx;
    yy += dy * dy;
    xy2 += dx * dy;
  }
  const axis = 0.5 * Math.atan2(2 * xy2, xx - yy);
  const [c, s] = [Math.cos(axis), Math.sin(axis)];
  const along = at.map(([x, y]) => (x - mx) * c + (y - my) * s);
  const across = at.map(([x, y]) => -(x - mx) * s + (y - my) * c);
  const reach = Math.max(...along) - Math.min(...along);
  const depth = Math.max(...across) - Math.min(...across);
  // Turns, each after a run of at least a third of the whole reach: loops of cursive letters are shorter in proportion.
  let [turns, way, peak] = [0, 0, along[0]];
  for (const v of along) {
    if (way === 0) way = Math.sign(v - peak);
    if (way * (v - peak) >= 0) peak = v;
    else if (Math.abs(v - peak) > 0.33 * reach) [turns, way, peak] = [turns + 1, -way, v];
  }
  if (turns < TURNS) return [];
  const hull = hullOf(at);
  if (hull.length < 3 || length * (depth / 3) < DENSE * polygonArea(hull) * (depth > reach ? 1 : 0.55)) return [];
  const grown = swollen(hull, SWELL);
  /** Ink of strokes under the scratch and in all, in steps of 0.3 mm. */
  const under = (strokes: readonly Stroke[]): number => {
    let [inside, all] = [0, 0];
    for (const st of strokes) {
      const p = pointsOf(st);
      for (let i = 0; i < p.n; i++) {
        const k = Math.max(0, i - 1);
        const [ax, ay, bx, by] = [p.xy[2 * k], p.xy[2 * k + 1], p.xy[2 * i], p.xy[2 * i + 1]];
        const steps = Math.max(1, Math.round(Math.hypot(bx - ax, by - ay) / 30));
        for (let q = 1; q <= steps; q++, all++) if (insidePolygon(grown, (ax + ((bx - ax) * q) / steps) / 100, (ay + ((by - ay) * q) / steps) / 100)) inside++;
      }
    }
    return inside / Math.max(1, all);
  };
  const byId = new Map(before.map((st) => [st.id, st]));
  const out: Stroke[] = [];
  for (const word of words) {
    const members = word.flatMap((id) => byId.get(id) ?? []);
    if (!members.length) continue;
    const [l, t, r, b] = boxAround(members)!;
    // Half a word is a slip in writing; the word has to be meant as a whole, and must fill a good part of the scratch.
    if (under(members) >= COVER && (r - l + 1) * (b - t + 1) > 0.25 * polygonArea(hull)) out.push(...members);
  }
  if (!out.length) return [];
  const gone = new Set(out.map((st) => st.id));
  return [...out, ...before.filter((st) => !gone.has(st.id) && st.pen.kind === 'highlighter' && under([st]) >= COVER)];
}

function swollen(hull: readonly Vec[], by: number): Vec[] {
  const [mx, my] = [hull.reduce((s, p) => s + p[0], 0) / hull.length, hull.reduce((s, p) => s + p[1], 0) / hull.length];
  return hull.map(([x, y]) => {
    const d = Math.hypot(x - mx, y - my) || 1;
    return [x + ((x - mx) / d) * by, y + ((y - my) / d) * by];
  });
}
