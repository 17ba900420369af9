/** Written signs threaded to lines, and how they lean. */
import { localHeights, medianOfFew, type Item } from './items';

export interface Thread {
  items: Item[];
  /** Those that are no dots or bars. */
  full: Item[];
  body: number;
  l: number;
  t: number;
  r: number;
  b: number;
}

function addTo(thread: Thread, item: Item): void {
  thread.items.push(item);
  if (!item.small) thread.full.push(item);
  [thread.l, thread.t, thread.r, thread.b] = [Math.min(thread.l, item.l), Math.min(thread.t, item.t), Math.max(thread.r, item.r), Math.max(thread.b, item.b)];
}

const NEAREST = 9;
const nearItems: Item[] = [];
const nearDistances: number[] = [];

/** Where the line runs near x: the middle half of the tops and bottoms of the nearest full strokes. */
function bandAt(thread: Thread, x: number, fallback: number): { top: number; bottom: number; height: number } {
  const pool = thread.full.length ? thread.full : thread.items;
  let n = 0;
  for (let k = pool.length - 1; k >= 0; k--) {
    const i = pool[k];
    const d = x < i.l ? i.l - x : x > i.r ? x - i.r : 0;
    if (n === NEAREST && d >= nearDistances[n - 1]) continue;
    let at = n < NEAREST ? n++ : n - 1;
    for (; at > 0 && nearDistances[at - 1] > d; at--) {
      nearDistances[at] = nearDistances[at - 1];
      nearItems[at] = nearItems[at - 1];
    }
    nearDistances[at] = d;
    nearItems[at] = i;
  }
  const tops: number[] = [];
  const bottoms: number[] = [];
  for (let k = 0; k < n; k++) {
    tops.push(nearItems[k].t);
    bottoms.push(nearItems[k].b);
  }
  const top = medianOfFew(tops);
  const bottom = medianOfFew(bottoms);
  const height = Math.max(bottom - top, 0.6 * fallback);
  const mid = (top + bottom) / 2;
  return { top: mid - height / 2, bottom: mid + height / 2, height };
}

export function threadLines(items: Item[], body: number): Thread[] {
  const local = localHeights(items, body);
  items.forEach((i, k) => {
    i.small = i.h < 0.42 * local[k];
  });
  const threads: Thread[] = [];
  let current: Thread | null = null;
  let last: Item | null = null;

  // Dots and bars say little about where the line runs, so the full strokes are threaded first.
  const place = (item: Item, k: number, small: boolean) => {
    const unit = local[k];
    let best: Thread | null = null;
    let bestScore = small ? 0.05 : 0.3;
    for (const thread of threads) {
      const slack = 1.2 * Math.max(unit, thread.body);
      if (item.b < thread.t - slack || item.t > thread.b + slack) continue;
      const band = bandAt(thread, item.cx, unit);
      const away = item.l > thread.r ? item.l - thread.r : item.r < thread.l ? thread.l - item.r : 0;
      if (away > 7 * Math.max(unit, band.height)) continue;
      let score: number;
      if (small) {
        const reach = 0.75 * band.height;
        const off = item.cy < band.top ? band.top - item.cy : item.cy > band.bottom ? (item.cy - band.bottom) * 1.4 : 0;
        score = 1 - off / reach;
        if (score > 0) {
          // Above or below what it belongs to, not just at the height of the line.
          let space = Infinity;
          for (const i of thread.full) space = Math.min(space, item.cx < i.l ? i.l - item.cx : item.cx > i.r ? item.cx - i.r : 0);
          score -= Math.min(0.5, (0.12 * space) / unit);
        }
      } else {
        const overlap = Math.min(item.b, band.bottom) - Math.max(item.t, band.top);
        score = overlap / Math.min(item.h, band.height);
        const ratio = item.h / band.height;
        // Much larger or smaller writing that only reaches into the band is a line of its own.
        if (ratio > 3.2 || ratio < 0.3) score *= 0.6;
        score -= 0.25 * (Math.abs(item.cy - (band.top + band.bottom) / 2) / band.height);
      }
      if (thread === current && last && item.wall - last.end < 4000) score += 0.2;
      score -= (0.02 * away) / unit;
      if (score > bestScore) [best, bestScore] = [thread, score];
    }
    if (!best) threads.push((best = { items: [], full: [], body: unit, l: Infinity, t: Infinity, r: -Infinity, b: -Infinity }));
    addTo(best, item);
    current = best;
    last = item;
  };
  items.forEach((item, k) => !item.small && place(item, k, false));
  [current, last] = [null, null];
  items.forEach((item, k) => item.small && place(item, k, true));
  for (const thread of threads) thread.items.sort((a, b) => a.wall - b.wall);
  return broughtHome(mergeThreads(threads), new Map(items.map((i, k) => [i, local[k]])));
}

