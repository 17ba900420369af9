import { execFileSync } from 'node:child_process';
import * as fc from 'fast-check';
import { parse } from 'csv-parse/sync';
import { readBundle, writeBundle } from '../../formats/bundle';
import { chaptersAsCsv } from '../../formats/chapters';
import { cellsAsHtml, readCells, readCsv, writeCells, writeCsv } from '../../formats/csv';
import { writeSvg } from '../../formats/svg';
import { makeStroke, type Stroke } from '../../ink/stroke';
import { move } from '../../ink/transform';
import { applyEdit, noteOf } from '../edit';
import { readInk, writeInk } from '../records/inkChunk';
import { newPage } from '../schema';
import { deleteCols, deleteRows, filled, insertCols, insertRows, isOn, merged, moveCol, moveRow, nextCell, resized, sorted, textsOf, withHead, withLook, withSum, withText, type TableEdit } from '../tableEdits';
import { laidOn, mapPlaced, paintOrder, settled, withGroups, type Placed } from './kinds';
import { compareCells, isNumber, numberOf, sumText } from './numbers';
import { cellAt, cellBox, laidTable, makeTable, momentOfCell, shownText, tableSize, type Table } from './table';
import { makeSlip } from './slip';

const NOW = { stamp: { take: 't', at: 5000 }, wall: 1_700_000_005_000 };
const cell = (text: string, at = 1000) => (text ? { text, stamp: { take: 't', at }, wall: 1_700_000_000_000 + at } : null);
const table = (texts: readonly (readonly string[])[], more: Partial<Table> = {}): Table =>
  makeTable({ id: 'table', page: 'one', stamp: { take: 't', at: 900 }, wall: 1_700_000_000_000, m: [1, 0, 0, 1, 20, 30], cols: texts[0].map(() => 30), rows: texts.map(() => 8), cells: texts.map((row, r) => row.map((t, c) => cell(t, 1000 + 100 * r + c))), look: { face: 'sans', size: 10, color: '#16324f' }, ...more });
const ink = (id: string, x: number, y: number): Stroke => makeStroke({ n: 2, xy: Int32Array.from([x, y, x + 3, y + 2].map((v) => Math.round(v * 100))), p: new Uint8Array(2).fill(90), t: Int32Array.from([0, 20]) }, { id, page: 'one', stamp: null, wall: 1_700_000_000_000, pen: { kind: 'ball', color: '#16324f', width: 0.4 } });
/** Ink in the middle of a cell. */
const inCell = (it: Table, id: string, r: number, c: number): Stroke => {
  const { x, y, w, h } = cellBox(it, r, c);
  return laidOn(ink(id, it.m[4] + x + w / 2 - 1.5, it.m[5] + y + h / 2 - 1), it);
};
/** The cell that ink stands in after an edit; null when it went. */
const cellOf = ({ table: it, moved, gone }: TableEdit, was: Stroke): string | null => {
  if (gone.some((g) => g.id === was.id)) return null;
  const now = moved.find((m) => m.id === was.id) ?? was;
  const { r, c } = cellAt(it, (now.box[0] + now.box[2]) / 2, (now.box[1] + now.box[3]) / 2);
  return `${r} ${c}`;
};

const TIDES = [['Day', 'High', 'Low'], ['Monday', '4.8', '1.2'], ['Tuesday', '4.65', '1.30'], ['Wednesday', '10.5', '']];

