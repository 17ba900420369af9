/** What lost against a later change, until somebody chooses; and the way from one state of a note back to another. */
import * as fc from 'fast-check';
import { PointBuffer } from '../ink/points';
import { makeStroke } from '../ink/stroke';
import { applyEdit, drop, noteOf, put, type Edit, type Note } from './edit';
import { allSettled, canKeepBoth, chosen, editBetween, keptOf, nameOfKept, surroundings, textOfSide } from './kept';
import { allOf, merge } from './merge';
import { newPage } from './schema';

const stroke = (id: string, y: number, page = 'p') => {
  const b = new PointBuffer();
  b.add(1, y, 0.5, 0);
  b.add(5, y + 1, 0.5, 9);
  return makeStroke(b.points(), { id, page, pen: { kind: 'ball', color: '#16324f', width: 0.4 }, stamp: null, wall: 1000 });
};
const start = noteOf({ v: 2, id: 'n', title: 'Tides', made: 0, changed: 0, pages: [newPage('p'), newPage('q')], takes: [], timeline: [] }, { p: [stroke('s', 3)] });
const A = { device: 'a', now: 5000 };
const B = { device: 'b', now: 9000 };
/** What `a` has after it took in what `b` did unseen. */
function met(mine: Edit, theirs: Edit): Note {
  const [a, b] = [applyEdit(start, mine, A).note, applyEdit(start, theirs, B).note];
  return applyEdit(a, merge(a, allOf(b), 'a').edit).note;
}
const choose = (note: Note, choice: 'other' | 'both' | 'this') => applyEdit(note, chosen(note, keptOf(note)[0], choice, () => 'new'), A).note;
const places = (note: Note) => (note.ink.p ?? []).map((s) => [s.id, s.box[1]]);

test('of a stroke that was moved on both devices one place stands; the other can be had, or both, or it is let go', () => {
  const note = met({ put: [stroke('s', 20)] }, { put: [stroke('s', 50)] });
  const [one] = keptOf(note);
  expect([note.header.kept, nameOfKept(note, one), canKeepBoth(one), one.lostAt <= one.standsAt!]).toEqual([1, 'ink on page 1', true, true]);
  expect(places(note)).toEqual([['s', 50]]);
  expect(places(choose(note, 'other'))).toEqual([['s', 20]]);
  expect(places(choose(note, 'this'))).toEqual([['s', 50]]);
  const both = choose(note, 'both');
  expect(places(both).map(([id]) => id).sort()).toEqual(['new', 's']);
  for (const done of [choose(note, 'other'), both, choose(note, 'this')]) expect([keptOf(done), done.header.kept]).toEqual([[], undefined]);
});

test('both versions are looked at in the same place, with what lies there; on different pages each in its own', () => {
  const near = { put: [stroke('near', 30), stroke('far', 200), { ...stroke('other', 30), page: 'q' }] };
  const note = met({ put: [stroke('s', 20), ...near.put] }, { put: [stroke('s', 50)] });
  const { stands, lost } = surroundings(note, keptOf(note)[0])!;
  // Ink of 4 by 1 mm at 20 and 50 mm: 31 mm and 4 mm more on each side; 36 mm wide at least.
  expect([stands.box.map(Math.round), lost.box]).toEqual([[-15, 16, 21, 55], stands.box]);
  expect([stands.around.map((it) => it.id), lost.around.map((it) => it.id)]).toEqual([['near'], ['near']]);
  const apart = met({ put: [stroke('s', 20), ...near.put] }, { put: [stroke('s', 50, 'q')], cut: [{ id: 's', page: 'p' }] });
  const [there, here] = (({ stands: a, lost: b }) => [a, b])(surroundings(apart, keptOf(apart)[0])!);
  expect([there.box, here.box].map((b) => b.map(Math.round))).toEqual([[-15, 39, 21, 63], [-15, 9, 21, 33]]);
  expect([there.around, here.around.map((it) => it.id)]).toEqual([[], ['near']]);
  // Its picture says what ink is; a picture may have a name, and a text that it was set from.
  const picture = (more: object) => ({ placed: { ...stroke('s', 1), kind: 'picture', ...more } as never });
  expect([textOfSide(keptOf(note)[0].lost), textOfSide(picture({})), textOfSide(picture({ name: 'buoy.png' })), textOfSide(picture({ name: 'sum.svg', text: '2 m + 3 m' }))]).toEqual([null, null, 'buoy.png', '2 m + 3 m']);
  // A title lies nowhere.
  const named = met({ rows: [put('note', 'title', { value: 'Ebb' })] }, { rows: [put('note', 'title', { value: 'Flood' })] });
  expect(surroundings(named, keptOf(named)[0])).toBeNull();
});

