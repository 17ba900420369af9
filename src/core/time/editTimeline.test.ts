/** Changes of the timeline: no sound is heard twice or lost, nothing is written that is not changed, and the inverse is exact. */
import * as fc from 'fast-check';
import { applyEdit, noteOf, type Note, type RowPut } from '../note/edit';
import { newPage, type Take } from '../note/schema';
import { inTheirOrder } from '../note/tables';
import { append, cut, join, move, putBack, split, trim } from './editTimeline';
import { fromTimeline, positionAfter, timelineLength, toTimeline } from './timeline';

const take = (id: string, ms: number): Take => ({ id, name: id, wall: 0, ms, state: 'done', parts: [{ at: 0, wall: 0 }] });
const TAKES = [take('a', 20_000), take('b', 9000), take('c', 30_000)];
const start = noteOf({ v: 2, id: 'n', title: '', made: 0, changed: 0, pages: [newPage('p')], takes: TAKES, timeline: TAKES.map((t) => ({ take: t.id, from: 0, to: t.ms })) });
let n = 0;
const newId = () => `new-${n++}`;
const stretches = (note: Note) => inTheirOrder(note.rows, 'stretches');
const done = (note: Note, rows: readonly RowPut[]) => applyEdit(note, { rows }, { device: 'here', now: 0 });
/** What is heard, ms by ms of the takes in hundreds, in order. */
const heard = (note: Note): string[] => note.header.timeline.flatMap(({ take: t, from, to }) => Array.from({ length: Math.round((to - from) / 100) }, (_, i) => `${t}${Math.round(from / 100) + i}`));

const place = fc.nat(590).map((k) => k * 100);
const change = fc.oneof(
  fc.tuple(place, place).map(([a, b]) => ({ what: 'cut' as const, a: Math.min(a, b), b: Math.max(a, b), to: 0 })),
  fc.tuple(place, place).map(([a, b]) => ({ what: 'trim' as const, a: Math.min(a, b), b: Math.max(a, b) + 5000, to: 0 })),
  place.map((a) => ({ what: 'split' as const, a, b: 0, to: 0 })),
  fc.constant({ what: 'join' as const, a: 0, b: 0, to: 0 }),
  fc.tuple(place, fc.nat(80), place).map(([a, l, to]) => ({ what: 'move' as const, a, b: a + l * 100, to })),
  fc.tuple(fc.nat(2), fc.nat(80), fc.nat(80)).map(([t, a, l]) => ({ what: 'putBack' as const, a: a * 100, b: (a + l) * 100, to: t })),
);
function rowsOf(note: Note, { what, a, b, to }: { what: string; a: number; b: number; to: number }): RowPut[] {
  const list = stretches(note);
  const length = timelineLength(note.header.timeline);
  const run = { from: Math.min(a, length), to: Math.min(b, length) };
  if (what === 'cut') return cut(list, run, newId);
  if (what === 'trim') return trim(list, run, newId);
  if (what === 'split') return split(list, Math.min(a, length), newId);
  if (what === 'join') return join(list, newId);
  if (what === 'move') return move(list, run, Math.min(to, length), newId);
  const t = TAKES[to];
  return putBack(list, { take: t.id, from: Math.min(a, t.ms), to: Math.min(b, t.ms) }, newId);
}

test('any sequence of changes: what each must do to what is heard, and its inverse', () => {
  fc.assert(
    fc.property(fc.array(change, { minLength: 1, maxLength: 10 }), (changes) => {
      let note = start;
      for (const c of changes) {
        const before = heard(note);
        const { note: next, inverse } = done(note, rowsOf(note, c));
        const after = heard(next);
        const length = before.length;
        const [a, b, to] = [Math.min(c.a / 100, length), Math.min(c.b / 100, length), Math.min(c.to / 100, length)];
        expect(new Set(after).size).toBe(after.length);
        if (c.what === 'cut') expect(after).toEqual([...before.slice(0, a), ...before.slice(b)]);
        if (c.what === 'trim') expect(after).toEqual(before.slice(a, b));
        if (c.what === 'split' || c.what === 'join') expect(after).toEqual(before);
        if (c.what === 'move') {
          const inside = before.slice(a, b);
          const outside = [...before.slice(0, a), ...before.slice(b)];
          const at = to <= a ? to : to >= b ? to - inside.length : a;
          expect(after).toEqual([...outside.slice(0, at), ...inside, ...outside.slice(at)]);
        }
        if (c.what === 'putBack') {
          // All that was heard is heard in its order, and what was asked for is.
          expect(after.filter((x) => before.includes(x))).toEqual(before);
          const t = TAKES[c.to];
          for (let k = Math.min(c.a, t.ms) / 100; k < Math.min(c.b, t.ms) / 100; k++) expect(after).toContain(`${t.id}${k}`);
        }
        expect(next.header.takes).toBe(note.header.takes);
        expect(heard(done(next, inverse.rows ?? []).note)).toEqual(before);
        note = next;
      }
    }),
    { numRuns: 300 },
  );
});