describe('numbers in cells', () => {
  test('are read as they are typed', () => {
    // Forms of numbers as they are written in English and on the continent (common practice, no source).
    for (const [text, value] of [['12', '12'], ['-3.50', '-3.5'], ['−3', '-3'], ['4,8', '4.8'], ['1,200', '1200'], ['1,200.50', '1200.5'], ['1.200,50', '1200.5'], ['1 200,5', '1200.5'], ["1'200.5", '1200.5'], ['€ 12.50', '12.5'], ['12.50 €', '12.5'], ['$0.05', '0.05'], ['4.8 m', '4.8'], ['12 %', '12'], ['.5', '0.5'], ['1.234.567', '1234567'], ['1,234,567', '1234567'], ['12,34,567', '1234567'], [' 7 ', '7'], ['12 kn', '12']] as const) expect([text, numberOf(text)]).toEqual([text, value]);
    for (const text of ['', 'High', '12:30', 'buoy 7', '1.2.', '3 to 4', '12-13', '1..2', '--1', '1,2.3,4', '12,34,5', '12.']) expect([text, isNumber(text)]).toEqual([text, false]);
  });

  test('are summed exactly, whatever binary fractions would make of them', () => {
    // 0.1 + 0.2 is 0.30000000000000004 in IEEE 754 binary64; the reference for many is whole cents as BigInt, and Python's decimal module.
    expect(sumText(['0.1', '0.2'])).toBe('0.3');
    expect(sumText(['4,8', '1,25', 'from the table'])).toBe('6,05');
    expect(sumText(['', 'none'])).toBe('');
    expect(sumText(['1,200.00', '0.05'])).toBe('1200.05');
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -9_999_999, max: 9_999_999 }), { minLength: 1, maxLength: 60 }), (cents) => {
        const total = cents.reduce((a, b) => a + BigInt(b), 0n);
        const [sign, digits] = [total < 0n ? '-' : '', String(total < 0n ? -total : total).padStart(3, '0')];
        expect(sumText(cents.map((c) => (c / 100).toFixed(2)))).toBe(`${sign}${digits.slice(0, -2)}.${digits.slice(-2)}`);
      }),
    );
    const money = Array.from({ length: 200 }, (_, i) => ((i * 7919) % 100_003) / 1000).map((v) => v.toFixed(3));
    const python = execFileSync('python3', ['-c', 'import sys; from decimal import Decimal; print(sum(Decimal(l) for l in sys.stdin.read().split()))'], { input: money.join('\n') }).toString().trim();
    expect(sumText(money)).toBe(python);
  });

  test('stand before words, in order of their value; what is empty last', () => {
    expect(['Tern', '10', '', '9.5', 'eider', '−2', 'buoy 10', 'buoy 9'].sort(compareCells)).toEqual(['−2', '9.5', '10', 'buoy 9', 'buoy 10', 'eider', 'Tern', '']);
  });
});

