/** Strokes as what is measured of them, and those that cross made one sign. */
import { median as middleOf } from 'simple-statistics';
import { pointsOf, unionBox, type Box, type Stroke } from '../stroke';
import type { PlainStroke } from './grouping';

/** A stroke, or several that make up one sign. */
export interface Item {
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

export function toItem(s: Stroke | PlainStroke, seq: number): Item {
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

/** A pen that comes down again so soon goes on with its sign, ms. */
const STRAIGHT_ON_MS = 600;
/** How many strokes back a stroke looks for one it crosses. */
const LOOK_BACK = 10;

/**
 * Strokes that touch and were made in one go are one sign (the bar of a t, the serifs of a printed letter), so that a letter of
 * many small strokes counts like one of a single stroke. Long flat strokes are left out: an underline touches many words.
 */
export function joinTouching(items: Item[]): Item[] {
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
        const reach = item.wall - other.end < STRAIGHT_ON_MS ? 0.16 : 0.08;
          if ((small || shared > 0.4 * Math.min(item.w, other.w)) && meets(other, item, reach * usual)) home = other;
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

/** The middle of some values; 0 of none. */
export const median = (values: number[]): number => (values.length ? middleOf(values) : 0);

/** The same of a few values, which it puts in order: it is asked for every sign and line, and on so few this is several times as fast. 0 of none. */
export function medianOfFew(values: number[]): number {
  const n = values.length;
  for (let i = 1; i < n; i++) {
    const v = values[i];
    let k = i - 1;
    for (; k >= 0 && values[k] > v; k--) values[k + 1] = values[k];
    values[k + 1] = v;
  }
  return n === 0 ? 0 : n % 2 ? values[n >> 1] : (values[n / 2 - 1] + values[n / 2]) / 2;
}

/** Typical height of a stroke that is a letter or a run of letters. */
export function bodyHeight(items: Item[]): number {
  const heights = items.map((i) => i.h).filter((h) => h > 0.5 && h < 25);
  return Math.max(0.8, median(heights) || 3);
}

/** Local body height: the median over the strokes written just before and after. */
export function localHeights(items: Item[], fallback: number): number[] {
  return items.map((_, i) => {
    const near: number[] = [];
    for (let k = Math.max(0, i - 12); k <= Math.min(items.length - 1, i + 12); k++) if (items[k].h > 0.5 && items[k].h < 25) near.push(items[k].h);
    return near.length >= 4 ? Math.max(0.8, medianOfFew(near)) : fallback;
  });
}

export function meets(a: Item, b: Item, within: number): boolean {
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

export const boxOfItems = (items: Item[]): Box => items.map((i): Box => [i.l, i.t, i.r, i.b]).reduce(unionBox);
