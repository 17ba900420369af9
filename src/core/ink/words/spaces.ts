/** The air between the letters of a line, and what of it parts words. */
import { quantile } from 'simple-statistics';
import { median, type Item } from './items';
import { slantOf, type Thread } from './lines';

export interface Cluster {
  l: number;
  r: number;
  items: Item[];
}
export interface Space {
  /** Air between neighbours in body heights. */
  air: number;
  /** ms between the end of the one and the beginning of the other. */
  away: number;
}

/** Letters of a line, left to right, each with what overlaps it, and the spaces between them. */
export function clustersOf(thread: Thread): { clusters: Cluster[]; body: number; ink: number } {
  const full = thread.items.filter((i) => !i.small);
  const heights = (full.length ? full : thread.items).map((i) => i.h);
  // Ascenders and capitals stand above the body: the lower third of the heights is the small letters.
  const body = Math.max(0.6, heights.length > 2 ? 0.5 * (quantile(heights, 0.3) + median(heights)) : (0.75 * (median(heights) + Math.min(...heights))) / 2 || 1);
  const slant = slantOf(full);
  const y0 = median(full.map((i) => i.b));
  const span = (i: Item): [number, number] => {
    let [l, r] = [Infinity, -Infinity];
    for (let k = 0; k < i.xy.length; k += 2) {
      const x = i.xy[k] + slant * (i.xy[k + 1] - y0);
      if (x < l) l = x;
      if (x > r) r = x;
    }
    return [l, r];
  };
  const top = median(full.map((i) => i.t));
  const bottom = y0;
  const clusters: Cluster[] = [];
  for (const i of full.map((f) => ({ f, s: span(f) })).sort((a, b) => a.s[0] - b.s[0])) {
    const last = clusters.at(-1);
    if (last && i.s[0] <= last.r + 0.02 * body) {
      last.r = Math.max(last.r, i.s[1]);
      last.items.push(i.f);
    } else clusters.push({ l: i.s[0], r: i.s[1], items: [i.f] });
  }
  // Dots, bars and accents go to the letter they stand over; one that stands free is a letter of its own (a full stop, a dash).
  for (const i of thread.items.filter((x) => x.small).sort((a, b) => a.l - b.l)) {
    const [l, r] = span(i);
    const mid = (l + r) / 2;
    let home: Cluster | null = null;
    let best = Infinity;
    for (const c of clusters) {
      const away = l > c.r ? l - c.r : r < c.l ? c.l - r : 0;
      const d = away + 0.01 * Math.abs(mid - (c.l + c.r) / 2);
      if (d < best) [home, best] = [c, d];
    }
    const over = i.cy < top + 0.45 * (bottom - top);
    // A dash or the bar of a sign stands free; only what lies over a letter is its own.
    const reach = !over ? 0.05 * body : r - l > 0.45 * body ? 0.12 * body : 0.9 * body;
    if (home && best < reach) {
      home.items.push(i);
      if (!over || r - l > 0.5 * body) continue;
    } else clusters.push({ l, r, items: [i] });
  }
  clusters.sort((a, b) => a.l - b.l);
  return { clusters, body, ink: inkHeight(full.length ? full : thread.items) || body };
}

/** Height of the band in which most of the ink of a line lies, mm: that of small letters, also where whole words are written in one go. */
function inkHeight(items: readonly Item[]): number {
  const ys: number[] = [];
  // What is written in one go may rise along the line: each sign is held against those beside it.
  items.forEach((item, k) => {
    const [before, after] = [items[k - 1] ?? item, items[k + 1] ?? item];
    const near = Math.max(Math.min(before.b, item.b), Math.min(after.b, Math.max(before.b, item.b)));
    for (let i = 1; i < item.xy.length; i += 8) ys.push(item.xy[i] - near);
  });
  return ys.length > 10 ? 1.35 * (quantile(ys, 0.86) - quantile(ys, 0.2)) : 0;
}

export function spacesOf(clusters: Cluster[], body: number): Space[] {
  const spaces: Space[] = [];
  for (let k = 1; k < clusters.length; k++) {
    const [a, b] = [clusters[k - 1], clusters[k]];
    let away = Infinity;
    for (const x of a.items) for (const y of b.items) away = Math.min(away, y.wall > x.wall ? y.wall - x.end : x.wall - y.end);
    spaces.push({ air: Math.max(0, b.l - a.r) / body, away: Math.max(0, away) });
  }
  return spaces;
}

/** Air, in body heights, that separates words when nothing is known about the hand. */
const USUAL = 0.62;

/** The air that best parts narrow from wide (Otsu's criterion on the square root), held near what is usual. */
export function partingAir(spaces: number[]): number {
  const v = spaces.filter((g) => g < 6).map(Math.sqrt).sort((a, b) => a - b);
  if (v.length < 8) return USUAL;
  const total = v.reduce((s, x) => s + x, 0);
  let [best, at, sum] = [-1, USUAL, 0];
  for (let k = 0; k + 1 < v.length; k++) {
    sum += v[k];
    const [n0, n1] = [k + 1, v.length - k - 1];
    const [m0, m1] = [sum / n0, (total - sum) / n1];
    const between = n0 * n1 * (m1 - m0) ** 2;
    if (between > best) [best, at] = [between, ((v[k] + v[k + 1]) / 2) ** 2];
  }
  const low = v.filter((x) => x * x < at);
  const high = v.filter((x) => x * x >= at);
  const apart = median(high) - median(low);
  if (apart < 0.3 || high.length < 2 || low.length < 2) return USUAL;
  // Midway between the classes rather than at the edge of one of them.
  const mid = ((quantile(low, 0.9) + quantile(high, 0.15)) / 2) ** 2;
  return Math.min(1.3, Math.max(0.38, 0.5 * at + 0.5 * mid));
}
