/** Area erasing against its definition: what stays is exactly what lies outside the eraser, at the times it had. */
import * as fc from 'fast-check';
import { strokeThrough } from '../../../tests/helpers/ink';
import { keepDraft } from '../note/kinds/kinds';
import { cutPoints, rubStroke, withinStadium, type Rub } from './erase';
import { segmentDistance } from './line';
import { pointsOf, type Stroke } from './stroke';

const place = fc.tuple(fc.double({ min: 0, max: 60, noNaN: true }), fc.double({ min: 0, max: 60, noNaN: true }));
const line = fc.array(place, { minLength: 2, maxLength: 30 });
const rub: fc.Arbitrary<Rub> = fc.record({ a: place, b: place, radius: fc.double({ min: 0.5, max: 12, noNaN: true }) }).map(({ a, b, radius }) => ({ x0: a[0], y0: a[1], x1: b[0], y1: b[1], radius }));

test('the way through a stadium is what stepping along it finds', () => {
  fc.assert(
    fc.property(place, place, rub, (p, q, r) => {
      const found = withinStadium(p[0], p[1], q[0], q[1], r.x0, r.y0, r.x1, r.y1, r.radius);
      for (let i = 0; i <= 50; i++) {
        const u = i / 50;
        const d = segmentDistance(p[0] + u * (q[0] - p[0]), p[1] + u * (q[1] - p[1]), r.x0, r.y0, r.x1, r.y1);
        if (d < r.radius - 1e-6) expect(found && found[0] <= u + 1e-9 && found[1] >= u - 1e-9).toBe(true);
        if (d > r.radius + 1e-6) expect(!found || found[0] > u - 1e-9 || found[1] < u + 1e-9).toBe(true);
      }
    }),
  );
});

test('parts together are exactly the points outside the eraser, each at its old time and pressure', () => {
  fc.assert(
    fc.property(line, rub, (at, r) => {
      const stroke = strokeThrough(at);
      const before = pointsOf(stroke);
      const grown = r.radius + stroke.pen.width / 2;
      const far = (x: number, y: number) => segmentDistance(x, y, r.x0, r.y0, r.x1, r.y1) - grown;
      const parts = rubStroke(stroke, r, () => 'part');
      if (!parts) {
        for (let i = 0; i < before.n; i++) expect(far(before.xy[2 * i] / 100, before.xy[2 * i + 1] / 100)).toBeGreaterThan(-0.01);
        return;
      }
      const times = new Map<string, number[]>();
      for (const part of parts) {
        expect(part.stamp).toBe(stroke.stamp);
        expect(part.wall).toBe(stroke.wall);
        const p = pointsOf(keepDraft(part) as Stroke);
        for (let i = 0; i < p.n; i++) {
          const [x, y] = [p.xy[2 * i], p.xy[2 * i + 1]];
          // A hundredth of a millimetre is the grid.
          expect(far(x / 100, y / 100)).toBeGreaterThan(-0.012);
          times.set(`${x},${y}`, [...(times.get(`${x},${y}`) ?? []), p.t[i]]);
          if (i) expect(p.t[i]).toBeGreaterThanOrEqual(p.t[i - 1]);
        }
      }
      for (let i = 0; i < before.n; i++) {
        const [x, y] = [before.xy[2 * i], before.xy[2 * i + 1]];
        const alone = [i - 1, i + 1].every((k) => k < 0 || k >= before.n || Math.hypot(before.xy[2 * k] - x, before.xy[2 * k + 1] - y) < 8);
        if (far(x / 100, y / 100) > 0.06 && !alone) expect(times.get(`${x},${y}`)).toContain(before.t[i]);
      }
    }),
    { numRuns: 400 },
  );
});

test('a straight line rubbed across in the middle leaves two ends of known length', () => {
  const stroke = strokeThrough([[10, 20], [50, 20]]);
  const parts = rubStroke(stroke, { x0: 30, y0: 10, x1: 30, y1: 30, radius: 2.8 }, () => 'part')!;
  // 30 mm less the eraser and half the line: 30 - 2.8 - 0.2 = 27, and 33 on the other side.
  expect(parts.map((s) => s.box)).toEqual([[10, 20, 27, 20], [33, 20, 50, 20]]);
  expect(parts.map((s) => [...pointsOf(s).t])).toEqual([[0, 3], [5, 8]]);
  // The longer end is what the stroke was, for all that is tied to it: both are 17 mm here, and the first is taken.
  expect(parts.map((s) => s.id)).toEqual([stroke.id, 'part']);
  expect(rubStroke(stroke, { x0: 20, y0: 10, x1: 20, y1: 30, radius: 2 }, () => 'part')!.map((s) => s.id)).toEqual(['part', stroke.id]);
});

test('a dot goes whole or stays whole', () => {
  const dot = strokeThrough([[10, 10]]);
  expect(rubStroke(dot, { x0: 10, y0: 11, x1: 12, y1: 11, radius: 1 }, () => 'x')).toEqual([]);
  expect(rubStroke(dot, { x0: 10, y0: 14, x1: 12, y1: 14, radius: 1 }, () => 'x')).toBeNull();
  expect(cutPoints(pointsOf(dot), { x0: 10, y0: 10, x1: 10, y1: 10, radius: 0.1 })).toEqual([]);
});
