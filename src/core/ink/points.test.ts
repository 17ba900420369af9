import * as fc from 'fast-check';
import { packPoints, PointBuffer, unpackPoints, type Points } from './points';

const anyPoints: fc.Arbitrary<Points> = fc
  .array(fc.record({ x: fc.integer({ min: -300_000, max: 300_000 }), y: fc.integer({ min: -300_000, max: 300_000 }), p: fc.integer({ min: 0, max: 127 }), dt: fc.integer({ min: 0, max: 100_000 }) }), { maxLength: 200 })
  .map((list) => {
    let t = 0;
    const points: Points = { n: list.length, xy: new Int32Array(list.length * 2), p: new Uint8Array(list.length), t: new Int32Array(list.length) };
    list.forEach((q, i) => {
      points.xy.set([q.x, q.y], 2 * i);
      points.p[i] = q.p;
      points.t[i] = t;
      t += q.dt;
    });
    return points;
  });

test('what is packed is unpacked the same, whatever the points', () => {
  fc.assert(fc.property(anyPoints, (points) => expect(unpackPoints(packPoints(points))).toEqual(points)), { numRuns: 300 });
});

test('bytes cut off or made up are refused, not misread for ever', () => {
  const whole = packPoints({ n: 3, xy: Int32Array.from([1, 2, 300, 400, 500, 90_000]), p: Uint8Array.from([1, 90, 3]), t: Int32Array.from([0, 8, 16]) });
  for (let cut = 0; cut < whole.length; cut++) expect(() => unpackPoints(whole.slice(0, cut))).toThrow(RangeError);
  expect(() => unpackPoints(Uint8Array.from([255, 255, 255, 127, 0]))).toThrow(RangeError);
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 60 }), (bytes) => {
      try {
        unpackPoints(bytes);
      } catch (e) {
        expect(e).toBeInstanceOf(RangeError);
      }
    }),
  );
});

test('a smooth hand takes at most six bytes a point', () => {
  const buffer = new PointBuffer();
  for (let i = 0; i < 500; i++) buffer.add(20 + i * 0.2, 50 + 3 * Math.sin(i / 6), 0.5 + 0.2 * Math.sin(i / 15), i * 8.33);
  expect(packPoints(buffer.points()).length / buffer.n).toBeLessThanOrEqual(6);
});

test('a point that stays in place is not kept, its pressure is; time never falls', () => {
  const buffer = new PointBuffer();
  expect(buffer.add(1, 1, 0.2, 0)).toBe(true);
  expect(buffer.add(1.001, 1, 0.9, 8)).toBe(false);
  expect(buffer.add(2, 1, 0.5, 4)).toBe(true);
  expect(buffer.add(3, 1, 0.5, 2)).toBe(true);
  const { n, p, t } = buffer.points();
  expect(n).toBe(3);
  expect(p[0]).toBe(Math.round(0.9 * 127));
  expect([...t]).toEqual([0, 4, 4]);
});
