/**
 * The page as it stood at a moment of the timeline. A point of a stroke belongs to the moment of its stroke plus its own offset;
 * ink whose moment is not on the timeline is always there. All times are ms of the timeline.
 */
import { toTimeline, type Timeline } from '../time/timeline';
import type { Points } from './points';
import { pointsOf, type Stroke } from './stroke';

/** A stroke with the moments at which its pen came down and went up. */
export interface TimedStroke {
  readonly from: number;
  readonly to: number;
  readonly stroke: Stroke;
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
function firstAfter(list: readonly TimedStroke[], t: number): number {
  let [lo, hi] = [0, list.length];
  while (lo < hi) {
    const mid = (lo + hi) >> 1;
    if (list[mid].from <= t) lo = mid + 1;
    else hi = mid;
  }
  return lo;
}

/** The heard strokes of one page's ink. */
interface PageTimes {
  readonly timeline: Timeline;
  readonly list: readonly TimedStroke[];
  readonly at: ReadonlyMap<Stroke, TimedStroke>;
  readonly longest: number;
}

/** Ink of a page never changes in place: a stroke more makes another list, and the other pages keep theirs. */
const known = new WeakMap<readonly Stroke[], PageTimes>();

function timesOf(strokes: readonly Stroke[], timeline: Timeline): PageTimes {
  const kept = known.get(strokes);
  if (kept?.timeline === timeline) return kept;
  const list: TimedStroke[] = [];
  const at = new Map<Stroke, TimedStroke>();
  let longest = 0;
  for (const stroke of strokes) {
    const from = toTimeline(timeline, stroke.stamp);
    if (from === null) continue;
    const entry = { from, to: from + stroke.ms, stroke };
    list.push(entry);
    at.set(stroke, entry);
    if (stroke.ms > longest) longest = stroke.ms;
  }
  const times = { timeline, list: list.sort((a, b) => a.from - b.from), at, longest };
  known.set(strokes, times);
  return times;
}

/**
 * All strokes that are heard, in order, with what is needed to ask for a moment or for a change between two without going through
 * them all. Strokes that overlap in time (another hand, copies) are found by the longest stroke there is.
 */
export class Replay {
  /** Heard strokes in order of the timeline. */
  readonly strokes: readonly TimedStroke[];
  private readonly pages = new Map<string, PageTimes>();
  private readonly longest: number;

  /** @param ink strokes of each page, by page id. */
  constructor(ink: Readonly<Record<string, readonly Stroke[]>>, timeline: Timeline) {
    const list: TimedStroke[] = [];
    let longest = 0;
    for (const [page, strokes] of Object.entries(ink)) {
      const times = timesOf(strokes, timeline);
      this.pages.set(page, times);
      for (const entry of times.list) list.push(entry);
      longest = Math.max(longest, times.longest);
    }
    this.strokes = list.sort((a, b) => a.from - b.from);
    this.longest = longest;
  }

  /** Whether a stroke is there whole, not at all, or being written at `t`. */
  stateAt(stroke: Stroke, t: number): 'whole' | 'ahead' | 'begun' {
    const entry = this.pages.get(stroke.page)?.at.get(stroke);
    if (!entry || entry.to <= t) return 'whole';
    return entry.from > t ? 'ahead' : 'begun';
  }

  /** Strokes that are being written at `t`. */
  begunAt(t: number): TimedStroke[] {
    const found: TimedStroke[] = [];
    for (let i = firstAfter(this.strokes, t) - 1; i >= 0 && this.strokes[i].from >= t - this.longest; i--) if (this.strokes[i].to > t) found.push(this.strokes[i]);
    return found;
  }

  /** Strokes whose state is not the same at `a` as at `b`, or that are begun at either. */
  changed(a: number, b: number): TimedStroke[] {
    const [low, high] = a < b ? [a, b] : [b, a];
    const found: TimedStroke[] = [];
    for (let i = firstAfter(this.strokes, high) - 1; i >= 0 && this.strokes[i].from >= low - this.longest; i--) {
      if (this.strokes[i].from > low || this.strokes[i].to > low) found.push(this.strokes[i]);
    }
    return found.reverse();
  }

  /** The stroke begun last at or before `t`, or null. */
  lastBy(t: number): Stroke | null {
    return this.strokes[firstAfter(this.strokes, t) - 1]?.stroke ?? null;
  }
}

/** The first `n` points of a stroke's points. */
export const firstPoints = (points: Points, n: number): Points => ({ n, xy: points.xy.subarray(0, 2 * n), p: points.p.subarray(0, n), t: points.t.subarray(0, n) });

/** The part of a begun stroke that is on the paper at `t`; at least its first point. */
export const writtenBy = ({ from, stroke }: TimedStroke, t: number): Points => firstPoints(pointsOf(stroke), Math.max(1, pointsBy(pointsOf(stroke), t - from)));
