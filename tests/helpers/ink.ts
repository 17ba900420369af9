/** Strokes for tests of the tools. */
import { newId } from '../../src/core/id';
import type { Pen } from '../../src/core/ink/pen';
import { PRESSURE_MAX, type Points } from '../../src/core/ink/points';
import { makeStroke, pointsOf, type Stroke } from '../../src/core/ink/stroke';
import type { PlainStroke } from '../../src/core/ink/words/grouping';

export const BALL: Pen = { kind: 'ball', color: '#16324f', width: 0.4 };

/** Points through places in mm, 8 ms apart. */
export function pointsThrough(at: readonly (readonly [number, number])[], pressure = 0.5): Points {
  const points: Points = { n: at.length, xy: new Int32Array(2 * at.length), p: new Uint8Array(at.length).fill(Math.round(pressure * PRESSURE_MAX)), t: new Int32Array(at.length) };
  at.forEach(([x, y], i) => {
    points.xy.set([Math.round(x * 100), Math.round(y * 100)], 2 * i);
    points.t[i] = 8 * i;
  });
  return points;
}

export const strokeThrough = (at: readonly (readonly [number, number])[], rest: Partial<Stroke> = {}): Stroke =>
  makeStroke(pointsThrough(at), { id: newId(), page: 'p', pen: BALL, stamp: { take: 't', at: 1234.5 }, wall: 1_700_000_000_000, ...rest });

/** Written text (tests/helpers/hershey.ts) as strokes of a note. */
export function strokesOf(written: readonly PlainStroke[], page = 'p'): Stroke[] {
  return written.map(({ id, points }) => {
    const first = points[0].t;
    const packed = pointsThrough(points.map((p) => [p.x, p.y] as const));
    points.forEach((p, i) => (packed.t[i] = Math.round(p.t - first)));
    return makeStroke(packed, { id, page, pen: BALL, stamp: { take: 't', at: Math.round(first) }, wall: Math.round(first) });
  });
}

/** What no tool may ever change: stamp, wall clock, and the times of the points. */
export const timesOf = (s: Stroke) => ({ stamp: s.stamp, wall: s.wall, t: [...pointsOf(s).t], p: [...pointsOf(s).p] });
