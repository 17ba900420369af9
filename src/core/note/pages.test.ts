/** Every change of the pages is an edit that its inverse takes back exactly. */
import * as fc from 'fast-check';
import { PointBuffer } from '../ink/points';
import { makeStroke, type Stroke } from '../ink/stroke';
import { copiedNote } from './copy';
import { applyEdit, noteOf, put as putRow, type Edit, type Note } from './edit';
import { addPages, bringInk, bringPages, changePaper, deletePages, dropHeading, duplicatePages, outlineOf, reorderPages, setHeading, toggleBookmark } from './pages';
import { NEW_FORM, newPage, type NoteHeader } from './schema';
import { pageFrom, readTemplate, templateOf, writeTemplate } from './template';

const stroke = (id: string, page: string, y: number, more: Partial<Stroke> = {}): Stroke => {
  const points = new PointBuffer();
  points.add(10, y, 0.5, 0);
  points.add(30, y + 2, 0.5, 40);
  return makeStroke(points.points(), { id, page, pen: { kind: 'ball', color: '#16324f', width: 0.4 }, stamp: { take: 't1', at: 1000 }, wall: y, ...more });
};
const header: NoteHeader = {
  v: 2, id: 'n', title: 'Tides', made: 1, changed: 2,
  pages: ['a', 'b', 'c', 'd'].map((id) => newPage(id)),
  takes: [{ id: 't1', name: 'Take 1', wall: 5, ms: 9000, state: 'done', parts: [{ at: 0, wall: 5 }] }],
  timeline: [{ take: 't1', from: 0, to: 9000 }],
  bookmarks: ['b'], tags: [{ stroke: 's1', names: ['exam'] }],
  marks: [{ id: 'm', kind: 'ask', take: 't1', at: 5, wall: 5 }],
};
const note: Note = applyEdit(noteOf(header), { put: [stroke('s1', 'a', 30, { group: 'g' }), stroke('s2', 'b', 40), stroke('s3', 'b', 20), stroke('s4', 'd', 50)] }).note;
let n = 0;
const newId = () => `new-${n++}`;
const order = (m: Note) => m.header.pages.map((p) => p.id).join('');
/** Empty lists of ink are as good as none. */
const content = (m: Note) => ({ header: m.header, ink: Object.fromEntries(Object.entries(m.ink).filter(([, l]) => l.length)) });
const done = (edit: Edit, on = note): Note => {
  const { note: next, inverse } = applyEdit(on, edit);
  expect(content(applyEdit(next, inverse).note)).toEqual(content(on));
  return next;
};

test('pages are added, moved, copied and deleted, each to be taken back', () => {
  expect(order(done(addPages(note, 1, [newPage('x', NEW_FORM)])))).toBe('axbcd');
  expect(order(done(reorderPages(note, ['a', 'c'], 4)))).toBe('bdac');
  expect(order(done(reorderPages(note, ['d'], 0)))).toBe('dabc');
  const twice = done(duplicatePages(note, ['b'], newId));
  expect(twice.header.pages.length).toBe(5);
  const copy = twice.header.pages[2].id;
  expect(twice.ink[copy].map((s) => [s.stamp, s.box])).toEqual(note.ink.b.map((s) => [s.stamp, s.box]));
  expect(twice.ink[copy].some((s) => note.ink.b.some((o) => o.id === s.id))).toBe(false);
  const less = done(deletePages(note, ['b'], 'x'));
  expect([order(less), less.ink.b.length, less.header.bookmarks]).toEqual(['acd', 0, undefined]);
  const none = done(deletePages(note, ['a', 'b', 'c', 'd'], 'x'));
  expect(order(none)).toBe('x');
});

test('moving any pages to any place keeps every page once and the chosen ones together', () => {
  fc.assert(
    fc.property(fc.subarray(['a', 'b', 'c', 'd'], { minLength: 1 }), fc.integer({ min: 0, max: 4 }), (ids, to) => {
      const moved = order(done(reorderPages(note, ids, to)));
      expect([...moved].sort().join('')).toBe('abcd');
      expect(moved).toContain(ids.join(''));
    }),
  );
});

test('a paper is changed for one page or all; ink stays', () => {
  const form = { w: 148, h: 210, paper: { kind: 'dotted' as const, spacing: 5, top: 5 } };
  const one = done(changePaper(note, 'b', form));
  expect(one.header.pages.map((p) => p.w)).toEqual([210, 148, 210, 210]);
  expect(one.ink).toBe(note.ink);
  expect(done(changePaper(note, null, form)).header.pages.every((p) => p.paper.kind === 'dotted')).toBe(true);
});

test('headings stand in the order of the pages; erased ink is none, and ink is in one heading only', () => {
  let next = done(setHeading(note, 'b', ['s2'], 2, 'h2'));
  next = done(setHeading(next, 'b', ['s3'], 1, 'h3'), next);
  next = done(setHeading(next, 'a', ['s1'], 1, 'h1'), next);
  expect(outlineOf(next).map((e) => [e.number, e.level, e.placed[0].id])).toEqual([[1, 1, 's1'], [2, 1, 's3'], [2, 2, 's2']]);
  next = done(setHeading(next, 'b', ['s2', 's3'], 1, 'h4'), next);
  expect(outlineOf(next).map((e) => e.placed.length)).toEqual([1, 2]);
  expect(outlineOf(done({ cut: [{ id: 's1', page: 'a' }] }, next)).length).toBe(1);
  expect(outlineOf(done(dropHeading(next, ['s3']), next)).length).toBe(1);
  expect(done(toggleBookmark(note, 'b')).header.bookmarks).toBeUndefined();
});

