import { spansOfTakes, spansOnTimeline, stretchesOnTimeline } from './onTimeline';
import type { Timeline } from './timeline';

/** b 10..20 s, a 0..5 s, a 8..9 s. */
const timeline: Timeline = [
  { take: 'b', from: 10_000, to: 20_000 },
  { take: 'a', from: 0, to: 5000 },
  { take: 'a', from: 8000, to: 9000 },
];

test('runs of takes lie where they are heard, cut where a stretch ends, and go back to where they were', () => {
  const speech: Record<string, { from: number; to: number }[]> = { a: [{ from: 4000, to: 8500 }], b: [{ from: 0, to: 1000 }, { from: 12_000, to: 13_000 }] };
  const placed = spansOnTimeline(timeline, (take) => speech[take]);
  expect(placed).toEqual([
    { from: 2000, to: 3000 },
    { from: 14_000, to: 15_000 },
    { from: 15_000, to: 15_500 },
  ]);
  expect(placed.flatMap((s) => spansOfTakes(timeline, s))).toEqual([
    { take: 'b', from: 12_000, to: 13_000 },
    { take: 'a', from: 4000, to: 5000 },
    { take: 'a', from: 8000, to: 8500 },
  ]);
  expect(spansOfTakes(timeline, { from: 9000, to: 11_000 })).toEqual([
    { take: 'b', from: 19_000, to: 20_000 },
    { take: 'a', from: 0, to: 1000 },
  ]);
  expect(stretchesOnTimeline(timeline).map((s) => [s.take, s.from, s.to])).toEqual([
    ['b', 0, 10_000],
    ['a', 10_000, 15_000],
    ['a', 15_000, 16_000],
  ]);
});
