import * as fc from 'fast-check';
import { findIn } from './find';
import { headingLevel, namedPages, sheetOf } from './leaf';

test('sheets of a PDF have their size: ISO 216 A4 and A3, ANSI/ASME Y14.1 letter, in points of 1/72 inch', () => {
  // ISO 216: A4 210 mm x 297 mm. The points are those of common practice (595.28 x 841.89).
  expect(sheetOf(595.276, 841.89)).toEqual({ w: 210, h: 297 });
  expect(sheetOf(841.89, 1190.551)).toEqual({ w: 297, h: 420 });
  // 8.5 in x 11 in.
  expect(sheetOf(612, 792)).toEqual({ w: 215.9, h: 279.4 });
  // What no page can be is brought within what a page can be.
  expect(sheetOf(1, 1e6)).toEqual({ w: 20, h: 3000 });
});

test('pages by their numbers', () => {
  expect(namedPages('', 3)).toEqual([0, 1, 2]);
  expect(namedPages('2', 3)).toEqual([1]);
  expect(namedPages('1-3, 7', 9)).toEqual([0, 1, 2, 6]);
  expect(namedPages(' 3 , 1–2 ', 9)).toEqual([2, 0, 1]);
  expect(namedPages('5-', 7)).toEqual([4, 5, 6]);
  expect(namedPages('2,2,1-2', 3)).toEqual([1, 0]);
  for (const wrong of ['0', '4', '1-4', '3-1', 'one', '1,,2', '1 2', '-2', '1e3']) expect(namedPages(wrong, 3)).toBeNull();
  // Whatever is typed: pages that there are, or none; and what names pages names just those.
  const anyText = fc.oneof(fc.string(), fc.string({ unit: fc.constantFrom(...'0123456789-, ') }));
  fc.assert(fc.property(anyText, fc.integer({ min: 1, max: 50 }), (text, count) => {
    const named = namedPages(text, count);
    if (named !== null) for (const n of named) expect(Number.isInteger(n) && n >= 0 && n < count).toBe(true);
  }));
  const ranges = fc.array(fc.tuple(fc.integer({ min: 1, max: 50 }), fc.nat(5)), { minLength: 1, maxLength: 5 });
  fc.assert(fc.property(ranges, (list) => {
    const wanted = [...new Set(list.flatMap(([from, more]) => Array.from({ length: more + 1 }, (_, i) => from + i - 1)).filter((n) => n < 50))].sort((a, b) => a - b);
    const text = list.map(([from, more]) => `${from}-${Math.min(50, from + more)}`).join(', ');
    expect([...(namedPages(text, 50) ?? [])].sort((a, b) => a - b)).toEqual(wanted);
  }));
});

test('three levels of headings', () => {
  expect([1, 2, 3, 4, 9].map(headingLevel)).toEqual([1, 2, 3, 3, 3]);
});

const run = (text: string, x: number, ends = false) => ({ text, box: [x, 0, x + text.length, 10] as const, ends });

test('words are found whatever their case and accents, across the pieces and lines they are cut into', () => {
  const runs = [run('High wa', 0), run('ter at the Pilots’ École', 7, true), run('is the pilo-', 0, true), run('tage fee', 0, true)];
  expect(findIn(runs, 'HIGH WATER')).toMatchObject([{ boxes: [[0, 0, 7, 10], [7, 0, 10, 10]] }]);
  expect(findIn(runs, 'ecole')).toHaveLength(1);
  expect(findIn(runs, 'École is')).toHaveLength(1);
  expect(findIn(runs, 'pilotage')).toHaveLength(1);
  expect(findIn(runs, 'ﬁre')).toEqual([]);
  expect(findIn([run('the ﬁsh', 0)], 'fish')).toHaveLength(1);
  expect(findIn(runs, '  ')).toEqual([]);
  expect(findIn(runs, 'neap')).toEqual([]);
});
