/** Two devices change the same note, exchange what they have in any order, in parts and more than once, and end with the same note. */
import * as fc from 'fast-check';
import { PointBuffer } from '../ink/points';
import { makeStroke } from '../ink/stroke';
import { applyEdit, noteOf, drop, put, type Edit, type Note } from './edit';
import { allOf, canMerge, keptPlaced, merge, type Incoming } from './merge';
import { newPage } from './schema';
import { keyBetween, orderAt } from './order';

const stroke = (id: string, page: string, y: number) => {
  const b = new PointBuffer();
  b.add(1, y, 0.5, 0);
  b.add(5, y + 1, 0.5, 9);
  return makeStroke(b.points(), { id, page, pen: { kind: 'ball', color: '#16324f', width: 0.4 }, stamp: null, wall: 1000 });
};
const start = noteOf({ v: 2, id: 'n', title: 'Tides', made: 0, changed: 0, pages: [newPage('p'), newPage('q')], takes: [], timeline: [] }, { p: [stroke('old', 'p', 3)] });

/** What a device does: to one of a few rows and strokes, so that both meet. */
const doing: fc.Arbitrary<(n: Note) => Edit> = fc.oneof(
  fc.tuple(fc.nat(3), fc.nat(99)).map(([k, at]) => () => ({ rows: [put('marks', `m${k}`, { kind: 'ask', take: 't', at, wall: at })] })),
  fc.nat(3).map((k) => () => ({ rows: [drop('marks', `m${k}`)] })),
  fc.string().map((value) => () => ({ rows: [put('note', 'title', { value })] })),
  fc.tuple(fc.nat(4), fc.nat(99), fc.constantFrom('p', 'q')).map(([k, y, page]) => (n: Note) => ({ put: [stroke(`s${k}`, page, y)], cut: Object.entries(n.ink).flatMap(([at, list]) => (at !== page ? list.filter((s) => s.id === `s${k}`).map((s) => ({ id: s.id, page: at })) : [])) })),
  fc.nat(4).map((k) => (n: Note) => ({ cut: Object.entries(n.ink).flatMap(([page, list]) => list.filter((s) => s.id === `s${k}`).map((s) => ({ id: s.id, page }))) })),
  fc.constantFrom('p', 'q').map((id) => (n: Note) => ({ rows: n.header.pages.length > 1 ? [drop('pages', id)] : [] })),
  fc.nat(9).map((k) => (n: Note) => ({ rows: [put('pages', `x${k}`, { ...newPage('x'), order: orderAt([...n.rows.pages].flatMap(([id, r]) => (r.v ? [{ id, order: (r.v as { order: string }).order }] : [])), 0)[0] })] })),
);
const step = fc.record({ on: fc.nat(1), now: fc.nat(1000), what: doing });

/** Takes in what comes; what it has to say to it goes along with its next. */
function receive(note: Note, incoming: Incoming, device: string): Note {
  const { edit, reput } = merge(note, incoming);
  const next = applyEdit(note, edit).note;
  return reput.length ? applyEdit(next, { rows: reput }, { device, now: 0 }).note : next;
}
/** All that a note is, in an order of its own. */
function content(n: Note): string {
  const rows = Object.entries(n.rows).flatMap(([table, list]) => [...list].map(([id, r]) => JSON.stringify([table, id, r.s, r.v]))).sort();
  const ink = Object.values(n.ink).flat().map((s) => JSON.stringify([s.id, s.page, s.s ?? null, [...s.pts]])).sort();
  const gone = [...n.gone].map(([id, g]) => JSON.stringify([id, g.s])).sort();
  return JSON.stringify([rows, ink, gone, n.header.pages, n.header.title, n.header.marks]);
}

test('random changes on two devices, exchanged in parts, in any order and repeatedly, end equal on both, and nothing that was put is lost', () => {
  fc.assert(
    fc.property(fc.array(step, { minLength: 1, maxLength: 25 }), fc.array(fc.tuple(fc.nat(1), fc.nat(7), fc.nat(7)), { maxLength: 12 }), (steps, exchanges) => {
      const notes = [start, start];
      const names = ['a-device', 'b-device'];
      const made = new Map<string, { row: string; what: string; seenOver: boolean }>();
      let k = 0;
      for (const { on, now, what } of steps) {
        const edit = what(notes[on]);
        const before = notes[on];
        notes[on] = applyEdit(before, edit, { device: names[on], now }).note;
        for (const r of edit.rows ?? []) {
          const now2 = notes[on].rows[r.table].get(r.id)!;
          const was = before.rows[r.table]?.get(r.id);
          const row = `${r.table}/${r.id}`;
          // Where both had written the same there is one to see, and whoever writes over it has seen both.
          for (const m of made.values()) if (m.row === row && m.what === JSON.stringify(was?.v)) m.seenOver = true;
          if (r.v) made.set(JSON.stringify(now2.s!.slice(1)), { row, what: JSON.stringify(r.v), seenOver: false });
        }
        // Now and then some of what one has goes to the other: every so-and-so-many rows and things of it.
        const exchange = exchanges[k++];
        if (!exchange) continue;
        const [from, part, of] = exchange;
        const all = allOf(notes[from]);
        const some = <T,>(list: readonly T[]) => list.filter((_, i) => i % (of + 1) !== part % (of + 1) || of === 0);
        const rest: Incoming = { rows: some(all.rows), placed: some(all.placed), gone: some(all.gone), changed: all.changed };
        notes[1 - from] = receive(notes[1 - from], rest, names[1 - from]);
        // Once more changes nothing.
        expect(content(receive(notes[1 - from], rest, names[1 - from]))).toBe(content(notes[1 - from]));
      }
      // Until nobody has anything new to say: a page that stands again is news, and no more comes after it.
      for (let round = 0; round < 4; round++) {
        notes[1] = receive(notes[1], allOf(notes[0]), names[1]);
        notes[0] = receive(notes[0], allOf(notes[1]), names[0]);
      }
      expect(content(notes[0])).toBe(content(notes[1]));
      // A version that nobody wrote over knowingly stands, or is kept.
      const everything = content(notes[0]);
      for (const [, { what, seenOver }] of made) if (!seenOver) expect(everything.includes(what.slice(1, -1)) || everything.includes(JSON.stringify(what).slice(2, -2))).toBe(true);
    }),
    { numRuns: 300 },
  );
});

