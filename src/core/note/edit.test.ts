import * as fc from 'fast-check';
import { PointBuffer } from '../ink/points';
import { makeStroke, placedOrder, type Stroke } from '../ink/stroke';
import { applyEdit, countPlaced, EditError, noteOf, drop, put, type Edit, type Note } from './edit';
import { newPage } from './schema';

const stroke = (id: string, page: string, wall: number): Stroke => {
  const buffer = new PointBuffer();
  buffer.add(1, 1, 0.5, 0);
  return makeStroke(buffer.points(), { id, page, pen: { kind: 'ball', color: '#16324f', width: 0.4 }, stamp: { take: 't', at: wall }, wall });
};
const empty: Note = noteOf({ v: 2, id: 'n', title: 'a', made: 0, changed: 0, pages: [newPage('p'), newPage('q')], takes: [], timeline: [] });
const BY = { device: 'here', now: 0 };

const anyEdit: fc.Arbitrary<Edit> = fc.record({
  put: fc.array(fc.tuple(fc.integer({ min: 0, max: 20 }), fc.integer({ min: 0, max: 50 })), { maxLength: 6 }).map((list) => [...new Map(list.map(([id, wall]) => [id, stroke(`s${id}`, id % 2 ? 'p' : 'q', wall)])).values()]),
  cut: fc.array(fc.integer({ min: 0, max: 20 }), { maxLength: 6 }).map((list) => list.map((id) => ({ id: `s${id}`, page: id % 2 ? 'p' : 'q' }))),
  rows: fc.array(
    fc.oneof(
      fc.string().map((value) => put('note', 'title', { value })),
      fc.tuple(fc.nat(5), fc.boolean()).map(([k, gone]) => (gone ? drop('marks', `m${k}`) : put('marks', `m${k}`, { kind: 'ask', take: 't', at: k, wall: k }))),
      fc.nat(3).map((k) => put('headings', `h${k}`, { page: 'p', strokes: ['s1'], level: 1 + (k % 3) })),
    ),
    { maxLength: 4 },
  ),
});

/** All but versions and the time of the last change, which only ever go on. */
const plain = (n: Note) => ({ header: { ...n.header, changed: 0, state: '' }, ink: Object.fromEntries(Object.entries(n.ink).filter(([, l]) => l.length).map(([k, l]) => [k, l.map(({ s: _s, past: _past, ...it }) => it)])) });

test('any sequence of edits taken back in turn gives the note as it was, done again the same result', () => {
  fc.assert(
    fc.property(fc.array(anyEdit, { maxLength: 12 }), (edits) => {
      const states = [empty];
      const inverses: Edit[] = [];
      for (const edit of edits) {
        const { note, inverse } = applyEdit(states.at(-1)!, edit, BY);
        states.push(note);
        inverses.push(inverse);
      }
      let note = states.at(-1)!;
      const redos: Edit[] = [];
      for (let i = inverses.length - 1; i >= 0; i--) {
        const back = applyEdit(note, inverses[i], BY);
        expect(plain(back.note)).toEqual(plain(states[i]));
        redos.unshift(back.inverse);
        note = back.note;
      }
      for (const [i, redo] of redos.entries()) {
        note = applyEdit(note, redo, BY).note;
        expect(plain(note)).toEqual(plain(states[i + 1]));
      }
    }),
  );
});

test('strokes stay in the order of time, and stamps are never touched', () => {
  fc.assert(
    fc.property(fc.array(anyEdit, { maxLength: 8 }), (edits) => {
      let note = empty;
      for (const edit of edits) note = applyEdit(note, edit).note;
      for (const list of Object.values(note.ink)) {
        expect([...list].sort(placedOrder)).toEqual(list);
        for (const s of list) expect(s.stamp).toEqual({ take: 't', at: s.wall });
      }
    }),
  );
});