describe('comma-separated values', () => {
  test('RFC 4180, its own examples', () => {
    expect(readCsv('aaa,bbb,ccc\r\nzzz,yyy,xxx\r\n')).toEqual([['aaa', 'bbb', 'ccc'], ['zzz', 'yyy', 'xxx']]); // 2.1
    expect(readCsv('aaa,bbb,ccc\r\nzzz,yyy,xxx')).toEqual([['aaa', 'bbb', 'ccc'], ['zzz', 'yyy', 'xxx']]); // 2.2
    expect(readCsv('"aaa","bbb","ccc"\r\nzzz,yyy,xxx')).toEqual([['aaa', 'bbb', 'ccc'], ['zzz', 'yyy', 'xxx']]); // 2.5
    expect(readCsv('"aaa","b\r\nbb","ccc"\r\nzzz,yyy,xxx')).toEqual([['aaa', 'b\r\nbb', 'ccc'], ['zzz', 'yyy', 'xxx']]); // 2.6
    expect(readCsv('"aaa","b""bb","ccc"')).toEqual([['aaa', 'b"bb', 'ccc']]); // 2.7
    expect(writeCsv([['aaa', 'b"bb', 'c,c'], ['1', '', 'x\ny']])).toBe('aaa,"b""bb","c,c"\r\n1,,"x\ny"\r\n');
    expect(readCsv('\ufeffDay;High\r\nMonday;4,8')).toEqual([['Day', 'High'], ['Monday', '4,8']]);
  expect(readCsv('Day;"High; low"\r\nMonday;4,8\r\nTuesday;\r\n')).toEqual([['Day', 'High; low'], ['Monday', '4,8'], ['Tuesday', '']]);
  expect(readCsv('one line, with a comma and; more\r\n')).toEqual([['one line', ' with a comma and; more']]);
  expect(readCsv('alone\r\nhere')).toEqual([['alone'], ['here']]);
  });

  const rows = fc.integer({ min: 1, max: 5 }).chain((n) => fc.array(fc.array(fc.string({ unit: fc.constantFrom('a', 'ß', '"', ',', ';', '\n', '\r\n', ' ', '0', '.', '\t', '𝄞'), maxLength: 6 }), { minLength: n, maxLength: n }), { minLength: 1, maxLength: 6 }));

  test('what is written an independent reader reads (csv-parse), and what an independent writer wrote is read (Python’s csv module)', () => {
    // A field that a spreadsheet would take for a formula is set off: a tab at its beginning, here.
    const setOff = (list: string[][]) => list.map((row) => row.map((t) => (/^[\t\r]/.test(t) ? `'${t}` : t)));
    fc.assert(fc.property(rows, (list) => expect(parse(writeCsv(list), { relax_column_count: true, skip_empty_lines: false })).toEqual(setOff(list))));
    fc.assert(fc.property(rows, (list) => expect(readCsv(writeCsv(list), ',')).toEqual(list)));
    const sample = fc.sample(rows, 40);
    const program = 'import sys, json, csv, io\nout = []\nfor rows in json.load(sys.stdin):\n  b = io.StringIO()\n  csv.writer(b).writerows(rows)\n  out.append(b.getvalue())\njson.dump(out, sys.stdout)';
    const written = JSON.parse(execFileSync('python3', ['-c', program], { input: JSON.stringify(sample) }).toString()) as string[];
    written.forEach((text, i) => expect(readCsv(text, ',')).toEqual(sample[i]));
  });

  test('what a spreadsheet would take for a formula is set off (OWASP, CSV Injection), numbers with a sign are not, and all of it comes back', () => {
    const cells = ['=1+1', '@SUM(A1)', '+cmd|x', '-2+3', '\t=1', '\r=1', '-5', '+4,8', '−3', "'=kept", "it's", '-1 250.5', ''];
    const out = parse(writeCsv(cells.map((c) => [c])), { relax_column_count: true, skip_empty_lines: false }) as string[][];
    expect(out.map(([c]) => c)).toEqual(["'=1+1", "'@SUM(A1)", "'+cmd|x", "'-2+3", "'\t=1", "'\r=1", '-5', '+4,8', '−3', "'=kept", "it's", '-1 250.5', '']);
    expect(readCsv(writeCsv(cells.filter((c) => c !== "'=kept").map((c) => [c])), ',').map(([c]) => c)).toEqual(cells.filter((c) => c !== "'=kept"));
    expect(writeCells([['=1+1', 'x']])).toBe("\"'=1+1\"\tx");
    expect(chaptersAsCsv([{ at: 0, kind: 'mark', title: '=HYPERLINK("x")' }])).toContain(`"'=HYPERLINK(""x"")"`);
  });

  test('looking for a number in anything ends', () => {
    for (const text of [`1${' '.repeat(50_000)}x`, `${' '.repeat(50_000)}1x`, '1,'.repeat(50_000), `1${"'".repeat(50_000)}`]) expect([isNumber(text), numberOf(text), sumText([text, '2'])]).toEqual([false, null, '2']);
  });

  test('sums of sums are worked out once each, however they hang together', () => {
    const sums: Table['cells'] = Array.from({ length: 18 }, (_, r) => Array.from({ length: 18 }, (_, c) => ({ text: '1', stamp: null, wall: 0, ...(r && c ? { sum: (r + c) % 2 ? ('above' as const) : ('left' as const) } : {}) })));
    const it = makeTable({ id: 's', page: 'p', stamp: null, wall: 0, m: [1, 0, 0, 1, 0, 0], cols: sums[0].map(() => 20), rows: sums.map(() => 8), cells: sums, look: { face: 'sans', size: 11, color: '#16324f' } });
    expect(shownText(it, 17, 17)).toMatch(/^\d+$/);
  });

  test('cells of a spreadsheet go both ways', () => {
    fc.assert(fc.property(rows, (list) => expect(readCells(`${writeCells(list)}\r\n`)).toEqual(list)));
    expect(cellsAsHtml([['a<b', 'c&d']], true)).toBe('<table><tr><th>a&lt;b</th><th>c&amp;d</th></tr></table>');
  });
});

test('rows are as high as their text needs, and everything stands where it is said to stand', () => {
  const it = table([['Day', 'What was seen from the bridge during the watch'], ['Monday', '']]);
  const { ys, xs } = laidTable(it);
  expect(xs).toEqual([0, 30, 60]);
  expect(ys[1]).toBeGreaterThan(8);
  expect(ys[2] - ys[1]).toBeCloseTo(8, 9);
  expect(it.box).toEqual([20, 30, 80, 30 + ys[2]]);
  expect(cellAt(it, 51, 30 + ys[1] + 1)).toEqual({ r: 1, c: 1 });
  expect(cellAt(it, -5, 500)).toEqual({ r: 1, c: 0 });
  // Every letter lies within its cell.
  const { cells } = laidTable(it);
  for (const { r, c, lines } of cells) {
    const box = cellBox(it, r, c);
    for (const line of lines) expect(line.x + line.w).toBeLessThanOrEqual(box.w - 2 + 1e-6);
  }
  const svg = writeSvg([{ page: newPage('one'), placed: [it], behind: null }], { paper: false, title: 'x', pictures: new Map() });
  expect([...svg.matchAll(/>([^<>]+)<\/text>/g)].map((m) => m[1]).join('')).toContain('Monday');
});

