/**
 * Whether a space parts two words: a small network of one hidden layer over what can be measured of the space and of those around it. Its weights are
 * learned by `npm run learn` from written text whose words are known (scripts/learn.ts) and stand in `partingWeights.ts`.
 */
import { quantile } from 'simple-statistics';
import { median, medianOfFew, type Item } from './items';
import { WEIGHTS, type Network } from './partingWeights';
import type { Cluster, Space } from './spaces';

/** A line whose spaces are judged. */
export interface Row {
  readonly clusters: readonly Cluster[];
  readonly spaces: readonly Space[];
  /** Height of a small letter by the heights of its signs, and by where its ink lies, mm. */
  readonly body: number;
  readonly ink: number;
}

/** What is the same for all spaces of a page. */
export interface PageSpaces {
  /** Air that parts words on this page as far as narrow and wide can be told apart, in body heights. */
  readonly usual: number;
  /** ms that the pen is away between letters. */
  readonly rhythm: number;
  /** The middle of the narrow spaces, and of the wide ones, in body heights. */
  readonly narrow: number;
  readonly wide: number;
  /** All air of the page, ascending, in body heights. */
  readonly airs: readonly number[];
}

export const FEATURES = 24;
/** Distances are told apart up to this, in body heights. */
const MOST = 8;

const log = (v: number): number => Math.log(Math.max(v, 0.02));
const clip = (v: number, to: number): number => Math.max(-to, Math.min(to, v));

interface Shape {
  readonly h: number;
  readonly w: number;
  /** Middle above the foot of the line, in body heights. */
  readonly up: number;
}

function shapeOf(cluster: Cluster, body: number, foot: number): Shape {
  const [t, b] = [Math.min(...cluster.items.map((i: Item) => i.t)), Math.max(...cluster.items.map((i: Item) => i.b))];
  return { h: (b - t) / body, w: (cluster.r - cluster.l) / body, up: (foot - (t + b) / 2) / body };
}

/** Share of the spaces of a page that have less air. */
function rank(airs: readonly number[], air: number): number {
  let [low, high] = [0, airs.length];
  while (low < high) {
    const mid = (low + high) >> 1;
    if (airs[mid] < air) low = mid + 1;
    else high = mid;
  }
  return airs.length ? low / airs.length : 0.5;
}

/** Ink farther than this from the edge of its sign does not face the next one, in body heights. */
const FACING = 1;

/** The least distance between the ink of two signs that stand side by side, by every other point that `Item` keeps, mm. */
function distance(a: Cluster, b: Cluster, body: number): number {
  const right = Math.max(...a.items.map((i) => i.r)) - FACING * body;
  const left = Math.min(...b.items.map((i) => i.l)) + FACING * body;
  const facing: number[] = [];
  for (const { xy, l } of b.items) if (l <= left) for (let k = 0; k < xy.length; k += 4) if (xy[k] <= left) facing.push(xy[k], xy[k + 1]);
  const [l, r] = [Math.min(...b.items.map((i) => i.l)), left];
  let least = Infinity;
  for (const { xy, r: end } of a.items) {
    if (end < right) continue;
    for (let i = 0; i < xy.length; i += 4) {
      const x = xy[i];
      const y = xy[i + 1];
      const dx = Math.max(l - x, x - r, 0);
      if (x < right || dx * dx >= least) continue;
      for (let k = 0; k < facing.length; k += 2) {
        const ex = x - facing[k];
        const ey = y - facing[k + 1];
        const d = ex * ex + ey * ey;
        if (d < least) least = d;
      }
    }
  }
  return Math.sqrt(least);
}

/** Gives what is known of a space of a line by its index: `FEATURES` numbers, about -3 to 3. */
export function measuring(row: Row, page: PageSpaces): (k: number) => Float64Array {
  const { clusters, spaces, body, ink } = row;
  // The foot of the line near by, which may rise or fall: that of the two signs before and after.
  const feet = clusters.flatMap((c, k) => {
    const full = c.items.filter((i) => !i.small);
    return full.length ? [{ k, foot: Math.max(...full.map((i) => i.b)) }] : [];
  });
  const known: Shape[] = [];
  const shapeAt = (k: number): Shape => {
    const found = feet.findIndex((f) => f.k >= k);
    const next = found < 0 ? feet.length : found;
    const near = feet.slice(Math.max(0, next - 2), next + 3).map((f) => f.foot);
    return shapeOf(clusters[k], body, near.length ? medianOfFew(near) : Math.max(...clusters[k].items.map((i) => i.b)));
  };
  // Each sign stands at two spaces.
  const shape = (k: number): Shape => (known[k] ??= shapeAt(k));
  const airs = spaces.map((s) => s.air);
  const middle = median(airs.slice());
  const upper = airs.length ? quantile(airs, 0.75) : 0;
  return (k) => {
    const space = spaces[k];
    const [a, b] = [shape(k), shape(k + 1)];
    const [before, after] = [airs[k - 1] ?? page.usual, airs[k + 1] ?? page.usual];
    const air = space.air;
    const near = Math.min(MOST, Math.max(distance(clusters[k], clusters[k + 1], body) / body, 0));
    return Float64Array.from([
      log(air) / 1.5,
      log(near),
      clip(log(near / page.usual) * 1.5, 4),
      4 * rank(page.airs, air) - 2,
      clip(air, 3),
      clip(log((air * body) / ink) / 1.5, 3),
      clip(log(air / page.usual) * 1.5, 4),
      clip((air - page.narrow) / Math.max(0.08, page.wide - page.narrow), 3),
      clip(log((air + 0.05) / (middle + 0.05)), 3),
      clip(log((air + 0.05) / (upper + 0.05)), 3),
      clip(log((air + 0.05) / (before + 0.05)), 3),
      clip(log((air + 0.05) / (after + 0.05)), 3),
      clip(Math.log((space.away + 30) / (page.rhythm + 30)), 3),
      clip(Math.log((space.away + 30) / 330), 3),
      clip(a.h, 3) - 1,
      clip(b.h, 3) - 1,
      clip(a.w, 5) / 2 - 1,
      clip(b.w, 5) / 2 - 1,
      clip(a.up, 2),
      clip(b.up, 2),
      a.h < 0.4 && a.w < 0.5 ? 1 : 0,
      b.h < 0.4 && b.w < 0.5 ? 1 : 0,
      a.h < 0.4 && a.w >= 0.5 ? 1 : 0,
      b.h < 0.4 && b.w >= 0.5 ? 1 : 0,
    ]);
  };
}

/** Less air than this never parts words, more always does, in body heights: of those nothing has to be asked. */
const [NEVER, ALWAYS] = [0.12, 2.6];

/** Gives whether a space of a line parts words, by its index. */
export function parting(row: Row, page: PageSpaces): (k: number) => boolean {
  const measure = measuring(row, page);
  return (k) => {
    const { air } = row.spaces[k];
    return air > ALWAYS || (air > NEVER && parts(measure(k)) > 0.5);
  };
}

/** The share of belief, 0..1, that the space parts words. */
export function parts(x: ArrayLike<number>, { hidden, out }: Network = WEIGHTS): number {
  let sum = out[hidden.length];
  for (let h = 0; h < hidden.length; h++) {
    const w = hidden[h];
    let v = w[x.length];
    for (let i = 0; i < x.length; i++) v += w[i] * x[i];
    sum += out[h] * Math.tanh(v);
  }
  return 1 / (1 + Math.exp(-sum));
}