test('pages come into another note with ink, stamps and sound', () => {
  const into = noteOf({ ...header, id: 'm', title: 'Lights', pages: [newPage('z')], takes: [], timeline: [], marks: [], tags: [], bookmarks: [] });
  const from = applyEdit(note, setHeading(note, 'b', ['s2'], 2, 'h')).note;
  const next = applyEdit(into, bringPages(into, from, ['a', 'b'], newId)).note;
  expect(next.header.pages.length).toBe(3);
  expect(next.header.takes.map((t) => [t.id, t.name])).toEqual([['t1', 'Take 1 of Tides']]);
  expect(next.header.timeline).toEqual([{ take: 't1', from: 0, to: 9000 }]);
  expect(Object.values(next.ink).flat().map((s) => s.stamp)).toEqual([1, 2, 3].map(() => ({ take: 't1', at: 1000 })));
  // What was tied to the pages and their ink came along, tied to the copies.
  expect(next.header.bookmarks).toEqual([next.header.pages[2].id]);
  expect(outlineOf(next).map((e) => [e.number, e.level])).toEqual([[3, 2]]);
  expect(next.header.tags).toEqual([{ stroke: next.ink[next.header.pages[1].id][0].id, names: ['exam'] }]);
});

test('ink comes below the last ink of another note with its sound, or on a page of its own where it does not fit', () => {
  const empty = noteOf({ ...header, id: 'm', title: 'Lights', pages: [newPage('z')], takes: [], timeline: [], marks: [], tags: [], bookmarks: [] });
  const into = applyEdit(empty, { put: [stroke('z1', 'z', 100, { stamp: null })] }).note;
  const next = applyEdit(into, bringInk(into, note, note.ink.b, newId)).note;
  const old = next.ink.z.find((s) => s.id === 'z1')!;
  const brought = next.ink.z.filter((s) => s !== old);
  expect([old.id, brought.length, next.header.pages.length]).toEqual(['z1', 2, 1]);
  // Six mm below what was there, as far from each other as before, and at their moments.
  expect(brought.map((s) => s.box[1]).sort((a, b) => a - b)[0]).toBeCloseTo(old.box[3] + 6, 2);
  expect(Math.abs(brought[0].box[1] - brought[1].box[1])).toBeCloseTo(Math.abs(note.ink.b[0].box[1] - note.ink.b[1].box[1]), 2);
  expect(brought.map((s) => s.stamp)).toEqual(note.ink.b.map((s) => s.stamp));
  expect(next.header.takes.map((t) => t.name)).toEqual(['Take 1 of Tides']);
  const full = applyEdit(empty, { put: [stroke('z1', 'z', 285, { stamp: null })] }).note;
  const more = applyEdit(full, bringInk(full, note, note.ink.b, newId)).note;
  expect(more.header.pages.length).toBe(2);
  expect(more.ink[more.header.pages[1].id]).toHaveLength(2);
  expect(bringInk(into, note, [], newId)).toEqual({});
});

test('a template keeps paper and ink of a page, and gives pages without sound', () => {
  const template = templateOf(header.pages[1], note.ink.b, 'Watch log', 't', 7);
  expect(readTemplate(writeTemplate(template))).toEqual(template);
  const { page, placed } = pageFrom(template, 77, newId);
  expect([page.paper, placed.length]).toEqual([header.pages[1].paper, 2]);
  expect(placed.every((s) => s.stamp === null && s.wall === 77 && s.page === page.id)).toBe(true);
  expect(() => readTemplate('nothing')).toThrow(/template/);
});

test('a copy of a note is the same but for its ids, and has the same takes', () => {
  let whole = applyEdit(note, setHeading(note, 'b', ['s2'], 2, 'h')).note;
  whole = applyEdit(whole, { rows: [putRow('settled', 'g', { take: 't1', from: 10, to: 20 }), putRow('links', 'other', { note: 'elsewhere' }), putRow('note', 'readOnly', { value: true })] }).note;
  const copy = copiedNote(whole, 'Tides (copy)', 99, newId);
  /** In the same order on both sides. */
  const ids = (m: Note) => [m.header.id, ...m.header.pages.map((p) => p.id), ...Object.values(m.ink).flat().map((s) => s.id), ...(m.header.marks ?? []).map((k) => k.id)];
  expect(ids(copy).filter((id) => ids(whole).includes(id))).toEqual([]);
  expect(copy.header.takes).toEqual(header.takes);
  // Every id of the one for its counterpart in the other: then nothing differs.
  const to = new Map(ids(copy).map((id, i) => [id, ids(whole)[i]]));
  const again = JSON.parse(JSON.stringify(copy.header, (_, v: unknown) => (typeof v === 'string' ? (to.get(v) ?? v) : v))) as NoteHeader;
  expect({ ...again, title: 'Tides', made: 1, changed: 2, state: whole.header.state }).toEqual(JSON.parse(JSON.stringify(whole.header)));
  expect(Object.values(copy.ink).flat().find((s) => s.group)!.group).not.toBe('g');
});