test('sums follow what they sum, and do not count each other', () => {
  let it = table([...TIDES, ['Sum', '', '']], { head: true });
  for (const c of [1, 2]) it = withSum(it, [], { r: 4, c }, 'above', NOW).table;
  expect(textsOf(it)[4]).toEqual(['Sum', '19.95', '2.50']);
  it = withText(it, [], { r: 3, c: 2 }, '0.005', NOW).table;
  expect(shownText(it, 4, 2)).toBe('2.505');
  it = withSum(it, [], { r: 1, c: 0 }, 'left', NOW).table;
  expect(shownText(it, 1, 0)).toBe('');
  // Sums of rows are summed once.
  let wide = table([['1', '2', ''], ['3', '4', ''], ['', '', '']]);
  for (const r of [0, 1, 2]) wide = withSum(wide, [], { r, c: 2 }, 'left', NOW).table;
  for (const c of [0, 1]) wide = withSum(wide, [], { r: 2, c }, 'above', NOW).table;
  expect(textsOf(wide)).toEqual([['1', '2', '3'], ['3', '4', '7'], ['4', '6', '10']]);
});

test('sorted, the head stays on top and the sums below; numbers by value, and what is written goes with its row', () => {
  let it = table([...TIDES, ['Sum', '', '']], { head: true });
  it = withSum(it, [], { r: 4, c: 1 }, 'above', NOW).table;
  const riders = [inCell(it, 's1', 1, 2), inCell(it, 's3', 3, 2)];
  const down = sorted(it, riders, 1, true);
  expect(textsOf(down.table).map((row) => row[0])).toEqual(['Day', 'Wednesday', 'Monday', 'Tuesday', 'Sum']);
  expect(riders.map((s) => cellOf(down, s))).toEqual(['2 2', '1 2']);
  expect(textsOf(sorted(it, riders, 2, false).table).map((row) => row[0])).toEqual(['Day', 'Monday', 'Tuesday', 'Wednesday', 'Sum']);
});

test('cells keep the moment in which they were begun', () => {
  const it = table(TIDES);
  expect(momentOfCell(it, 1, 1).stamp).toEqual({ take: 't', at: 1101 });
  const changed = withText(it, [], { r: 1, c: 1 }, '4.9', NOW).table;
  expect(momentOfCell(changed, 1, 1).stamp).toEqual({ take: 't', at: 1101 });
  expect(momentOfCell(withText(it, [], { r: 3, c: 2 }, '1.1', NOW).table, 3, 2).stamp).toEqual(NOW.stamp);
  expect(momentOfCell(it, 3, 2).stamp).toEqual({ take: 't', at: 900 });
});

test('cells become one and are parted again; the keys go over them as one', () => {
  const it = table(TIDES);
  const one = merged(it, [], { from: { r: 2, c: 1 }, to: { r: 1, c: 0 } });
  expect(one.table.spans).toEqual([[1, 0, 2, 2]]);
  expect(shownText(one.table, 1, 0)).toBe('Monday 4.8 Tuesday 4.65');
  expect(cellBox(one.table, 2, 1)).toMatchObject({ x: 0, w: 60 });
  expect(nextCell(one.table, { r: 0, c: 2 }, 1)).toEqual({ r: 1, c: 0 });
  expect(nextCell(one.table, { r: 1, c: 0 }, 1)).toEqual({ r: 1, c: 2 });
  expect(nextCell(one.table, { r: 1, c: 2 }, 1)).toEqual({ r: 2, c: 2 });
  expect(insertRows(one.table, [], 2)!.table.spans).toEqual([[1, 0, 3, 2]]);
  expect(insertCols(one.table, [], 0)!.table.spans).toEqual([[1, 1, 2, 2]]);
  expect(moveRow(one.table, [], 2, 1)!.table.spans).toBeUndefined();
  expect(merged(one.table, [], { from: { r: 1, c: 0 }, to: { r: 1, c: 0 } }).table.spans).toBeUndefined();
});