test('what was deleted by one and changed by the other comes back on the page it was on, or on the first where that is gone', () => {
  const note = met({ put: [stroke('s', 20)] }, { cut: [{ id: 's', page: 'p' }] });
  expect(keptOf(note)[0].stands).toBeNull();
  expect(places(choose(note, 'other'))).toEqual([['s', 20]]);
  const onQ = met({ put: [stroke('s', 20, 'q')], cut: [{ id: 's', page: 'p' }] }, { put: [stroke('s', 50)] });
  const back = choose(applyEdit(onQ, { rows: [drop('pages', 'q')] }, A).note, 'other');
  expect(back.ink.p.map((s) => s.box[1])).toEqual([20]);
});

test('of a title there is one or the other; marks can both stand', () => {
  const title = (value: string): Edit => ({ rows: [put('note', 'title', { value })] });
  const note = met(title('Ebb'), title('Flood'));
  const [one] = keptOf(note);
  expect([textOfSide(one.stands), textOfSide(one.lost), canKeepBoth(one), nameOfKept(note, one)]).toEqual(['Flood', 'Ebb', false, 'the title']);
  expect(choose(note, 'other').header.title).toBe('Ebb');
  const mark = (text: string): Edit => ({ rows: [put('marks', 'm', { kind: 'ask', take: 't', at: 5, wall: 5, text })] });
  const marks = met(mark('Why?'), mark('Who?'));
  expect(choose(marks, 'both').header.marks?.map((m) => m.text).sort()).toEqual(['Who?', 'Why?']);
  expect(applyEdit(marks, allSettled(marks), A).note.header).toMatchObject({ marks: [{ text: 'Who?' }] });
});

test('what this version cannot read waits for one that can', () => {
  const rows = [put('kept', 'k', { table: 'placed', id: 's', ink: '!' }), put('kept', 'l', { table: 'drafts', id: 'd', v: {} }), put('kept', 'm', { table: 'marks', id: 'm', v: { kind: 'shout' } })];
  const note = applyEdit(start, { rows }, A).note;
  expect([keptOf(note), note.header.kept]).toEqual([[], 3]);
});

test('from any state of a note one edit leads to any other', () => {
  const change: fc.Arbitrary<(n: Note) => Edit> = fc.oneof(
    fc.tuple(fc.nat(4), fc.nat(99), fc.constantFrom('p', 'q')).map(([k, y, page]) => (n: Note) => ({ put: [stroke(`s${k}`, y, page)], cut: Object.entries(n.ink).flatMap(([at, list]) => (at !== page ? list.filter((s) => s.id === `s${k}`).map((s) => ({ id: s.id, page: at })) : [])) })),
    fc.nat(4).map((k) => (n: Note) => ({ cut: Object.entries(n.ink).flatMap(([page, list]) => list.filter((s) => s.id === `s${k}`).map((s) => ({ id: s.id, page }))) })),
    fc.nat(3).map((k) => () => ({ rows: [put('marks', `m${k}`, { kind: 'ask', take: 't', at: k, wall: k })] })),
    fc.nat(3).map((k) => () => ({ rows: [drop('marks', `m${k}`)] })),
    fc.string().map((value) => () => ({ rows: [put('note', 'title', { value })] })),
    fc.constant((n: Note) => ({ cut: (n.ink.q ?? []).map((s) => ({ id: s.id, page: 'q' })), rows: [drop('pages', 'q')] })),
    fc.constant(() => ({ rows: [put('pages', 'q', { ...newPage('q'), order: 'a5' })] })),
  );
  const shown = ({ header: { changed: _, state: _state, ...header }, ink }: Note) => [header, Object.values(ink).flat().map((s) => [s.id, s.page, [...s.pts]]).sort()];
  fc.assert(
    fc.property(fc.array(change, { maxLength: 10 }), fc.nat(10), (changes, k) => {
      const states = [start];
      for (const make of changes) states.push(applyEdit(states.at(-1)!, make(states.at(-1)!), A).note);
      const [from, to] = [states.at(-1)!, states[Math.min(k, states.length - 1)]];
      expect(shown(applyEdit(from, editBetween(from, to), A).note)).toEqual(shown(to));
      expect(editBetween(to, to)).toEqual({ put: [], cut: [], rows: [] });
    }),
  );
});
