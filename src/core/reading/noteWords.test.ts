/** What of a page can be looked for, besides handwriting. */
import { cellBox, makeTable } from '../note/kinds/table';
import { foundIn, foundWords, listed } from './noteWords';
import { queryOf, searchWords } from './search';

const NONE = new Map();
const look = { face: 'sans', size: 10, color: '#16324f' } as const;
const cell = (text: string, at: number, more: object = {}) => ({ text, stamp: { take: 't', at }, wall: 1_700_000_000_000 + at, ...more });

test('what stands in the cells of a table is found there, with its moment, also a sum; and comes back from what is kept', () => {
  const table = makeTable({
    id: 'table', page: 'one', stamp: { take: 't', at: 900 }, wall: 1_700_000_000_000, m: [1, 0, 0, 1, 20, 30], cols: [30, 30], rows: [8, 8, 8], look,
    cells: [[cell('Spring tide', 1000), cell('4.7', 1100)], [cell('Neap', 2000), cell('1.6', 2100)], [null, cell('', 3000, { sum: 'above' })]],
  });
  const words = foundWords([table], undefined, undefined, NONE);
  const hit = (query: string) => searchWords(words, queryOf(query)).map((h) => h.words.map((i) => words[i]));
  const [[neap]] = hit('neap');
  const at = cellBox(table, 1, 0);
  expect(neap.box).toEqual([20 + at.x, 30 + at.y, 20 + at.x + at.w, 30 + at.y + at.h]);
  expect([neap.stamp, neap.ids]).toEqual([{ take: 't', at: 2000 }, ['table']]);
  // Words of one cell follow each other, those of two do not.
  expect(hit('"spring tide"')).toHaveLength(1);
  expect(hit('6.3').map(([w]) => w.stamp?.at)).toEqual([3000]);
  expect(new Set(words.map((w) => w.line)).size).toBe(5);
  const back = foundIn({ model: 'any', words: {}, list: listed(words) });
  expect(back.map((w) => [w.text, w.line, w.stamp?.at])).toEqual(words.map((w) => [w.text, w.line, w.stamp?.at]));
});