/** A thread of so few signs is no line by itself where it lies at one. */
const FEW = 2;
/** A dot, comma or tail that belongs to a letter lies so near it, in body heights: beside, and above or below the band of its line. */
const [BESIDE, BEYOND] = [0.9, 1.25];

/**
 * Signs that went to another line than what was written just before and after them, and lie at that line, are brought to it: the dot of an i under a long
 * tail, a comma, a tail that hangs low.
 */
function broughtHome(threads: Thread[], local: ReadonlyMap<Item, number>): Thread[] {
  const of = new Map(threads.flatMap((t) => t.items.map((i) => [i, t] as const)));
  const order = [...of.keys()].sort((a, b) => a.wall - b.wall);
  const moved = new Set<Thread>();
  order.forEach((item, k) => {
    const own = of.get(item)!;
    const [before, after] = [order[k - 1], order[k + 1]].map((i) => (i ? of.get(i)! : null));
    const home = before && before === after ? before : own.items.length <= FEW ? [before, after].find((t) => t && t !== own && t.items.length > FEW) : null;
    if (!home || home === own) return;
    const unit = Math.max(local.get(item) ?? home.body, 0.6 * home.body);
    let beside = Infinity;
    for (const i of home.full) if (i !== item) beside = Math.min(beside, Math.max(0, i.l - item.r, item.l - i.r));
    const band = bandAt(home, item.cx, unit);
    const beyond = Math.max(0, band.top - item.b, item.t - band.bottom);
    if (beside > BESIDE * unit || beyond > BEYOND * unit) return;
    own.items.splice(own.items.indexOf(item), 1);
    if (own.full.includes(item)) own.full.splice(own.full.indexOf(item), 1);
    addTo(home, item);
    of.set(item, home);
    moved.add(own).add(home);
  });
  for (const thread of moved) {
    thread.items.sort((a, b) => a.wall - b.wall);
    [thread.l, thread.t, thread.r, thread.b] = [Math.min(...thread.items.map((i) => i.l)), Math.min(...thread.items.map((i) => i.t)), Math.max(...thread.items.map((i) => i.r)), Math.max(...thread.items.map((i) => i.b))];
  }
  return threads.filter((t) => t.items.length);
}

/** A line begun twice (first word low, first word a dash) is one line: join threads that run on at the same height. */
function mergeThreads(threads: Thread[]): Thread[] {
  for (let changed = true; changed; ) {
    changed = false;
    for (let i = 0; i < threads.length && !changed; i++) {
      for (let k = i + 1; k < threads.length && !changed; k++) {
        const [a, b] = [threads[i], threads[k]];
        const [few, many] = a.items.length < b.items.length ? [a, b] : [b, a];
        if (few.items.length > 60 || few.b < many.t || few.t > many.b) continue;
        const mid = few.items.reduce((s, x) => s + x.cx, 0) / few.items.length;
        const [p, q] = [bandAt(few, mid, few.body), bandAt(many, mid, many.body)];
        const apart = Math.max(few.l - many.r, many.l - few.r, 0);
        const overlap = Math.min(p.bottom, q.bottom) - Math.max(p.top, q.top);
        const ratio = p.height / q.height;
        if (apart > 5 * Math.max(p.height, q.height) || overlap < 0.55 * Math.min(p.height, q.height) || ratio > 2.4 || ratio < 0.4) continue;
        for (const item of few.items) addTo(many, item);
        many.items.sort((x, y) => x.wall - y.wall);
        threads.splice(threads.indexOf(few), 1);
        changed = true;
      }
    }
  }
  return threads;
}

/** Lean of the writing as dx per dy (0 upright, positive to the right going up), from its steep parts, weighted by length. */
export function slantOf(items: Item[]): number {
  const lean: { s: number; w: number }[] = [];
  for (const i of items) {
    if (i.small) continue;
    for (let k = 2; k + 1 < i.xy.length; k += 2) {
      const [dx, dy] = [i.xy[k] - i.xy[k - 2], i.xy[k + 1] - i.xy[k - 1]];
      if (Math.abs(dy) > 1.1 * Math.abs(dx) && Math.abs(dy) > 0.1 * i.h) lean.push({ s: -dx / dy, w: Math.abs(dy) });
    }
  }
  if (lean.length < 4) return 0;
  lean.sort((a, b) => a.s - b.s);
  const total = lean.reduce((s, e) => s + e.w, 0);
  let sum = 0;
  for (const e of lean) if ((sum += e.w) >= total / 2) return Math.max(-0.6, Math.min(0.6, e.s));
  return 0;
}
