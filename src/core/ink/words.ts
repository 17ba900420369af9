/**
 * Strokes into lines and words, by place and by time; what is drawn stays a drawing.
 *
 * Lengths are in mm. The unit of judgement is the body height of the writing nearby, so that large and small hands, and both on
 * one page, are treated alike. Steps: set large strokes aside as drawings; thread the others onto lines in the order they were
 * written; undo the slant of each line; find where along the line there is air; decide which air separates words from how the
 * gaps of the page fall into narrow and wide, helped by how long the pen was away.
 */
import { isDecoration } from '../note/kinds/kinds';
import { boxesMeet, growBox, pointsOf, unionBox, type Box, type Stroke } from './stroke';

/** A stroke as plain points: mm on the page, and ms on any clock common to the strokes. */
export interface PlainStroke {
  readonly id: string;
  readonly points: readonly { readonly x: number; readonly y: number; readonly t: number }[];
}

export interface Word {
  /** Ids of its strokes, in the order they were written. */
  readonly strokes: readonly string[];
  readonly box: Box;
  readonly line: number;
}

export interface Line {
  /** Indices into `words`, left to right. */
  readonly words: readonly number[];
  readonly box: Box;
  /** Height of a small letter, mm. */
  readonly body: number;
}

export interface Drawing {
  readonly strokes: readonly string[];
  readonly box: Box;
}

export interface Grouping {
  readonly words: readonly Word[];
  /** Top to bottom. */
  readonly lines: readonly Line[];
  readonly drawings: readonly Drawing[];
}

/** Groups the strokes of one page: strokes of a note, or plain points. Highlighter, and a stroke without points, are passed over; a clean shape is a drawing. */
export function groupWords(all: readonly (Stroke | PlainStroke)[]): Grouping {
  const shapes = all.filter((ink): ink is Stroke => 'pts' in ink && isDecoration(ink) && ink.pen.kind !== 'highlighter');
  const grouping = groupWritten(all.filter((s) => !('pts' in s && isDecoration(s))));
  return shapes.length ? { ...grouping, drawings: withShapes(grouping.drawings, shapes) } : grouping;
}

/** Shapes join the drawings they touch and each other. */
function withShapes(drawings: readonly Drawing[], shapes: readonly Stroke[]): Drawing[] {
  let out: Drawing[] = [...drawings];
  for (const s of shapes) {
    const near = out.filter((d) => boxesMeet(growBox(d.box, 1), s.box));
    const whole = { strokes: [...near.flatMap((d) => d.strokes), s.id], box: near.map((d) => d.box).reduce(unionBox, s.box) };
    out = [...out.filter((d) => !near.includes(d)), whole];
  }
  return out;
}

function groupWritten(strokes: readonly (Stroke | PlainStroke)[]): Grouping {
  const single = strokes.filter((s) => 'pts' in s || s.points.length > 0).map(toItem).sort((a, b) => a.wall - b.wall || (a.ids[0] < b.ids[0] ? -1 : 1));
  if (!single.length) return { words: [], lines: [], drawings: [] };
  const items = joinTouching(single);
  const body = bodyHeight(items);
  const { written, drawings } = setDrawingsAside(items, body);
  const threads = threadLines(written, body);
  return assemble(threads, drawings);
}

/** A stroke, or several that make up one sign. */
interface Item {
  ids: string[];
  wall: number;
  end: number;
  l: number;
  t: number;
  r: number;
  b: number;
  h: number;
  w: number;
  cx: number;
  cy: number;
  xy: Float32Array;
  /** Its strokes where it has several; `xy` holds their points one after the other. */
  parts: Float32Array[] | null;
  /** A dot, bar or accent: says nothing about the line it stands on by its own height. */
  small: boolean;
  seq: number;
}

/** Points of a stroke that are looked at. */
const KEPT = 40;

function toItem(s: Stroke | PlainStroke, seq: number): Item {
  const packed = 'pts' in s ? pointsOf(s) : null;
  const plain = 'pts' in s ? null : s.points;
  const n = packed?.n ?? plain!.length;
  const keep = Math.min(n, KEPT);
  const xy = new Float32Array(2 * keep);
  for (let k = 0; k < keep; k++) {
    const i = keep > 1 ? Math.round((k * (n - 1)) / (keep - 1)) : 0;
    xy[2 * k] = packed ? packed.xy[2 * i] / 100 : plain![i].x;
    xy[2 * k + 1] = packed ? packed.xy[2 * i + 1] / 100 : plain![i].y;
  }
  const [l, t, r, b] = 'pts' in s ? s.box : boundsOf(s.points);
  const wall = 'pts' in s ? s.wall : s.points[0].t;
  const end = 'pts' in s ? s.wall + s.ms : s.points[n - 1].t;
  return { ids: [s.id], wall, end, l, t, r, b, h: b - t, w: r - l, cx: (l + r) / 2, cy: (t + b) / 2, xy, parts: null, small: false, seq };
}

