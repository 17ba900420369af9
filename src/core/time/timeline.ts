/**
 * The timeline: what is heard, in order, as stretches of takes. Editing the sound changes the timeline; takes and stamps stay.
 * All times are ms.
 */

/** The link of a stroke to its sound: take time `at` in take `take`. Made once, never rewritten. */
export interface Stamp {
  readonly take: string;
  readonly at: number;
}

export interface Stretch {
  readonly take: string;
  /** Take time of the first sound heard. */
  readonly from: number;
  /** Take time at which the stretch ends. */
  readonly to: number;
  /** It ends at a cut and not where its take does. */
  readonly cut?: true;
}

export type Timeline = readonly Stretch[];

export const timelineLength = (timeline: Timeline): number => timeline.reduce((sum, s) => sum + (s.to - s.from), 0);

/**
 * A stroke begun in the very last moment of a take can be dated a little after its last packet. Up to this many ms it still
 * belongs to the end of the sound; where sound was cut away there is no such end.
 */
const TAIL_MS = 400;

/** Position on the timeline at which a stamp is heard, or null when its moment is not on the timeline (unheard). */
export function toTimeline(timeline: Timeline, stamp: Stamp | null): number | null {
  if (!stamp) return null;
  let start = 0;
  let tail: number | null = null;
  for (const s of timeline) {
    const length = s.to - s.from;
    if (s.take === stamp.take) {
      if (stamp.at >= s.from && stamp.at < s.to) return start + stamp.at - s.from;
      if (!s.cut && stamp.at >= s.to && stamp.at < s.to + TAIL_MS) tail ??= start + length;
    }
    start += length;
  }
  return tail;
}

/** The moment heard at a timeline position (clamped to the timeline), or null when the timeline is empty. */
export function fromTimeline(timeline: Timeline, position: number): Stamp | null {
  let start = 0;
  for (const s of timeline) {
    const length = s.to - s.from;
    if (position < start + length) return { take: s.take, at: s.from + Math.max(0, position - start) };
    start += length;
  }
  const last = timeline.at(-1);
  return last ? { take: last.take, at: last.to } : null;
}

/** Timeline position to start from so that `leadIn` ms are heard before the stamp; never before the take the stamp is in. */
export function playFrom(timeline: Timeline, stamp: Stamp, leadIn: number): number | null {
  const position = toTimeline(timeline, stamp);
  if (position === null) return null;
  let start = 0;
  for (const s of timeline) {
    const length = s.to - s.from;
    if (position <= start + length && s.take === stamp.take) return Math.max(start, position - leadIn);
    start += length;
  }
  return Math.max(0, position - leadIn);
}

/**
 * Where a position of one timeline is on another: at the same moment of its take, or, where that was cut away, at what is heard next of it;
 * at the end when nothing is.
 */
export function positionAfter(before: Timeline, after: Timeline, position: number): number {
  let start = 0;
  for (const s of before) {
    const end = start + s.to - s.from;
    if (position < end) {
      const from = s.from + Math.max(0, position - start);
      let best: number | null = null;
      let at = 0;
      let first = Infinity;
      for (const t of after) {
        const heard = Math.max(from, t.from);
        if (t.take === s.take && heard < Math.min(s.to, t.to) && heard < first) [first, best] = [heard, at + heard - t.from];
        at += t.to - t.from;
      }
      if (best !== null) return best;
    }
    start = end;
  }
  return timelineLength(after);
}