test('of two changes of one row unseen by each other the later stands and the earlier is kept; seen ones are not', () => {
  const title = (value: string): Edit => ({ rows: [put('note', 'title', { value })] });
  const a = applyEdit(start, title('Ebb'), { device: 'a', now: 10 }).note;
  const b = applyEdit(start, title('Flood'), { device: 'b', now: 20 }).note;
  const [onA, onB] = [receive(a, allOf(b), 'a'), receive(b, allOf(a), 'b')];
  expect([onA.header.title, onB.header.title]).toEqual(['Flood', 'Flood']);
  expect([...onA.rows.kept.values()].map((r) => r.v)).toEqual([{ table: 'note', id: 'title', v: { value: 'Ebb' } }]);
  expect(content(onA)).toBe(content(onB));
  // The clock of device a runs behind by far: its change, made knowing the other, is later all the same.
  const later = applyEdit(onA, title('Slack'), { device: 'a', now: 0 }).note;
  const there = receive(onB, allOf(later), 'b');
  expect([there.header.title, there.rows.kept.size]).toEqual(['Slack', 1]);
});

test('ink that was moved on one device and rubbed out on the other is kept; a page that was deleted while the other wrote on it stands', () => {
  const both = applyEdit(start, { put: [stroke('s', 'p', 10)] }, { device: 'a', now: 1 }).note;
  const moved = applyEdit(both, { put: [stroke('s', 'p', 50)] }, { device: 'a', now: 5 }).note;
  const rubbed = applyEdit(both, { cut: [{ id: 's', page: 'p' }] }, { device: 'b', now: 9 }).note;
  const there = receive(moved, allOf(rubbed), 'a');
  expect(there.ink.p.map((x) => x.id)).toEqual(['old']);
  const [kept] = [...there.rows.kept.values()].map((r) => r.v as { ink: string });
  expect(keptPlaced(kept.ink)).toMatchObject({ id: 's', box: [1, 50, 5, 51] });
  expect(content(receive(rubbed, allOf(moved), 'b'))).toBe(content(there));

  const deleted = applyEdit(both, { rows: [drop('pages', 'q')] }, { device: 'a', now: 5 }).note;
  const written = applyEdit(both, { put: [stroke('new', 'q', 20)] }, { device: 'b', now: 6 }).note;
  const stands = receive(written, allOf(deleted), 'b');
  expect(stands.header.pages.map((p) => p.id)).toEqual(['p', 'q']);
  const back = receive(deleted, allOf(stands), 'a');
  expect([back.header.pages.map((p) => p.id), back.ink.q.map((x) => x.id)]).toEqual([['p', 'q'], ['new']]);
});

test('states without versions are not merged row by row: nobody could tell new from deleted', () => {
  expect(canMerge(start, allOf(start))).toBe(true);
  const more = applyEdit(start, { put: [stroke('n', 'p', 8)] }, { device: 'a', now: 1 }).note;
  expect([canMerge(start, allOf(more)), canMerge(more, allOf(start))]).toEqual([true, true]);
  // The same strokes, one more or less, from before there were versions.
  const before = noteOf(start.header, { p: [stroke('old', 'p', 3), stroke('older', 'p', 4)] });
  expect([canMerge(start, allOf(before)), canMerge(before, allOf(start))]).toEqual([false, false]);
  expect(canMerge(start, allOf(noteOf({ ...start.header, title: 'Lights' })))).toBe(false);
});

test('keys of order: always room between two, equal ones are stepped over', () => {
  let list = [{ id: 'a', order: keyBetween(null, null) }];
  for (let i = 0; i < 300; i++) {
    const at = (i * 7) % (list.length + 1);
    list = [...list.slice(0, at), { id: `k${i}`, order: orderAt(list, at)[0] }, ...list.slice(at)];
    expect(list.findIndex((it, j) => j > 0 && it.order <= list[j - 1].order)).toBe(-1);
  }
  const same = [{ id: 'a', order: 'a0' }, { id: 'b', order: 'a0' }, { id: 'c', order: 'a1' }];
  const [key] = orderAt(same, 1);
  expect(key > 'a0' && key < 'a1').toBe(true);
  expect(orderAt(same, 3, 2).every((k) => k > 'a1')).toBe(true);
});
