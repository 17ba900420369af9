/** The fast way must show what the definition says: every stroke whose moment is before t, cut at t. */
import * as fc from 'fast-check';
import { fromTimeline, timelineLength, toTimeline, type Timeline } from '../time/timeline';
import { packPoints } from './points';
import { pointsBy, Replay, writtenBy } from './replay';
import { boxOf, pointsOf, type Stroke } from './stroke';

const strokeArb = fc.record({
  take: fc.constantFrom('a', 'b', null),
  at: fc.integer({ min: 0, max: 60_000 }),
  steps: fc.array(fc.integer({ min: 0, max: 400 }), { minLength: 0, maxLength: 12 }),
});
const noteArb = fc.array(strokeArb, { maxLength: 40 }).map((list) =>
  list.map(({ take, at, steps }, i): Stroke => {
    const t = [0];
    for (const s of steps) t.push(t[t.length - 1] + s);
    const points = { n: t.length, xy: Int32Array.from(t.flatMap((v, k) => [v + k, 10 * i])), p: new Uint8Array(t.length).fill(64), t: Int32Array.from(t) };
    const pts = packPoints(points);
    return { kind: 'stroke', id: `s${i}`, page: `p${i % 2}`, pen: { kind: 'ball', color: '#16324f', width: 0.4 }, pts, box: boxOf(pointsOf({ pts })), stamp: take && { take, at }, wall: i, ms: t[t.length - 1] };
  }),
);
/** Stretches of two takes in any order, with parts cut out. */
const timelineArb: fc.Arbitrary<Timeline> = fc.shuffledSubarray([
  { take: 'a', from: 0, to: 20_000 },
  { take: 'b', from: 5000, to: 60_000 },
  { take: 'a', from: 30_000, to: 45_000 },
]);

/** Points of each stroke on the paper at `t`, by the definition. */
function plainly(strokes: readonly Stroke[], timeline: Timeline, t: number): Map<string, number> {
  const shown = new Map<string, number>();
  for (const s of strokes) {
    const from = toTimeline(timeline, s.stamp);
    let n = 0;
    const points = pointsOf(s);
    for (let i = 0; i < points.n; i++) if (from === null || from + points.t[i] <= t) n++;
    shown.set(s.id, n);
  }
  return shown;
}

function byPage(strokes: readonly Stroke[]): Record<string, Stroke[]> {
  const ink: Record<string, Stroke[]> = {};
  for (const s of strokes) (ink[s.page] ??= []).push(s);
  return ink;
}

function quickly(replay: Replay, strokes: readonly Stroke[], t: number): Map<string, number> {
  const begun = new Map(replay.begunAt(t).map((b) => [b.placed.id, writtenBy(b, t)!.n]));
  return new Map(
    strokes.map((s) => {
      const state = replay.stateAt(s, t);
      return [s.id, state === 'whole' ? pointsOf(s).n : state === 'ahead' ? 0 : (begun.get(s.id) ?? -1)];
    }),
  );
}

test('the page at any moment is what the definition says, for any note and any timeline', () => {
  fc.assert(
    fc.property(noteArb, timelineArb, fc.array(fc.integer({ min: 0, max: 95_000 }), { minLength: 1, maxLength: 8 }), (strokes, timeline, times) => {
      const replay = new Replay(byPage(strokes), timeline);
      for (const t of times) expect(quickly(replay, strokes, t)).toEqual(plainly(strokes, timeline, t));
    }),
    { numRuns: 300 },
  );
});

test('going from one moment to another, forward or back, changes exactly the strokes it names', () => {
  fc.assert(
    fc.property(noteArb, timelineArb, fc.integer({ min: 0, max: 95_000 }), fc.integer({ min: 0, max: 95_000 }), (strokes, timeline, a, b) => {
      const replay = new Replay(byPage(strokes), timeline);
      const [before, after] = [plainly(strokes, timeline, a), plainly(strokes, timeline, b)];
      const named = new Set(replay.changed(a, b).map((c) => c.placed.id));
      for (const s of strokes) if (before.get(s.id) !== after.get(s.id)) expect(named).toContain(s.id);
      // And not much more: only strokes that touch the time between.
      for (const { from, to } of replay.changed(a, b)) expect(from <= Math.max(a, b) && to >= Math.min(a, b)).toBe(true);
    }),
    { numRuns: 300 },
  );
});

test('the stroke written last, and the moment of a position', () => {
  const timeline: Timeline = [{ take: 'a', from: 1000, to: 5000 }];
  const points = { n: 2, xy: Int32Array.from([0, 0, 10, 10]), p: Uint8Array.from([1, 1]), t: Int32Array.from([0, 100]) };
  const make = (id: string, at: number): Stroke => ({ kind: 'stroke', id, page: 'p', pen: { kind: 'ball', color: '#000000', width: 1 }, pts: packPoints(points), box: [0, 0, 1, 1], stamp: { take: 'a', at }, wall: at, ms: 100 });
  const replay = new Replay({ p: [make('x', 1500), make('y', 3000)] }, timeline);
  expect(replay.lastBy(400)).toBeNull();
  expect(replay.lastBy(600)!.id).toBe('x');
  expect(replay.lastBy(timelineLength(timeline))!.id).toBe('y');
  expect(fromTimeline(timeline, 600)).toEqual({ take: 'a', at: 1600 });
  expect([pointsBy(points, -1), pointsBy(points, 0), pointsBy(points, 99), pointsBy(points, 100)]).toEqual([0, 1, 1, 2]);
});
