/** What a note points to, held against a plain search of all its text. */
import { createHash } from 'node:crypto';
import * as fc from 'fast-check';
import { BALL, pointsThrough } from '../../../tests/helpers/ink';
import { makeStroke } from '../ink/stroke';
import { contentsOf, isHash } from './contents';
import { copiedNote } from './copy';
import { applyEdit, noteOf, noteOfRows, drop, put, type Edit, type Note } from './edit';
import type { Placed } from './kinds/kinds';
import { allOf, merge } from './merge';
import { bringPages, deletePages, duplicatePages, setBackdrop } from './pages';
import { newPage } from './schema';
import { writeInk } from './records/inkChunk';

const hash = (text: string): string => createHash('sha256').update(text).digest('hex');
const [CHART, BUOY, LOG] = ['chart', 'buoy', 'log'].map(hash);
const BY = { device: 'here', now: 5 };
const stroke = (id: string, page: string) => makeStroke(pointsThrough([[3, 4], [9, 8]]), { id, page, pen: BALL, stamp: null, wall: 7 });
/** A thing of a later version, which shows a picture. */
const later = (id: string, page: string, content: string): Placed => Object.freeze({ id, page, kind: 'unknown', of: 'photo', fields: { content, crop: [1, 2] }, pts: new Uint8Array(), box: [0, 0, 9, 9], stamp: null, wall: 8, ms: 0 }) as unknown as Placed;
const empty = noteOf({ v: 2, id: 'n', title: 'Tides', made: 1, changed: 1, pages: [newPage('p'), newPage('q')], takes: [], timeline: [] }, { p: [stroke('s', 'p')] });

/** Every run of 64 hexadecimal digits in anything that the note is made of. */
function plainSearch({ rows, ink }: Note): string[] {
  const live = Object.entries(rows).flatMap(([table, list]) => [...list].filter(([, r]) => r.v).map(([id, r]) => (table === 'contents' ? `${id} ` : '') + JSON.stringify(r.v)));
  const things = Object.values(ink).flat().map((it) => JSON.stringify({ ...it, pts: undefined }));
  return [...new Set([...live, ...things].join('\n').match(/[0-9a-f]{64}/g) ?? [])].sort();
}

const anyEdit: fc.Arbitrary<(n: Note) => Edit> = fc.oneof(
  fc.tuple(fc.constantFrom('p', 'q'), fc.constantFrom(CHART, BUOY, null)).map(([page, content]) => (n: Note) => setBackdrop(n, page, content)),
  fc.tuple(fc.constantFrom('x', 'y'), fc.constantFrom(BUOY, LOG)).map(([id, content]) => () => ({ put: [later(id, 'q', content)] })),
  fc.constantFrom('x', 'y').map((id) => () => ({ cut: [{ id, page: 'q' }] })),
  fc.constantFrom('p', 'q').map((page) => (n: Note) => (n.header.pages.some((p) => p.id === page) ? deletePages(n, [page], 'fresh') : {})),
  fc.boolean().map((gone) => () => ({ rows: [gone ? drop('contents', LOG) : put('contents', LOG, { type: 'text/plain', bytes: 3, file: 'log.txt' })] })),
  fc.constantFrom('p', 'q').map((page) => (n: Note) => duplicatePages(n, [page], () => `d${n.header.state} ${n.header.pages.length} ${Math.floor(n.header.changed)}`.slice(0, 60))),
  // A table that this version does not know.
  fc.constantFrom(CHART, LOG).map((content) => () => ({ rows: [{ table: 'stickers', id: '1', v: { shows: { deep: [content] } } }] })),
);

test('after any edits, and after they are taken back, a note says that it needs what its text names, and nothing else', () => {
  fc.assert(
    fc.property(fc.array(anyEdit, { maxLength: 12 }), (edits) => {
      let note = empty;
      const inverses: Edit[] = [];
      for (const edit of edits) {
        const done = applyEdit(note, edit(note), BY);
        note = done.note;
        inverses.push(done.inverse);
        expect(note.header.contents ?? []).toEqual(plainSearch(note));
        expect(contentsOf(note.rows, note.ink)).toEqual(plainSearch(note));
      }
      for (const inverse of inverses.reverse()) {
        note = applyEdit(note, inverse, BY).note;
        expect(note.header.contents ?? []).toEqual(plainSearch(note));
      }
      expect(note.header.contents).toBeUndefined();
    }),
    { numRuns: 200 },
  );
});

test('pages keep their picture when they are copied, brought into another note, and in a copy of the note', () => {
  let k = 0;
  const id = () => `new${k++}`;
  const note = applyEdit(empty, setBackdrop(empty, 'p', CHART), BY).note;
  expect(applyEdit(note, duplicatePages(note, ['p'], id), BY).note.header.pages.map((p) => p.backdrop?.content)).toEqual([CHART, CHART, undefined]);
  const brought = applyEdit(empty, bringPages(empty, note, ['p'], id), BY).note;
  expect([brought.header.pages.map((p) => p.backdrop?.content), brought.header.contents]).toEqual([[undefined, undefined, CHART], [CHART]]);
  expect(copiedNote(note, 'Copy', 9, id).header.contents).toEqual([CHART]);
});

test('of two devices that chose another picture each, the one that lost is still held until somebody chooses', () => {
  const [here, there] = ['here', 'there'].map((device, i) => applyEdit(empty, setBackdrop(empty, 'p', [CHART, BUOY][i]), { device, now: 5 + i }).note);
  for (const [a, b] of [[here, there], [there, here]]) {
    const { edit } = merge(a, allOf(b));
    const { header } = applyEdit(a, edit).note;
    expect([header.pages[0].backdrop?.content, header.contents]).toEqual([BUOY, [CHART, BUOY].sort()]);
  }
});

test('a thing that lost is looked through as well, and only whole hashes are taken for one', () => {
  const kept = put('kept', 'x', { table: 'placed', id: 'x', ink: btoa(writeInk([later('x', 'q', LOG)])) } as never);
  expect(noteOfRows(empty.header, applyEdit(empty, { rows: [kept] }).note.rows, {}).header.contents).toEqual([LOG]);
  const longer = put('marks', 'm', { kind: 'ask', take: 't', at: 1, wall: 1, text: `${CHART}0 and ${CHART.slice(1)}` });
  expect(applyEdit(empty, { rows: [longer] }, BY).note.header.contents).toBeUndefined();
  expect([isHash(CHART), isHash(CHART.toUpperCase()), isHash(CHART.slice(1))]).toEqual([true, false, false]);
});