test('counts, and stretches that go on where the one before ends are heard as one, of takes that are there', () => {
  const { note } = applyEdit(empty, { put: [stroke('a', 'p', 1), stroke('b', 'q', 2)] });
  expect(countPlaced(note.ink)).toBe(2);
  const take = { name: 'Take 1', wall: 0, ms: 9000, state: 'done' as const, parts: [{ at: 0, wall: 0 }], order: 'a0' };
  const stretch = (id: string, of: string, from: number, to: number, order: string) => put('stretches', id, { take: of, from, to, order });
  const sounded = applyEdit(note, { rows: [put('takes', 't', take), stretch('x', 't', 0, 2000, 'a0'), stretch('y', 't', 2000, 4000, 'a1'), stretch('z', 't', 6000, 9000, 'a2'), stretch('w', 'gone', 0, 500, 'a3')] }, BY).note;
  expect(sounded.header.timeline).toEqual([{ take: 't', from: 0, to: 4000, cut: true }, { take: 't', from: 6000, to: 9000 }]);
  // The take comes later than its stretch, as in a merge in parts.
  expect(applyEdit(sounded, { rows: [put('takes', 'gone', { ...take, ms: 500, order: 'a1' })] }, BY).note.header.timeline.at(-1)).toEqual({ take: 'gone', from: 0, to: 500 });
});

test('a change of time never stands still and never goes back, whatever the wall clock does', () => {
  let note = empty;
  const seen: number[] = [];
  const clocks: number[] = [];
  for (const now of [1000, 1000, 5_000_000, 20, 20, 0, 5_000_001]) {
    note = applyEdit(note, { rows: [put('note', 'title', { value: String(now) })] }, { device: 'here', now }).note;
    seen.push(note.header.changed);
    clocks.push(note.rows.note.get('title')!.s![0] * 1000 + note.rows.note.get('title')!.s![1]);
  }
  for (let i = 1; i < seen.length; i++) {
    expect(seen[i]).toBeGreaterThan(seen[i - 1]);
    expect(clocks[i]).toBeGreaterThan(clocks[i - 1]);
  }
});

test('what could not be read again is not taken in: the note is as before, and there is a sentence', () => {
  expect(() => applyEdit(empty, { rows: [put('headings', 'h', { page: 'p', strokes: [], level: 1 })] }, BY)).toThrow(EditError);
  expect(() => applyEdit(empty, { rows: [put('note', 'title', { value: 'x'.repeat(501) })] }, BY)).toThrow(/Nothing was changed/);
  // A heading of any number of strokes is one that can be read.
  const many = Array.from({ length: 5000 }, (_, i) => `s${i}`);
  expect(applyEdit(empty, { rows: [put('headings', 'h', { page: 'p', strokes: many, level: 1 })] }, BY).note.header.headings![0].strokes.length).toBe(5000);
});

test('what is taken away leaves a trace, and what comes back takes it away', () => {
  const one = applyEdit(empty, { put: [stroke('a', 'p', 1)], rows: [put('bookmarks', 'p', {})] }, BY).note;
  const none = applyEdit(one, { cut: [{ id: 'a', page: 'p' }], rows: [drop('bookmarks', 'p')] }, BY);
  expect(none.note.gone.get('a')).toMatchObject({ page: 'p', s: [1, expect.any(Number), 'here', 2] });
  expect(none.note.rows.bookmarks.get('p')).toMatchObject({ v: null, s: [1, expect.any(Number), 'here', 3] });
  expect(none.note.header.bookmarks).toBeUndefined();
  const back = applyEdit(none.note, none.inverse, BY).note;
  expect(back.gone.size).toBe(0);
  expect([back.header.bookmarks, back.ink.p.map((x) => x.id)]).toEqual([['p'], ['a']]);
  // Moved to another page it is not gone.
  const moved = applyEdit(back, { put: [{ ...stroke('a', 'q', 1) }], cut: [{ id: 'a', page: 'p' }] }, BY);
  expect([moved.note.gone.size, moved.note.ink.q.length, moved.note.ink.p.length]).toEqual([0, 1, 0]);
  expect(plain(applyEdit(moved.note, moved.inverse, BY).note)).toEqual(plain(back));
});

test('what this version does not know is kept: fields, rows, whole tables', () => {
  const note: Note = { ...empty, rows: { ...empty.rows, drafts: new Map([['d', { s: [5, 0, 'there', 1] as const, v: { words: 'ebb' } }]]) } };
  const next = applyEdit(note, { rows: [{ table: 'marks', id: 'm', v: { kind: 'ask', take: 't', at: 1, wall: 2, color: 'green' } }] }, BY).note;
  expect(next.rows.drafts.get('d')!.v).toEqual({ words: 'ebb' });
  expect(next.rows.marks.get('m')!.v).toMatchObject({ color: 'green' });
});
