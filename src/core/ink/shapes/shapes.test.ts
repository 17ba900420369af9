/** Clean shapes: recognised among hand-drawn ones, kept true while they are changed, held on to by lines. */
import * as fc from 'fast-check';
import { DRAWN, drawnShape } from '../../../../tests/helpers/drawnShapes';
import { pointsThrough, strokeThrough, timesOf } from '../../../../tests/helpers/ink';
import { polygonArea } from '../polygon';
import { pointsOf, reshaped, type Stroke } from '../stroke';
import { mapPlaced } from '../../note/kinds/kinds';
import { around, move } from '../transform';
import { attach, followers } from '../../note/anchors';
import { cleanShape, recognise } from './recognise';
import { angleOf, dragHandle, handlesOf, headsOf, nearestOn, pointAt, pointsAlong, sizeText, snapShape, type Shape, type Vec } from './shape';

test('knows at least 98 of 100 hand-drawn shapes of every kind, turned any way', () => {
  let all = 0;
  for (const name of DRAWN) {
    const right = Array.from({ length: 40 }, (_, i) => recognise(drawnShape(name, 1_000_003 + 97 * i))?.name).filter((told) => told === name).length;
    // None stands behind the others.
    expect([name, right >= 38]).toEqual([name, true]);
    all += right;
  }
  expect(all / (40 * DRAWN.length)).toBeGreaterThanOrEqual(0.98);
});

test('handwriting, scribbles and dots are no shapes', () => {
  expect(recognise(pointsThrough([[10, 10]]))).toBeNull();
  expect(recognise(pointsThrough([[10, 10], [11, 10.5]]))).toBeNull();
  expect(recognise(pointsThrough(Array.from({ length: 90 }, (_, i) => [20 + i * 0.3, 40 + 6 * Math.sin(i / 4)] as const)))).toBeNull();
});

const made = (name: (typeof DRAWN)[number], seed = 5): Stroke => {
  const drawn = drawnShape(name, seed);
  const shape = recognise(drawn)!;
  expect(shape.name).toBe(name);
  const points = pointsAlong(shape, drawn);
  return strokeThrough(Array.from({ length: points.n }, (_, i) => [points.xy[2 * i] / 100, points.xy[2 * i + 1] / 100] as const), { shape });
};

test('points of a shape lie on it, take as long as the hand took, and go all the way round', () => {
  for (const name of DRAWN) {
    const drawn = drawnShape(name, 11);
    const shape = recognise(drawn)!;
    const points = pointsAlong(shape, drawn);
    for (let i = 0; i < points.n; i++) expect(nearestOn(shape, points.xy[2 * i] / 100, points.xy[2 * i + 1] / 100).d).toBeLessThan(0.08);
    expect([points.t[0], points.t[points.n - 1]]).toEqual([0, drawn.t[drawn.n - 1]]);
    for (let i = 1; i < points.n; i++) expect(points.t[i]).toBeGreaterThanOrEqual(points.t[i - 1]);
    if (shape.name === 'square') {
      const polygon: Vec[] = Array.from({ length: points.n }, (_, i) => [points.xy[2 * i] / 100, points.xy[2 * i + 1] / 100]);
      // The shoelace formula on both: the points enclose the same area as the corners.
      expect(polygonArea(polygon)).toBeCloseTo(polygonArea(shape.at), 0);
    }
  }
});

test('squares stay square, circles round, right angles right, whatever handle is dragged', () => {
  const d = (a: Vec, b: Vec) => Math.hypot(b[0] - a[0], b[1] - a[1]);
  const shapes = (['square', 'rectangle', 'diamond', 'circle', 'ellipse'] as const).map((name) => recognise(drawnShape(name, 21))!);
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 3 }), fc.double({ min: 0, max: 200, noNaN: true }), fc.double({ min: 0, max: 250, noNaN: true }), (handle, x, y) => {
      for (const shape of shapes) {
        const { name } = shape;
        const next = dragHandle(shape, handle, [x, y]);
        expect(next.name).toBe(name);
        if (name === 'circle') expect(d(next.at[0], next.at[1])).toBeCloseTo(d(next.at[0], next.at[2]), 6);
        if (name === 'square' || name === 'rectangle') {
          const [p, q, r] = next.at;
          expect(Math.abs((q[0] - p[0]) * (r[0] - q[0]) + (q[1] - p[1]) * (r[1] - q[1])) / (d(p, q) * d(q, r))).toBeLessThan(1e-6);
          if (name === 'square') expect(d(p, q)).toBeCloseTo(d(q, r), 6);
        }
        if (name === 'diamond') expect(d(next.at[0], next.at[1])).toBeCloseTo(d(next.at[2], next.at[3]), 6);
        const there = handlesOf(next)[handle];
        if (name === 'rectangle' && Math.abs(x - shape.at[(handle + 2) % 4][0]) > 20 && Math.abs(y - shape.at[(handle + 2) % 4][1]) > 20) expect(d(there, [x, y])).toBeLessThan(0.6);
      }
    }),
    { numRuns: 60 },
  );
});

