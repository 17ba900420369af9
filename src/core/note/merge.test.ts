/** Two devices change the same note, exchange what they have in any order, in parts and more than once, and end with the same note. */
import * as fc from 'fast-check';
import { PointBuffer } from '../ink/points';
import { makeStroke } from '../ink/stroke';
import { applyEdit, noteOf, noteOfRows, drop, put, type Edit, type Note } from './edit';
import { allOf, canMerge, keptPlaced, merge, type Incoming } from './merge';
import { makeTable, type Table } from './kinds/table';
import { noteRecord } from './records/noteRecord';
import { newPage, summaryOf } from './schema';
import { digestOf, stateText } from './state';
import { asKey, isKey, keyBetween, orderAt } from './order';
import { addPages } from './pages';

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
  fc.constantFrom('p', 'q').map((id) => (n: Note) => (n.header.pages.length > 1 ? { cut: (n.ink[id] ?? []).map((s) => ({ id: s.id, page: id })), rows: [drop('pages', id)] } : {})),
  fc.nat(9).map((k) => (n: Note) => ({ rows: [put('pages', `x${k}`, { ...newPage('x'), order: orderAt([...n.rows.pages].flatMap(([id, r]) => (r.v ? [{ id, order: (r.v as { order: string }).order }] : [])), 0)[0] })] })),
);
const step = fc.record({ on: fc.nat(2), now: fc.nat(1000), what: doing });

/** Takes in what comes; what it has to say to it goes along with its next. */
function receive(note: Note, incoming: Incoming, device: string): Note {
  const { edit, own } = merge(note, incoming, device);
  const next = applyEdit(note, edit).note;
  return own ? applyEdit(next, own, { device, now: 0 }).note : next;
}
/** All that a note is, in an order of its own. */
function content(n: Note): string {
  const rows = Object.entries(n.rows).flatMap(([table, list]) => [...list].flatMap(([id, r]) => (r.guessed ? [] : [JSON.stringify([table, id, r.s, r.last ?? null, r.v])]))).sort();
  const ink = Object.values(n.ink).flat().map((s) => JSON.stringify([s.id, s.page, s.s ?? null, [...s.pts]])).sort();
  const gone = [...n.gone].map(([id, g]) => JSON.stringify([id, g.s])).sort();
  return JSON.stringify([rows, ink, gone, n.header.pages, n.header.title, n.header.marks]);
}