test('whatever is done to it, it stays whole, and what is written stays in its cell or goes with it', () => {
  const step = fc.record({ what: fc.constantFrom('insertRow', 'insertCol', 'deleteRow', 'deleteCol', 'rowUp', 'rowDown', 'colLeft', 'colRight', 'sort', 'text', 'merge', 'size', 'look', 'head', 'fill'), r: fc.nat(6), c: fc.nat(5), n: fc.nat(3) });
  fc.assert(
    fc.property(fc.array(step, { maxLength: 14 }), (steps) => {
      let it = table(TIDES, { head: true, m: [0.8, 0.6, -0.6, 0.8, 60, 40] });
      // Each cell of the first column names the ink that stands in the last one of its row.
      let riders: Placed[] = it.rows.map((_, r) => {
        const { x, y, w, h } = cellBox(it, r, it.cols.length - 1);
        const [a, b, c, d, e, f] = it.m;
        const [u, v] = [x + w / 2, y + h / 2];
        return laidOn(mapPlaced(ink(`s${r}`, -1.5, -1), move(a * u + c * v + e, b * u + d * v + f)), it);
      });
      const home = new Map(riders.map((s, r) => [s.id, it.cells[r].at(-1)]));
      for (const { what, r: r0, c: c0, n } of steps) {
        const [r, c] = [r0 % it.rows.length, c0 % it.cols.length];
        const edit = { insertRow: () => insertRows(it, riders, r, 1 + n), insertCol: () => insertCols(it, riders, c), deleteRow: () => deleteRows(it, riders, r), deleteCol: () => deleteCols(it, riders, c), rowUp: () => moveRow(it, riders, r, -1), rowDown: () => moveRow(it, riders, r, 1), colLeft: () => moveCol(it, riders, c, -1), colRight: () => moveCol(it, riders, c, 1), sort: () => sorted(it, riders, c, n > 1), text: () => withText(it, riders, { r, c: 0 }, 'x '.repeat(20 * n), NOW), merge: () => null, size: () => resized(it, riders, n > 1 ? 'row' : 'col', n > 1 ? r : c, 5 + 10 * n), look: () => withLook(it, riders, { size: 8 + 3 * n }), head: () => withHead(it, riders, n > 1), fill: () => filled(it, riders, { r, c: 0 }, [['a\nb', ''], ['c', 'd']].slice(0, 1 + (n % 2)).map((row) => row.slice(0, 1)), NOW) }[what]();
        if (!edit) continue;
        const gone = new Set(edit.gone.map((g) => g.id));
        const moved = new Map(edit.moved.map((m) => [m.id, m]));
        riders = riders.filter((s) => !gone.has(s.id)).map((s) => moved.get(s.id) ?? s);
        it = edit.table;
        expect(it.cells.every((row) => row.length === it.cols.length)).toBe(true);
        expect(it.cells).toHaveLength(it.rows.length);
        for (const s of riders) {
          const [x, y] = [(s.box[0] + s.box[2]) / 2, (s.box[1] + s.box[3]) / 2];
          expect(isOn(it, x, y)).toBe(true);
          const at = cellAt(it, x, y);
          const was = home.get(s.id);
          // Its own cell is the one it stands in, by what is in it.
          // Unless something else was put there meanwhile.
          if (was && it.cells.some((row) => row.includes(was))) expect(it.cells[at.r][at.c]).toBe(was);
        }
      }
      expect(tableSize(it).w).toBeCloseTo(it.cols.reduce((a, b) => a + b, 0), 9);
    }),
    { numRuns: 150 },
  );
});

test('it comes back from a record and a bundle, with what is written on it; a cell that is none leaves it as it came', async () => {
  const it = merged(table(TIDES, { head: true }), [], { from: { r: 1, c: 1 }, to: { r: 1, c: 2 } }).table;
  const on = inCell(it, 's1', 2, 2);
  expect(readInk(writeInk([on, it]))).toMatchObject({ lost: 0, placed: [on, it] });
  const empty = noteOf({ v: 2, id: 'n', title: 'Tides', made: 1, changed: 1, pages: [newPage('one')], takes: [], timeline: [] });
  const { note } = applyEdit(empty, { put: [it, on] }, { device: 'd', now: 5 });
  const read = await readBundle(await writeBundle({ note, takes: new Map() }));
  expect([...read.note.ink.one].sort(paintOrder)).toEqual([...note.ink.one].sort(paintOrder));
  expect(readInk(writeInk([{ ...it, cells: [[5]] } as unknown as Table])).placed[0]).toMatchObject({ kind: 'unknown', of: 'table' });
});

test('on a sticky note it goes with it, and what is written on it too', () => {
  const slip = makeSlip({ id: 'slip', page: 'one', stamp: null, wall: 1, m: [1, 0, 0, 1, 10, 20], w: 120, h: 90, tint: '#f6e3a8', shape: 'square', paper: 'plain', lift: 3 });
  const [it] = settled([table(TIDES)], [slip]) as [Table];
  expect([it.on, it.lift]).toEqual(['slip', 3]);
  const [on] = settled([ink('s1', 40, 40)], [slip, it]);
  expect([on.on, on.lift]).toEqual(['table', 3]);
  expect(withGroups([slip], [slip, it, on] as Placed[]).map((p) => p.id)).toEqual(['slip', 'table', 's1']);
});