test('a cut is a row or two, and taking it back does not take a recording with it that came after', () => {
  const rows = cut(stretches(start), { from: 5000, to: 8000 }, newId);
  expect(rows.map((r) => r.v && (r.v as { from: number; to: number })).map((v) => v && [v.from, v.to]).sort()).toEqual([[0, 5000], [8000, 20_000]]);
  const { note, inverse } = done(start, rows);
  const { id: _, ...fourth } = take('d', 4000);
  const recorded = done(note, [{ table: 'takes', id: 'd', v: { ...fourth, order: 'a5' } }, ...append(stretches(note), { take: 'd', from: 0, to: 4000 }, newId)]).note;
  const back = done(recorded, inverse.rows!).note;
  expect(heard(back)).toEqual([...heard(start), ...Array.from({ length: 40 }, (_, i) => `d${i}`)]);
  // Recording goes on where the writer cut it at the end: what is new is laid, and nothing that was cut comes back.
  const trimmed = done(recorded, cut(stretches(recorded), { from: timelineLength(recorded.header.timeline) - 1000, to: 1e9 }, newId)).note;
  const more = done(trimmed, append(stretches(trimmed), { take: 'd', from: 4000, to: 6000 }, newId)).note;
  expect(heard(more).slice(-50)).toEqual([...Array.from({ length: 30 }, (_, i) => `d${i}`), ...Array.from({ length: 20 }, (_, i) => `d${40 + i}`)]);
  expect(append(stretches(start), { take: 'd', from: 5, to: 5 }, newId)).toEqual([]);
});

test('sound that is put back stands after what comes before it in its take, or before what comes after it, also where the take lies in pieces out of order', () => {
  const list = (pieces: readonly (readonly [string, number, number])[]) => noteOf({ v: 2, id: 'n', title: '', made: 0, changed: 0, pages: [newPage('p')], takes: TAKES, timeline: pieces.map(([t, from, to]) => ({ take: t, from, to })) });
  const order = (note: Note) => note.header.timeline.map(({ take: t, from, to }) => [t, from, to]);
  const back = (pieces: readonly (readonly [string, number, number])[], t: string, from: number, to: number) => {
    const note = list(pieces);
    return order(done(note, putBack(stretches(note), { take: t, from, to }, newId)).note);
  };
  // What goes on is heard as one. The piece that ends where the missing one begins is the later of two that lie before it in the take.
  expect(back([['a', 4000, 6000], ['b', 0, 9000], ['a', 0, 4000]], 'a', 6000, 8000)).toEqual([['a', 4000, 8000], ['b', 0, 9000], ['a', 0, 4000]]);
  expect(back([['b', 0, 9000], ['a', 4000, 6000]], 'a', 1000, 4000)).toEqual([['b', 0, 9000], ['a', 1000, 6000]]);
  // Nothing of its take is there: at the end.
  expect(back([['b', 0, 9000]], 'c', 0, 5000)).toEqual([['b', 0, 9000], ['c', 0, 5000]]);
  // Only what is missing of it comes, on both sides of what stands.
  expect(back([['a', 3000, 5000]], 'a', 0, 9000)).toEqual([['a', 0, 9000]]);
});

test('a run that is carried stands before what is at its new place, also at the edges of stretches', () => {
  const note = start;
  const order = (rows: readonly RowPut[]) => done(note, rows).note.header.timeline.map(({ take: t, from, to }) => [t, from, to]);
  const list = stretches(note);
  expect(order(move(list, { from: 0, to: 20_000 }, 29_000, newId))).toEqual([['b', 0, 9000], ['a', 0, 20_000], ['c', 0, 30_000]]);
  expect(order(move(list, { from: 29_000, to: 59_000 }, 0, newId))).toEqual([['c', 0, 30_000], ['a', 0, 20_000], ['b', 0, 9000]]);
  expect(order(move(list, { from: 20_000, to: 29_000 }, 59_000, newId))).toEqual([['a', 0, 20_000], ['c', 0, 30_000], ['b', 0, 9000]]);
  for (const to of [20_000, 24_000, 29_000]) expect(move(list, { from: 20_000, to: 29_000 }, to, newId)).toEqual([]);
});

test('the tail after the last sound belongs to the end of a take and not to a cut', () => {
  // A stroke begun 200 ms after the last packet is heard at the end; one begun after a cut is not.
  expect(toTimeline(start.header.timeline, { take: 'a', at: 20_200 })).toBe(20_000);
  const { note } = done(start, cut(stretches(start), { from: 5000, to: 8000 }, newId));
  expect(note.header.timeline[0]).toEqual({ take: 'a', from: 0, to: 5000, cut: true });
  expect(toTimeline(note.header.timeline, { take: 'a', at: 5200 })).toBeNull();
  expect(toTimeline(note.header.timeline, { take: 'a', at: 20_200 })).toBe(17_000);
});

test('stretches that go on where the one before ends are heard as one', () => {
  const parts = done(start, split(stretches(start), 7000, newId)).note;
  expect(stretches(parts).length).toBe(4);
  expect(parts.header.timeline).toEqual(start.header.timeline);
  expect(stretches(done(parts, join(stretches(parts), newId)).note).length).toBe(3);
});

test('a place on the timeline is a moment: it stays with it whatever is cut or moved before it', () => {
  fc.assert(
    fc.property(fc.array(change, { minLength: 1, maxLength: 6 }), place, (changes, position) => {
      let note = start;
      for (const c of changes) note = done(note, rowsOf(note, c)).note;
      const [before, after] = [start.header.timeline, note.header.timeline];
      const there = positionAfter(before, after, position);
      const moment = fromTimeline(before, position)!;
      const stays = after.some((s) => s.take === moment.take && moment.at >= s.from && moment.at < s.to);
      if (stays) expect(fromTimeline(after, there)).toEqual(moment);
      // What was cut away: the next of it that is still heard, in the order it was.
      else {
        const next = heard(start).slice(position / 100).find((x) => heard(note).includes(x));
        expect(next === undefined ? there : heard(note)[Math.round(there / 100)]).toEqual(next ?? timelineLength(after));
      }
    }),
    { numRuns: 200 },
  );
});