function boundsOf(points: PlainStroke['points']): Box {
  const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { x, y } of points) {
    box[0] = Math.min(box[0], x);
    box[1] = Math.min(box[1], y);
    box[2] = Math.max(box[2], x);
    box[3] = Math.max(box[3], y);
  }
  return box;
}

/** How many strokes back a stroke looks for one it crosses. */
const LOOK_BACK = 10;

/**
 * Strokes that touch and were made in one go are one sign (the bar of a t, the serifs of a printed letter), so that a letter of
 * many small strokes counts like one of a single stroke. Long flat strokes are left out: an underline touches many words.
 */
function joinTouching(items: Item[]): Item[] {
  const heights = items.map((i) => Math.max(i.h, 0.6 * i.w)).filter((h) => h > 0.4);
  const usual = median(heights) || 3;
  const out: Item[] = [];
  for (const item of items) {
    const flat = item.h < 0.3 * usual && item.w > 1.6 * usual;
    let home: Item | null = null;
    if (!flat && item.h < 4 * usual) {
      for (let k = out.length - 1; k >= Math.max(0, out.length - LOOK_BACK) && !home; k--) {
        const other = out[k];
        if (other.h < 0.3 * usual && other.w > 1.6 * usual) continue;
        if (item.wall - other.end > 2500 || other.h > 4 * usual) continue;
        const small = Math.min(item.h, other.h) < 0.6 * Math.max(item.h, other.h);
        const shared = Math.min(item.r, other.r) - Math.max(item.l, other.l);
        if ((small || shared > 0.4 * Math.min(item.w, other.w)) && meets(other, item, 0.08 * usual)) home = other;
      }
    }
    if (!home) {
      out.push(item);
      continue;
    }
    home.ids.push(...item.ids);
    [home.l, home.t, home.r, home.b] = [Math.min(home.l, item.l), Math.min(home.t, item.t), Math.max(home.r, item.r), Math.max(home.b, item.b)];
    [home.w, home.h, home.cx, home.cy] = [home.r - home.l, home.b - home.t, (home.l + home.r) / 2, (home.t + home.b) / 2];
    home.end = Math.max(home.end, item.end);
    home.parts = [...(home.parts ?? [home.xy]), item.xy];
    const xy = new Float32Array(home.xy.length + item.xy.length);
    xy.set(home.xy);
    xy.set(item.xy, home.xy.length);
    home.xy = xy;
  }
  return out;
}

const median = (values: number[]): number => {
  if (!values.length) return 0;
  const v = [...values].sort((a, b) => a - b);
  return (v[(v.length - 1) >> 1] + v[v.length >> 1]) / 2;
};
const quantile = (values: number[], q: number): number => {
  const v = [...values].sort((a, b) => a - b);
  return v[Math.min(v.length - 1, Math.max(0, Math.floor(q * v.length)))];
};

/** Typical height of a stroke that is a letter or a run of letters. */
function bodyHeight(items: Item[]): number {
  const heights = items.map((i) => i.h).filter((h) => h > 0.5 && h < 25);
  return Math.max(0.8, median(heights) || 3);
}

/** Local body height: the median over the strokes written just before and after. */
function localHeights(items: Item[], fallback: number): number[] {
  return items.map((_, i) => {
    const near: number[] = [];
    for (let k = Math.max(0, i - 12); k <= Math.min(items.length - 1, i + 12); k++) if (items[k].h > 0.5 && items[k].h < 25) near.push(items[k].h);
    return near.length >= 4 ? Math.max(0.8, median(near)) : fallback;
  });
}

