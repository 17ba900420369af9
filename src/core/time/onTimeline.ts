/** What is known by take time, laid out as it is heard. Times are ms. */
import type { Span } from '../audio/speech';
import type { Timeline } from './timeline';

/** Runs of takes where they are heard, ascending; a run that is cut by a stretch's end ends there. */
export function spansOnTimeline(timeline: Timeline, spansOf: (take: string) => readonly Span[]): Span[] {
  const out: Span[] = [];
  let start = 0;
  for (const { take, from, to } of timeline) {
    for (const s of spansOf(take)) {
      const [a, b] = [Math.max(from, s.from), Math.min(to, s.to)];
      if (b > a) out.push({ from: start + a - from, to: start + b - from });
    }
    start += to - from;
  }
  return out;
}

/** Where each stretch lies, with its take. */
export function stretchesOnTimeline(timeline: Timeline): (Span & { readonly take: string; readonly shift: number })[] {
  let start = 0;
  return timeline.map(({ take, from, to }) => {
    const placed = { take, from: start, to: start + to - from, shift: start - from };
    start = placed.to;
    return placed;
  });
}

/** Runs of the timeline as runs of takes. */
export const spansOfTakes = (timeline: Timeline, { from, to }: Span): { take: string; from: number; to: number }[] =>
  stretchesOnTimeline(timeline).flatMap((s) => {
    const [a, b] = [Math.max(from, s.from), Math.min(to, s.to)];
    return b > a ? [{ take: s.take, from: a - s.shift, to: b - s.shift }] : [];
  });
