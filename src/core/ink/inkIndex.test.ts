import * as fc from 'fast-check';
import { distanceTo } from '../note/kinds/kinds';
import { InkIndex } from './inkIndex';
import { PointBuffer } from './points';
import { makeStroke, type Stroke } from './stroke';

const stroke = (id: string, points: readonly (readonly [number, number])[]): Stroke => {
  const buffer = new PointBuffer();
  points.forEach(([x, y], i) => buffer.add(x, y, 0.5, i * 8));
  return makeStroke(buffer.points(), { id, page: 'p', pen: { kind: 'felt', color: '#000000', width: 0.5 }, stamp: null, wall: 1 });
};

const place = fc.tuple(fc.double({ min: 0, max: 100, noNaN: true }), fc.double({ min: 0, max: 100, noNaN: true }));
const page = fc.array(fc.array(place, { minLength: 1, maxLength: 6 }), { minLength: 1, maxLength: 30 }).map((list) => list.map((p, i) => stroke(`s${i}`, p)));

test('finds by touch what a look at every stroke finds, nearest first', () => {
  fc.assert(
    fc.property(page, place, fc.double({ min: 0.1, max: 20, noNaN: true }), (strokes, [x, y], radius) => {
      const found = new InkIndex(strokes).at(x, y, radius).map((s) => Math.round(distanceTo(s, x, y) * 1e6));
      const all = strokes.map((s) => distanceTo(s, x, y)).filter((d) => d <= radius).map((d) => Math.round(d * 1e6)).sort((a, b) => a - b);
      expect(found).toEqual(all);
    }),
    { numRuns: 2000 },
  );
});

test('an eraser that is moved hits what an eraser set down at every hundredth of the way hits', () => {
  fc.assert(
    fc.property(page, place, place, (strokes, [x0, y0], [x1, y1]) => {
      const hit = new Set(new InkIndex(strokes).along(x0, y0, x1, y1, 1.5).map((s) => s.id));
      for (const s of strokes) {
        let d = Infinity;
        for (let k = 0; k <= 100; k++) d = Math.min(d, distanceTo(s, x0 + ((x1 - x0) * k) / 100, y0 + ((y1 - y0) * k) / 100));
        // How far a stroke lies is told from its edge, so that the eraser's own radius is what it may lie away.
        if (d < 1.49) expect(hit.has(s.id)).toBe(true);
        // Between two of the hundred places the eraser can come nearer by up to half a step.
        if (d > 1.51 + Math.hypot(x1 - x0, y1 - y0) / 200) expect(hit.has(s.id)).toBe(false);
      }
    }),
  );
});

test('an index brought up to date equals a new one', () => {
  fc.assert(
    fc.property(page, fc.array(fc.boolean(), { minLength: 30, maxLength: 30 }), (strokes, keep) => {
      const index = new InkIndex(strokes.slice(0, 20));
      const next = strokes.filter((_, i) => keep[i]);
      index.update(next);
      expect(new Set(index.inBox([0, 0, 100, 100]))).toEqual(new Set(next));
    }),
  );
});