function setDrawingsAside(items: Item[], body: number): { written: Item[]; drawings: Item[][] } {
  const local = localHeights(items, body);
  const large = items.map((i, k) => {
    const unit = Math.min(local[k], 1.6 * body);
    return i.h > Math.max(4.2 * unit, 9) || (i.w > Math.max(16 * unit, 30) && i.h > 2.6 * unit) || (i.w > Math.max(9 * unit, 22) && i.h < 0.25 * i.w && isStraight(i));
  });
  const groups: { box: Box; items: Item[]; from: number; to: number }[] = [];
  items.forEach((item, k) => {
    if (!large[k]) return;
    const reach = growBox([item.l, item.t, item.r, item.b], 1.2 * body);
    const met = groups.filter((g) => boxesMeet(g.box, reach));
    const into = met[0] ?? { box: [item.l, item.t, item.r, item.b] as Box, items: [], from: item.wall, to: item.end };
    if (!met.length) groups.push(into);
    for (const other of met.slice(1)) {
      into.items.push(...other.items);
      into.box = unionBox(into.box, other.box);
      [into.from, into.to] = [Math.min(into.from, other.from), Math.max(into.to, other.to)];
      groups.splice(groups.indexOf(other), 1);
    }
    into.items.push(item);
    into.box = unionBox(into.box, [item.l, item.t, item.r, item.b]);
    [into.from, into.to] = [Math.min(into.from, item.wall), Math.max(into.to, item.end)];
  });
  const written: Item[] = [];
  items.forEach((item, k) => {
    if (large[k]) return;
    // A tick, an arrow head or hatching: ink that crosses the drawing's own lines, set while it was drawn.
    const home = groups.find(
      (g) => boxesMeet(g.box, [item.l, item.t, item.r, item.b]) && item.wall > g.from - 4000 && item.wall < g.to + 6000 && item.h < 3 * body && g.items.some((d) => meets(d, item, 0.35)),
    );
    if (home) home.items.push(item);
    else written.push(item);
  });
  return { written, drawings: groups.map((g) => g.items) };
}

/** Straight enough to be a rule or an underline: leaves the chord by less than a twelfth of its length. */
function isStraight(i: Item): boolean {
  const n = i.xy.length / 2;
  const [ax, ay, bx, by] = [i.xy[0], i.xy[1], i.xy[2 * n - 2], i.xy[2 * n - 1]];
  const length = Math.hypot(bx - ax, by - ay);
  if (length < 0.9 * i.w) return false;
  for (let k = 1; k < n; k++) if (Math.abs((bx - ax) * (i.xy[2 * k + 1] - ay) - (by - ay) * (i.xy[2 * k] - ax)) / length > length / 12) return false;
  return true;
}

function meets(a: Item, b: Item, within: number): boolean {
  if (a.l > b.r + within || b.l > a.r + within || a.t > b.b + within || b.t > a.b + within) return false;
  for (const line of a.parts ?? [a.xy]) {
    for (let i = 0; i < line.length; i += 2) {
      // A dot is a line of no length.
      const k = Math.min(i + 2, line.length - 2);
      const [ax, ay, bx, by] = [line[i], line[i + 1], line[k], line[k + 1]];
      if (Math.min(ax, bx) > b.r + within || Math.max(ax, bx) < b.l - within || Math.min(ay, by) > b.b + within || Math.max(ay, by) < b.t - within) continue;
      const [dx, dy] = [bx - ax, by - ay];
      const l2 = dx * dx + dy * dy;
      for (let m = 0; m < b.xy.length; m += 2) {
        const [px, py] = [b.xy[m] - ax, b.xy[m + 1] - ay];
        const u = l2 ? Math.min(1, Math.max(0, (px * dx + py * dy) / l2)) : 0;
        const [ex, ey] = [px - u * dx, py - u * dy];
        if (ex * ex + ey * ey < within * within) return true;
      }
    }
  }
  return false;
}

interface Thread {
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
  const [top, bottom] = [median(tops), median(bottoms)];
  const height = Math.max(bottom - top, 0.6 * fallback);
  const mid = (top + bottom) / 2;
  return { top: mid - height / 2, bottom: mid + height / 2, height };
}

