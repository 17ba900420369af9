/** Records of a note: what is written comes back, also what this version does not know; what is damaged costs itself alone. */
import * as fc from 'fast-check';
import { PEN_KINDS, penOf } from '../../ink/pen';
import { PointBuffer } from '../../ink/points';
import { makeStroke } from '../../ink/stroke';
import { NewerError, RecordError } from '../../record';
import { makeArea } from '../kinds/area';
import type { Placed } from '../kinds/kinds';
import { newPage, summaryOf } from '../schema';
import { freshMs } from '../version';
import { readInk, writeInk } from './inkChunk';
import { noteRecord, readExtent, writeExtent } from './noteRecord';
import { readRows, writeRows } from './rowChunk';

const strokes = Array.from({ length: 5 }, (_, k) => {
  const buffer = new PointBuffer();
  for (let i = 0; i < 20; i++) buffer.add(k + i * 0.7, 10 + (i % 5), 0.1 * (i % 10), i * 9);
  return makeStroke(buffer.points(), { id: `s${k}`, page: 'p', pen: { kind: 'fountain', color: '#14665b', width: 0.5 }, stamp: k ? { take: 't', at: k * 1000.5 } : null, wall: 1_000_000 + k });
});

test('ink comes back from its record byte for byte', () => {
  expect(readInk(writeInk(strokes))).toEqual({ placed: strokes, gone: [], lost: 0 });
  // Characters 0..255 only: kept at one byte each.
  expect([...writeInk(strokes)].every((c) => c.charCodeAt(0) < 256)).toBe(true);
});

test('versions and traces come back, and ink as it was written takes next to nothing for its versions', () => {
  const fresh = strokes.map((s, i): Placed => ({ ...s, s: [freshMs(s), 0, 'here', 7 + i] }));
  expect(readInk(writeInk(fresh)).placed).toEqual(fresh);
  expect(writeInk(fresh).length - writeInk(strokes).length).toBeLessThan(50);
  const mixed = strokes.map((s, i): Placed => (i % 2 ? { ...s, s: [8e15 + i, i, i > 2 ? 'there' : 'here', i], past: { there: 4 } } : s));
  const gone = [['x', { page: 'p', s: [8e15, 1, 'here', 3] as const }], ['y', { page: 'q', s: [8e15, 0, 'there', 5] as const, past: { here: 1 } }]] as const;
  expect(readInk(writeInk(mixed, gone))).toEqual({ placed: mixed, gone, lost: 0 });
  expect(readInk(writeInk([], gone))).toEqual({ placed: [], gone, lost: 0 });
});

test('pens of every kind, shapes, areas and groups come back from their record', () => {
  const shape = { name: 'arrow' as const, at: [[10, 10], [50.5, 30.25]] as const, heads: 'both' as const, from: { to: 's0', u: 0.25 }, to: { to: 's1', u: 0.75 } };
  const dressed = PEN_KINDS.map((kind, k) => ({
    ...strokes[k % strokes.length],
    id: `d${k}`,
    pen: penOf({ kind, color: '#2456a6', width: 0.35, opacity: k % 2 ? 0.4 : 1, line: k % 3 ? 'dashed' : undefined, angle: 25 }),
    ...(k === 1 ? { shape } : {}),
    ...(k === 2 ? { fill: '#f6e3a8' } : {}),
    ...(k > 3 ? { group: 'g' } : {}),
  }));
  expect(readInk(writeInk(dressed))).toEqual({ placed: dressed, gone: [], lost: 0 });
});

test('areas come back; a kind of a later version, fields and shapes of one keep their place and go back as they came', () => {
  const outline = strokes[0];
  const area = makeArea({ n: 3, xy: Int32Array.from([0, 0, 1000, 0, 0, 1000]), p: new Uint8Array(3).fill(64), t: Int32Array.from([0, 1, 2]) }, { id: 'a', page: 'p', fill: '#f6e3a8', stamp: { take: 't', at: 5 }, wall: 7 });
  expect(readInk(writeInk([outline, area]))).toEqual({ placed: [outline, area], gone: [], lost: 0 });
  const text = writeInk([{ ...outline, sparkle: 3 } as Placed, area]);
  const later = text.replace('"area"', '"hologram"').replace('{"fill":"#f6e3a8"}', '{"fill":"#f6e3a8","depth":[1,2],"box":[1,2,3,4]}');
  const read = readInk(later);
  expect(read.placed).toMatchObject([{ sparkle: 3 }, { kind: 'unknown', of: 'hologram', box: [1, 2, 3, 4], fields: { depth: [1, 2] } }]);
  expect(writeInk(read.placed)).toBe(later);
  const shaped = writeInk([{ ...outline, shape: { name: 'line', at: [[0, 0], [1, 1]] } } as Placed]).replace('"line"', '"spiral"');
  expect(readInk(shaped)).toMatchObject({ lost: 0, placed: [{ id: outline.id }] });
  expect((readInk(shaped).placed[0] as { shape?: unknown }).shape).toBeUndefined();
  expect(writeInk(readInk(shaped).placed)).toBe(shaped);
});

