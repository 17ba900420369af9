/**
 * The page as it stood at a moment of the timeline. A point of a stroke belongs to the moment of its stroke plus its own offset;
 * ink whose moment is not on the timeline is always there. All times are ms of the timeline.
 */
import { toTimeline, type Timeline } from '../time/timeline';
import type { Points } from './points';
import { isStroke, type Placed } from '../note/kinds/kinds';
import { pointsOf } from './stroke';

/** Something placed, with the moments at which the pen came down and went up. */
export interface Timed {
  readonly from: number;
  readonly to: number;
  readonly placed: Placed;
}

/** How many points of a stroke were on the paper `since` ms after the pen came down; 0 before. */
export function pointsBy(points: Points, since: number): number {
  let [lo, hi] = [0, points.n];
  while (lo < hi) {
    const mid = (lo + hi) >> 1;
    if (points.t[mid] <= since) lo = mid + 1;
    else hi = mid;
  }
  return lo;
}

/** Index of the first entry of a list in order of `from` that begins after `t`. */
function firstAfter(list: readonly Timed[], t: number): number {
  let [lo, hi] = [0, list.length];
  while (lo < hi) {
    const mid = (lo + hi) >> 1;
    if (list[mid].from <= t) lo = mid + 1;
    else hi = mid;
  }
  return lo;
}

/** What is heard of one page. */
interface PageTimes {
  readonly timeline: Timeline;
  readonly list: readonly Timed[];
  readonly at: ReadonlyMap<Placed, Timed>;
  readonly longest: number;
}

/** Ink of a page never changes in place: a stroke more makes another list, and the other pages keep theirs. */
const known = new WeakMap<readonly Placed[], PageTimes>();

function timesOf(all: readonly Placed[], timeline: Timeline): PageTimes {
  const kept = known.get(all);
  if (kept?.timeline === timeline) return kept;
  const list: Timed[] = [];
  const at = new Map<Placed, Timed>();
  let longest = 0;
  for (const placed of all) {
    const from = toTimeline(timeline, placed.stamp);
    if (from === null) continue;
    const entry = { from, to: from + placed.ms, placed };
    list.push(entry);
    at.set(placed, entry);
    if (placed.ms > longest) longest = placed.ms;
  }
  const times = { timeline, list: list.sort((a, b) => a.from - b.from), at, longest };
  known.set(all, times);
  return times;
}

/**
 * All strokes that are heard, in order, with what is needed to ask for a moment or for a change between two without going through
 * them all. Strokes that overlap in time (another hand, copies) are found by the longest stroke there is.
 */
export class Replay {
  /** What is heard, in order of the timeline. */
  readonly timed: readonly Timed[];
  private readonly pages = new Map<string, PageTimes>();
  private readonly longest: number;

  /** @param ink what lies on each page, by page id. */
  constructor(ink: Readonly<Record<string, readonly Placed[]>>, timeline: Timeline) {
    const list: Timed[] = [];
    let longest = 0;
    for (const [page, strokes] of Object.entries(ink)) {
      const times = timesOf(strokes, timeline);
      this.pages.set(page, times);
      for (const entry of times.list) list.push(entry);
      longest = Math.max(longest, times.longest);
    }
    this.timed = list.sort((a, b) => a.from - b.from);
    this.longest = longest;
  }

  /** Whether a stroke is there whole, not at all, or being written at `t`. */
  stateAt(it: Placed, t: number): 'whole' | 'ahead' | 'begun' {
    const entry = this.pages.get(it.page)?.at.get(it);
    if (!entry || entry.to <= t) return 'whole';
    return entry.from > t ? 'ahead' : 'begun';
  }

  /** Strokes that are being written at `t`. */
  begunAt(t: number): Timed[] {
    const found: Timed[] = [];
    for (let i = firstAfter(this.timed, t) - 1; i >= 0 && this.timed[i].from >= t - this.longest; i--) if (this.timed[i].to > t) found.push(this.timed[i]);
    return found;
  }

  /** Strokes whose state is not the same at `a` as at `b`, or that are begun at either. */
  changed(a: number, b: number): Timed[] {
    const [low, high] = a < b ? [a, b] : [b, a];
    const found: Timed[] = [];
    for (let i = firstAfter(this.timed, high) - 1; i >= 0 && this.timed[i].from >= low - this.longest; i--) {
      if (this.timed[i].from > low || this.timed[i].to > low) found.push(this.timed[i]);
    }
    return found.reverse();
  }

  /** The stroke begun last at or before `t`, or null. */
  lastBy(t: number): Placed | null {
    return this.timed[firstAfter(this.timed, t) - 1]?.placed ?? null;
  }
}

/** The first `n` points of a stroke's points. */
const firstPoints = (points: Points, n: number): Points => ({ n, xy: points.xy.subarray(0, 2 * n), p: points.p.subarray(0, n), t: points.t.subarray(0, n) });

/** The part of a begun stroke that is on the paper at `t`, at least its first point; null for what has no parts. */
export function writtenBy({ from, placed }: Timed, t: number): Points | null {
  if (!isStroke(placed)) return null;
  const points = pointsOf(placed);
  return firstPoints(points, Math.max(1, pointsBy(points, t - from)));
}

/** How many of its first letters a typed line has at `t`; those typed at another time are there from its beginning. */
export function lettersBy({ from, placed }: Timed, t: number): number {
  if (placed.kind !== 'typed' || !placed.stamp) return 0;
  let n = 0;
  for (const { stamp, t: since } of placed.times) {
    for (const ms of since) {
      if (stamp && stamp.take === placed.stamp.take && stamp.at + ms - placed.stamp.at > t - from) return n;
      n++;
    }
  }
  return n;
}