function threadLines(items: Item[], body: number): Thread[] {
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
          let gap = Infinity;
          for (const i of thread.full) gap = Math.min(gap, item.cx < i.l ? i.l - item.cx : item.cx > i.r ? item.cx - i.r : 0);
          score -= Math.min(0.5, (0.12 * gap) / unit);
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
  return mergeThreads(threads);
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
function slantOf(items: Item[]): number {
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

interface Chunk {
  l: number;
  r: number;
  items: Item[];
}
interface Gap {
  /** Air between neighbours in body heights. */
  air: number;
  /** ms between the end of the one and the beginning of the other. */
  away: number;
}

/** Letters of a line, left to right, each with what overlaps it, and the gaps between them. */
function chunksOf(thread: Thread): { chunks: Chunk[]; body: number } {
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
  const chunks: Chunk[] = [];
  for (const i of full.map((f) => ({ f, s: span(f) })).sort((a, b) => a.s[0] - b.s[0])) {
    const last = chunks.at(-1);
    if (last && i.s[0] <= last.r + 0.02 * body) {
      last.r = Math.max(last.r, i.s[1]);
      last.items.push(i.f);
    } else chunks.push({ l: i.s[0], r: i.s[1], items: [i.f] });
  }
  // Dots, bars and accents go to the letter they stand over; one that stands free is a letter of its own (a full stop, a dash).
  for (const i of thread.items.filter((x) => x.small).sort((a, b) => a.l - b.l)) {
    const [l, r] = span(i);
    const mid = (l + r) / 2;
    let home: Chunk | null = null;
    let best = Infinity;
    for (const c of chunks) {
      const away = l > c.r ? l - c.r : r < c.l ? c.l - r : 0;
      const d = away + 0.01 * Math.abs(mid - (c.l + c.r) / 2);
      if (d < best) [home, best] = [c, d];
    }
    const over = i.cy < top + 0.45 * (bottom - top);
    const reach = over ? 0.9 * body : 0.05 * body;
    if (home && best < reach) {
      home.items.push(i);
      if (!over || r - l > 0.5 * body) continue;
    } else chunks.push({ l, r, items: [i] });
  }
  chunks.sort((a, b) => a.l - b.l);
  return { chunks, body };
}

function gapsOf(chunks: Chunk[], body: number): Gap[] {
  const gaps: Gap[] = [];
  for (let k = 1; k < chunks.length; k++) {
    const [a, b] = [chunks[k - 1], chunks[k]];
    let away = Infinity;
    for (const x of a.items) for (const y of b.items) away = Math.min(away, y.wall > x.wall ? y.wall - x.end : x.wall - y.end);
    gaps.push({ air: Math.max(0, b.l - a.r) / body, away: Math.max(0, away) });
  }
  return gaps;
}

/** Air, in body heights, that separates words when nothing is known about the hand. */
const USUAL = 0.62;

/** The air that best parts narrow from wide (Otsu's criterion on the square root), held near what is usual. */
function partingAir(gaps: number[]): number {
  const v = gaps.filter((g) => g < 6).map(Math.sqrt).sort((a, b) => a - b);
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

function assemble(threads: Thread[], drawn: Item[][]): Grouping {
  const rows = threads.map((thread) => {
    const { chunks, body } = chunksOf(thread);
    return { chunks, body, gaps: gapsOf(chunks, body) };
  });
  const usual = partingAir(rows.flatMap((r) => r.gaps.map((g) => g.air)));
  const rhythm = median(rows.flatMap((r) => r.gaps.filter((g) => g.air < usual && g.away < 3000).map((g) => g.away))) || 150;

  const words: Word[] = [];
  const lines: Line[] = [];
  const made: { words: { items: Item[]; box: Box }[]; box: Box; body: number }[] = [];
  for (const row of rows) {
    const own = partingAir(row.gaps.map((g) => g.air));
    const limit = row.gaps.length >= 16 ? 0.6 * usual + 0.4 * own : usual;
    let word: Chunk[] = [];
    let line: { items: Item[]; box: Box }[] = [];
    const closeWord = () => {
      const items = word.flatMap((c) => c.items).sort((a, b) => a.wall - b.wall);
      if (items.length) line.push({ items, box: boxOfItems(items) });
      word = [];
    };
    const closeLine = () => {
      closeWord();
      if (line.length) made.push({ words: line, box: line.map((w) => w.box).reduce(unionBox), body: row.body });
      line = [];
    };
    row.chunks.forEach((chunk, k) => {
      if (k > 0) {
        const gap = row.gaps[k - 1];
        // A pen that was away longer than its rhythm makes a gap count for more, one that wrote straight on for less.
        const pause = gap.away / rhythm;
        let bar = limit;
        if (gap.away > 8000 && gap.air > 0.25) bar = Math.min(bar, 0.55 * limit);
        else if (pause > 4) bar *= 0.85;
        else if (pause < 1.2) bar *= 1.08;
        if (gap.air > 6) closeLine();
        else if (gap.air > bar) closeWord();
      }
      word.push(chunk);
    });
    closeLine();
  }
  made.sort((a, b) => a.box[1] + a.box[3] - (b.box[1] + b.box[3]) || a.box[0] - b.box[0]);
  made.forEach((m, line) => {
    lines.push({ words: m.words.map((_, k) => words.length + k), box: m.box, body: m.body });
    for (const w of m.words) words.push({ strokes: w.items.flatMap((i) => i.ids), box: w.box, line });
  });
  const drawings = drawn.map((items) => {
    items.sort((a, b) => a.wall - b.wall);
    return { strokes: items.flatMap((i) => i.ids), box: boxOfItems(items) };
  });
  return { words, lines, drawings };
}

const boxOfItems = (items: Item[]): Box => items.map((i): Box => [i.l, i.t, i.r, i.b]).reduce(unionBox);
