import * as fc from 'fast-check';
import { reaches, TARGET_PX } from './reaches';

/** Middles of lines, px, from the gaps between them. */
const ys = (gaps: readonly number[]) => gaps.reduce<number[]>((all, g) => [...all, all[all.length - 1] + g], [100]);

test('lines far apart each have the whole width, and reach no further than 22 px', () => {
  expect(reaches(ys([30, 60]))).toEqual([
    { column: 'both', above: 22, below: 15 },
    { column: 'both', above: 15, below: 22 },
    { column: 'both', above: 22, below: 22 },
  ]);
});

test('lines of an A4 page shown whole on a phone, 13 px apart, stand in two columns of 26 px each', () => {
  const found = reaches(ys([13, 13, 13, 13]));
  expect(found.map((r) => r.column)).toEqual(['left', 'right', 'left', 'right', 'left']);
  expect(found[2]).toEqual({ column: 'left', above: 13, below: 13 });
});

// WCAG 2.2, success criterion 2.5.8: targets of 24 by 24 CSS pixels.
test('wherever lines are 12 px and more apart, every button is 24 px high and none lies over another', () => {
  fc.assert(
    fc.property(fc.array(fc.double({ min: 12, max: 80, noNaN: true }), { maxLength: 40 }), (gaps) => {
      const at = ys(gaps);
      const all = reaches(at);
      for (const [i, a] of all.entries()) {
        expect(a.above + a.below).toBeGreaterThanOrEqual(TARGET_PX - 1e-9);
        for (const [k, b] of all.entries()) {
          if (k <= i || (a.column !== b.column && a.column !== 'both' && b.column !== 'both')) continue;
          expect(at[i] + a.below).toBeLessThanOrEqual(at[k] - b.above + 1e-9);
        }
      }
    }),
  );
});

test('a line that stands closer by chance takes from what its neighbours have to spare', () => {
  const at = ys([12, 11.5, 11.5, 14, 20, 13]);
  const all = reaches(at);
  for (const { above, below } of all) expect(above + below).toBeGreaterThanOrEqual(TARGET_PX);
  for (const [i, a] of all.entries()) for (const [k, b] of all.entries()) if (k > i && a.column === b.column) expect(at[i] + a.below).toBeLessThanOrEqual(at[k] - b.above + 1e-9);
});

test('two lines beside each other have a column each; of none nothing is asked', () => {
  expect(reaches([50, 50])).toEqual([
    { column: 'left', above: 22, below: 22 },
    { column: 'right', above: 22, below: 22 },
  ]);
  expect(reaches([])).toEqual([]);
});
