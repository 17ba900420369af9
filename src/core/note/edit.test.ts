import * as fc from 'fast-check';
import { PointBuffer } from '../ink/points';
import { makeStroke, strokeOrder, type Stroke } from '../ink/stroke';
import { applyEdit, countStrokes, type Edit, type Note } from './edit';
import { newPage, wholeTimeline } from './schema';

const stroke = (id: string, page: string, wall: number): Stroke => {
  const buffer = new PointBuffer();
  buffer.add(1, 1, 0.5, 0);
  return makeStroke(buffer.points(), { id, page, pen: { kind: 'ball', color: '#16324f', width: 0.4 }, stamp: { take: 't', at: wall }, wall });
};
const empty: Note = { header: { v: 1, id: 'n', title: 'a', made: 0, changed: 0, pages: [newPage('p'), newPage('q')], takes: [], timeline: [] }, ink: {} };

const anyEdit: fc.Arbitrary<Edit> = fc.record({
  put: fc.array(fc.tuple(fc.integer({ min: 0, max: 20 }), fc.integer({ min: 0, max: 50 })), { maxLength: 6 }).map((list) => [...new Map(list.map(([id, wall]) => [id, stroke(`s${id}`, id % 2 ? 'p' : 'q', wall)])).values()]),
  cut: fc.array(fc.integer({ min: 0, max: 20 }), { maxLength: 6 }).map((list) => list.map((id) => ({ id: `s${id}`, page: id % 2 ? 'p' : 'q' }))),
  header: fc.option(fc.record({ title: fc.string() }), { nil: undefined }),
});

const plain = (n: Note) => ({ header: n.header, ink: Object.fromEntries(Object.entries(n.ink).filter(([, l]) => l.length).map(([k, l]) => [k, l.map((s) => s)])) });

test('any sequence of edits taken back in turn gives the note as it was, done again the same result', () => {
  fc.assert(
    fc.property(fc.array(anyEdit, { maxLength: 12 }), (edits) => {
      const states = [empty];
      const inverses: Edit[] = [];
      for (const edit of edits) {
        const { note, inverse } = applyEdit(states.at(-1)!, edit);
        states.push(note);
        inverses.push(inverse);
      }
      let note = states.at(-1)!;
      const redos: Edit[] = [];
      for (let i = inverses.length - 1; i >= 0; i--) {
        const back = applyEdit(note, inverses[i]);
        expect(plain(back.note)).toEqual(plain(states[i]));
        redos.unshift(back.inverse);
        note = back.note;
      }
      for (const [i, redo] of redos.entries()) {
        note = applyEdit(note, redo).note;
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
        expect([...list].sort(strokeOrder)).toEqual(list);
        for (const s of list) expect(s.stamp).toEqual({ take: 't', at: s.wall });
      }
    }),
  );
});

test('counts and the whole timeline', () => {
  const { note } = applyEdit(empty, { put: [stroke('a', 'p', 1), stroke('b', 'q', 2)] });
  expect(countStrokes(note.ink)).toBe(2);
  const take = { id: 't', name: 'Take 1', wall: 0, ms: 5000, state: 'done' as const, parts: [{ at: 0, wall: 0 }] };
  expect(wholeTimeline([take, { ...take, id: 'u', ms: 0 }])).toEqual([{ take: 't', from: 0, to: 5000 }]);
});