test('one damaged stroke is left out and the others are read', () => {
  const text = writeInk(strokes);
  const damaged = text.replace('"s2"', '""');
  expect(readInk(damaged)).toEqual({ placed: strokes.filter((s) => s.id !== 's2'), gone: [], lost: 1 });
  // The end is missing: what it held is lost, the rest is not.
  expect(readInk(text.slice(0, -3)).placed).toEqual(strokes.slice(0, 4));
});

test('a record of a version that is none does not loop, and is refused', () => {
  for (const v of ['-1e308', '1e308', '0', '-3', '1.5', '"2"', 'null', '[]']) expect(() => noteRecord.peek(`{"v":${v},"id":"n"}`)).toThrow(/not as Scrivo writes it|newer/);
});

test('what is no record at all is refused with a sentence; one of a newer program is not taken for damaged', () => {
  for (const bad of ['', 'x', '{}', '{"v":2,"strokes":[]}\n', '{"v":1,"wall":0,"pages":[],"pens":[],"takes":[],"strokes":[["a"]]}\n']) expect(() => readInk(bad)).toThrow(RecordError);
  expect(() => readInk('{"v":9,"brushes":"many"}\n')).toThrow(NewerError);
  for (const bad of ['', '[]', '{"v":2}']) expect(() => noteRecord.read(bad)).toThrow(RecordError);
  expect(() => noteRecord.read('{"v":9}')).toThrow(NewerError);
  expect(() => readRows('{"v":1}')).toThrow(RecordError);
  expect(readRows('{"v":3,"devices":[],"rows":[["marks","m",{"a":1}]],"more":1}')).toMatchObject({ newer: true, lost: 0, rows: [{ table: 'marks', id: 'm' }] });
});

test('the small record of a note comes back, and that of before has what lists need', () => {
  const header = { v: 1, id: 'n', title: 'Tides', made: 1, changed: 2, pages: [newPage('p'), newPage('q')], takes: [], timeline: [], tags: [{ stroke: 's', names: ['exam'] }] };
  const { v: _, ...summary } = noteRecord.read(JSON.stringify(header)) as ReturnType<typeof summaryOf> & { v: number };
  expect(summary).toEqual({ id: 'n', title: 'Tides', made: 1, changed: 2, takes: [], timeline: [], pages: 2, first: newPage('p'), tagged: true });
  expect(noteRecord.read(noteRecord.write(summaryOf(header)))).toMatchObject(summary);
  expect(() => noteRecord.read(JSON.stringify({ ...header, pages: [] }))).toThrow(RecordError);
  expect(() => noteRecord.read(JSON.stringify({ ...header, timeline: [{ take: 't', from: -1, to: 2 }] }))).toThrow(RecordError);
  expect([readExtent('17'), readExtent(writeExtent({ ink: 3, rows: 2 })), readExtent(null), readExtent('?')]).toMatchObject([{ ink: 17, rows: 0 }, { ink: 3, rows: 2 }, null, null]);
});

test('rows come back with values, versions and traces, whatever they hold', () => {
  // A field of this name would change what the object is, and is dropped on reading.
  const field = fc.string().filter((name) => name !== '__proto__');
  const row = fc.record({ table: fc.constantFrom('marks', 'pages', 'drafts'), id: fc.string({ minLength: 1 }), v: fc.option(fc.dictionary(field, fc.jsonValue()).map((v) => JSON.parse(JSON.stringify(v)) as object), { nil: null }), s: fc.option(fc.tuple(fc.nat(), fc.nat(), fc.constantFrom('a', 'b'), fc.nat()), { nil: null }) });
  fc.assert(
    fc.property(fc.array(row), (rows) => {
      const text = writeRows(rows);
      expect(readRows(text)).toEqual({ rows, lost: 0, newer: false });
      expect([...text].every((c) => c.charCodeAt(0) < 128)).toBe(true);
    }),
  );
  for (const table of ['__proto__', 'constructor', 'toString']) expect(readRows(JSON.stringify({ v: 1, devices: [], rows: [[table, 'x', {}]] }))).toEqual({ rows: [], lost: 1, newer: false });
  expect(readRows('{"v":1,"devices":[],"rows":[["marks","m",{"__proto__":{"k":1},"l":2}]]}').rows[0].v).toEqual({ l: 2 });
  expect(readRows('{"v":1,"devices":["a"],"rows":[["marks","m",{"k":1},5,0,2,{"b":7}],["marks"],["marks","n",null,5,4,2]]}')).toEqual({ newer: false, lost: 2, rows: [{ table: 'marks', id: 'm', v: { k: 1 }, s: [0, 5, 'a', 2], past: { b: 7 } }] });
  // Clocks beyond any date, counters that are none: the row is told as lost and does not run the program's own clock.
  for (const bad of ['-1e308,0,0,1', '1e308,0,0,1', '1,-1,0,1', '1,0,0,-5', '1,0.5,0,1', '1,0,0,1e300']) expect(readRows(`{"v":2,"devices":["a"],"rows":[["marks","m",{},${bad}]]}`)).toMatchObject({ rows: [], lost: 1 });
  // What was taken away keeps what it was.
  const gone = [{ table: 'pages', id: 'p', v: null, s: [5, 1, 'a', 2] as const, last: { w: 3 } }];
  expect(readRows(writeRows(gone)).rows).toEqual(gone);
  expect(readRows(writeRows([{ ...gone[0], v: gone[0].last }])).rows).toEqual(gone);
});