test('random changes on three devices, exchanged in parts, in any order and repeatedly, end equal on all, and nothing that was put is lost', () => {
  fc.assert(
    fc.property(fc.array(step, { minLength: 1, maxLength: 25 }), fc.array(fc.tuple(fc.nat(2), fc.integer({ min: 1, max: 2 }), fc.nat(7), fc.nat(7)), { maxLength: 12 }), (steps, exchanges) => {
      const notes = [start, start, start];
      const names = ['a-device', 'b-device', 'c-device'];
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
          if (r.v) made.set(JSON.stringify(now2.s!.slice(2)), { row, what: JSON.stringify(r.v), seenOver: false });
        }
        // Now and then some of what one has goes to the other: every so-and-so-many rows and things of it.
        const exchange = exchanges[k++];
        if (!exchange) continue;
        const [from, by, part, of] = exchange;
        const to = (from + by) % 3;
        const all = allOf(notes[from]);
        const some = <T,>(list: readonly T[]) => list.filter((_, i) => i % (of + 1) !== part % (of + 1) || of === 0);
        const rest: Incoming = { rows: some(all.rows), placed: some(all.placed), gone: some(all.gone), changed: all.changed };
        notes[to] = receive(notes[to], rest, names[to]);
        // Once more changes nothing.
        expect(content(receive(notes[to], rest, names[to]))).toBe(content(notes[to]));
      }
      // Until nobody has anything new to say.
      for (let round = 0; round < 2; round++) for (const to of [0, 1, 2]) for (const from of [0, 1, 2]) if (from !== to) notes[to] = receive(notes[to], allOf(notes[from]), names[to]);
      for (const n of notes) {
        expect(content(n)).toBe(content(notes[0]));
        // They are the same, and say so; and the state they got to by steps is the one that is worked out of the whole.
        expect(n.header.state).toBe(notes[0].header.state);
        expect(stateText(digestOf(n.rows, n.ink, n.gone))).toBe(n.header.state);
        expect(n.header.pages.length).toBeGreaterThan(0);
        for (const [page, list] of Object.entries(n.ink)) if (list.length) expect(n.header.pages.map((p) => p.id)).toContain(page);
        expect(noteRecord.read(noteRecord.write(summaryOf(n.header)))).toBeTruthy();
      }
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

test('two devices that delete one page each of a note of two leave it a page: the one that was deleted last, the same on both', () => {
  const a = applyEdit(start, { rows: [drop('pages', 'q')] }, { device: 'a', now: 10 }).note;
  const b = applyEdit(start, { cut: [{ id: 'old', page: 'p' }], rows: [drop('pages', 'p')] }, { device: 'b', now: 20 }).note;
  const [onA, onB] = [receive(a, allOf(b), 'a'), receive(b, allOf(a), 'b')];
  expect([onA.header.pages, onB.header.pages]).toEqual([[start.header.pages[0]], [start.header.pages[0]]]);
  expect(content(onA)).toBe(content(onB));
  // With another page there is no need of it any more.
  const more = applyEdit(onA, { rows: [put('pages', 'r', { ...newPage('r'), order: keyBetween(null, null) })] }, { device: 'a', now: 30 }).note;
  expect(more.header.pages.map((p) => p.id)).toEqual(['r']);
});

test('a page that was deleted here and written on there stands as what it was, with the PDF behind it, whichever side hears of it first', () => {
  const backdrop = { content: 'f'.repeat(64), leaf: 3 };
  const pdf = applyEdit(start, { rows: [put('pages', 'q', { ...newPage('q'), backdrop, order: 'a5' })] }, { device: 'a', now: 1 }).note;
  const deleted = applyEdit(pdf, { rows: [drop('pages', 'q')] }, { device: 'a', now: 5 }).note;
  const written = applyEdit(pdf, { put: [stroke('new', 'q', 20)] }, { device: 'b', now: 6 }).note;
  for (const note of [receive(deleted, allOf(written), 'a'), receive(written, allOf(deleted), 'b')]) {
    expect(note.header.pages.find((p) => p.id === 'q')).toMatchObject({ backdrop });
    // Rubbed out again, the page goes: it was deleted.
    expect(applyEdit(note, { cut: [{ id: 'new', page: 'q' }] }, { device: 'a', now: 9 }).note.header.pages.map((p) => p.id)).toEqual(['p']);
  }
});

test('two cells of one table that were changed on two devices are both in the table; of one that both changed the earlier is kept', () => {
  const cell = (text: string, wall: number) => ({ text, stamp: null, wall });
  const table = (cells: Table['cells'], id = 't'): Table => makeTable({ id, page: 'p', stamp: null, wall: 1, m: [1, 0, 0, 1, 0, 0], cols: [20, 20], rows: [8, 8], cells, look: { face: 'sans', size: 11, color: '#16324f' } });
  const first = [[cell('HW', 1), cell('LW', 1)], [null, cell('4.2', 1)]];
  const both = applyEdit(start, { put: [table(first)] }, { device: 'a', now: 1 }).note;
  const a = applyEdit(both, { put: [table([[cell('HW', 1), cell('LW', 1)], [cell('5.1', 10), cell('4.2', 1)]])] }, { device: 'a', now: 10 }).note;
  const b = applyEdit(both, { put: [table([[cell('High', 20), cell('LW', 1)], [null, cell('4.2', 1)]])] }, { device: 'b', now: 20 }).note;
  let [onA, onB] = [receive(a, allOf(b), 'a'), receive(b, allOf(a), 'b')];
  for (let k = 0; k < 2; k++) [onA, onB] = [receive(onA, allOf(onB), 'a'), receive(onB, allOf(onA), 'b')];
  const shown = (n: Note) => (n.ink.p.find((x) => x.id === 't') as Table).cells.map((row) => row.map((c) => c?.text ?? ''));
  expect([shown(onA), shown(onB)]).toEqual([[['High', 'LW'], ['5.1', '4.2']], [['High', 'LW'], ['5.1', '4.2']]]);
  expect(content(onA)).toBe(content(onB));
  expect(onA.rows.kept?.size ?? 0).toBe(0);
  const c = applyEdit(onA, { put: [table([[cell('High', 20), cell('Low', 30)], [cell('5.1', 10), cell('4.2', 1)]])] }, { device: 'a', now: 30 }).note;
  const d = applyEdit(onB, { put: [table([[cell('High', 20), cell('Slack', 40)], [cell('5.1', 10), cell('4.2', 1)]])] }, { device: 'b', now: 40 }).note;
  const end = receive(c, allOf(d), 'a');
  expect(shown(end)[0]).toEqual(['High', 'Slack']);
  expect([...end.rows.kept.values()].map((r) => (keptPlaced((r.v as { ink: string }).ink) as Table).cells[0][1]?.text)).toEqual(['Low']);
});

test('who claims to have seen more of a device than there is has seen nothing of it: what is deleted so is kept', () => {
  const note = applyEdit(start, { put: [stroke('s', 'p', 9)], rows: [put('note', 'title', { value: 'Springs' })] }, { device: 'mine', now: 10 }).note;
  const lie = { mine: 1e9 };
  const incoming: Incoming = { rows: [{ table: 'note', id: 'title', s: [9999, 0, 'other', 1], v: { value: '' }, past: lie }], placed: [], gone: [['s', { page: 'p', s: [9999, 0, 'other', 2], past: lie }]], changed: 99 };
  const there = receive(note, incoming, 'mine');
  expect([...there.rows.kept.values()].map((r) => (r.v as { table: string }).table).sort()).toEqual(['note', 'placed']);
  // One that has really seen it all is believed.
  const known = { ...incoming, rows: [{ ...incoming.rows[0], past: { mine: 1 } }], gone: [['s', { page: 'p', s: [9999, 0, 'other', 2] as const, past: { mine: 0 } }]] as const };
  expect(receive(note, known, 'mine').rows.kept?.size ?? 0).toBe(0);
});

test('a device whose clock stood at 2050 freezes nobody: its changes stand, those made after them go on by the true clock', () => {
  const [now, ahead] = [Date.UTC(2026, 11, 1), Date.UTC(2050, 0, 1)];
  const title = (value: string): Edit => ({ rows: [put('note', 'title', { value })] });
  const fast = applyEdit(start, { ...title('Ahead'), put: [stroke('f', 'p', 2)] }, { device: 'fast', now: ahead }).note;
  let note = receive(start, allOf(fast), 'a');
  const before = new Set<string>();
  for (let i = 0; i < 50; i++) {
    note = applyEdit(note, title(`Ebb ${i}`), { device: 'a', now: now + i }).note;
    note = applyEdit(note, { rows: [put('marks', `m${i}`, { kind: 'ask', take: 't', at: i, wall: i })] }, { device: 'a', now: now + i }).note;
    const s = note.rows.note.get('title')!.s!;
    expect(before.has(JSON.stringify(s))).toBe(false);
    before.add(JSON.stringify(s));
    // What it takes the place of was dated so; nothing else is.
    expect(s[0]).toBe(ahead);
    expect(note.rows.marks.get(`m${i}`)!.s![0]).toBeLessThan(now + 1000);
  }
  expect(receive(fast, allOf(note), 'fast').header.title).toBe('Ebb 49');
  // Its own clock is right again: what it changes itself is not dated by what it wrote then.
  expect(applyEdit(fast, { rows: [put('marks', 'm', { kind: 'ask', take: 't', at: 1, wall: 1 })] }, { device: 'fast', now }).note.rows.marks.get('m')!.s![0]).toBe(now);
});

test('keys of order that look like some and are none are led to their place: the pages stand, and one can be put beside them', () => {
  const note = noteOf(start.header, {});
  const rows = { ...note.rows, pages: new Map(['a0', 'b', 'c7', 'Zz', 'a00', 'z'].map((order, i) => [`p${i}`, { s: null, v: { ...newPage('x'), id: undefined, order } }])) };
  const read = noteOfRows(note.header, rows);
  expect(read.header.pages.length).toBe(6);
  for (let at = 0; at <= 6; at++) expect(() => applyEdit(read, addPages(read, at, [newPage(`n${at}`)]), { device: 'a', now: 1 })).not.toThrow();
  expect([asKey('a0'), asKey('b'), asKey('b0012000')].map((k) => [k, isKey(k)])).toEqual([['a0', true], ['b00', true], ['b0012', true]]);
  fc.assert(fc.property(fc.string(), (text) => isKey(asKey(text))));
});