test('moving, turning and changing a shape keeps its stamp, its times and the number of its points', () => {
  for (const name of DRAWN) {
    const stroke = made(name);
    for (const next of [mapPlaced(stroke, move(3, 4)), mapPlaced(stroke, around(100, 100, 1.5, 0.7, 0.4)), reshaped(stroke, dragHandle(stroke.shape!, 0, [60, 60]))]) {
      expect(timesOf(next)).toEqual(timesOf(stroke));
      const p = pointsOf(next);
      for (let i = 0; i < p.n; i++) expect(nearestOn(next.shape!, p.xy[2 * i] / 100, p.xy[2 * i + 1] / 100).d).toBeLessThan(name === 'ellipse' || name === 'circle' || name === 'curve' ? 0.2 : 0.1);
    }
  }
});

test('a nearly level line is set level, a nearly 45 degree line at 45, others are left', () => {
  const line = (degrees: number): Shape => ({ name: 'line', at: [[0, 0], [50 * Math.cos((degrees * Math.PI) / 180), -50 * Math.sin((degrees * Math.PI) / 180)]] });
  const turned = (degrees: number) => angleOf(...(snapShape(line(degrees)).at as [Vec, Vec]));
  expect([turned(4), turned(88), turned(41), turned(20)].map((a) => Math.round(a * 10) / 10)).toEqual([0, 90, 45, 20]);
  expect(sizeText(line(0))).toBe('50.0 mm, 0°');
  expect(cleanShape(pointsThrough([[10, 10], [40, 11], [70, 12]]), true)?.at[1][1]).toBeCloseTo(cleanShape(pointsThrough([[10, 10], [40, 11], [70, 12]]), true)!.at[0][1], 6);
});

test('a line that ends on shapes holds on to them when they move, turn or change; erased shapes let go', () => {
  const box = made('square');
  const ball = mapPlaced(made('circle', 9), move(60, 60));
  const [p, q] = [pointAt(box.shape!, 0.3), pointAt(ball.shape!, 0.6)];
  const shape = attach({ name: 'arrow', at: [[p[0] + 1, p[1]], [q[0], q[1] - 1]], heads: 'end' }, [box, ball]);
  expect([shape.from?.to, shape.to?.to]).toEqual([box.id, ball.id]);
  const arrow = strokeThrough(shape.at, { shape });
  const moved = mapPlaced(box, move(-12, 30));
  const [after] = followers([moved], [box, ball, arrow]);
  expect(after.id).toBe(arrow.id);
  expect(after.shape!.at[0][0]).toBeCloseTo(pointAt(moved.shape!, shape.from!.u)[0], 6);
  expect(after.shape!.at[1]).toEqual(shape.at[1]);
  expect(timesOf(after)).toEqual(timesOf(arrow));
  expect(followers([strokeThrough([[0, 0], [1, 1]])], [arrow])).toEqual([]);
  expect(attach({ name: 'line', at: [[0, 0], [5, 0]] }, [box])).toEqual({ name: 'line', at: [[0, 0], [5, 0]] });
});

test('heads of arrows: none, one or both, at the ends, as long as the pen is thick', () => {
  const line: Shape = { name: 'line', at: [[0, 0], [40, 0]] };
  expect(headsOf(line, 0.5)).toHaveLength(0);
  const both = headsOf({ ...line, heads: 'both' }, 0.5);
  expect(both.map((h) => h[1])).toEqual([[0, 0], [40, 0]]);
  expect(Math.hypot(both[1][0][0] - 40, both[1][0][1])).toBeCloseTo(2.6, 6);
});
