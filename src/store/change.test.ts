import { PointBuffer } from '../core/ink/points';
import { makeStroke } from '../core/ink/stroke';
import { noteOf, put, type Edit } from '../core/note/edit';
import { makePicture } from '../core/note/kinds/picture';
import { newPage } from '../core/note/schema';
import type { NoteFile } from '../storage/noteFile';
import { makeAlive } from './alive';
import { canChange, change, redo, undo } from './change';
import { noteSlice } from './noteSlice';
import { makeStore } from './store';

const { opening, opened, followed, wordsFound, closed } = noteSlice.actions;
const stroke = (n: number) => {
  const buffer = new PointBuffer();
  buffer.add(n, n, 0.5, 0);
  return makeStroke(buffer.points(), { id: `s${n}`, page: 'p', pen: { kind: 'ball', color: '#16324f', width: 0.4 }, stamp: null, wall: n });
};
const title = (value: string) => ({ rows: [put('note', 'title', { value })] });
function start(id = 'n', more: { newer?: string } = {}) {
  const store = makeStore({ ...makeAlive(), device: `device-${id}` });
  store.dispatch(opening(id));
  store.dispatch(opened({ note: noteOf({ v: 2, id, title: 'a', made: 0, changed: 0, pages: [newPage('p')], takes: [], timeline: [] }), following: false, mode: 'write', ...more }));
  return store;
}
const ids = (store: ReturnType<typeof start>) => (store.getState().note.note!.ink.p ?? []).map((s) => s.id);

test('undo and redo walk the history; what comes with recording is not part of it', () => {
  const store = start();
  for (let n = 1; n <= 3; n++) store.dispatch(change({ put: [stroke(n)] }));
  store.dispatch(change(title('b'), false));
  expect(store.getState().note.undo).toHaveLength(3);
  store.dispatch(undo());
  store.dispatch(undo());
  expect(ids(store)).toEqual(['s1']);
  expect(store.getState().note.note!.header.title).toBe('b');
  store.dispatch(redo());
  expect(ids(store)).toEqual(['s1', 's2']);
  // A new stroke ends what could be done again.
  store.dispatch(change({ put: [stroke(9)] }));
  expect(store.getState().note.redo).toHaveLength(0);
  // With nothing to take back, nothing happens.
  for (let i = 0; i < 9; i++) store.dispatch(undo());
  expect(ids(store)).toEqual([]);
});

test('a change that is refused says so to its caller, and the note stays as it is', () => {
  const store = start();
  expect(store.dispatch(change(title('b')))).toBe(true);
  const note = store.getState().note.note;
  expect(store.dispatch(change({ rows: [put('headings', 'h', { page: 'p', strokes: [], level: 1 })] }))).toBe(false);
  expect(store.getState().messages.map((m) => m.tone)).toEqual(['problem']);
  expect(store.getState().note.note).toBe(note);
  expect(store.dispatch(change({ rows: [put('note', 'readOnly', { value: true })] }, false))).toBe(true);
  expect([store.dispatch(change(title('c'))), canChange(store.getState())]).toEqual([false, false]);
  // A note that a newer program wrote takes nothing at all, not even what it does for itself.
  const newer = start('m', { newer: 'Update Scrivo.' });
  expect([newer.dispatch(change(title('c'), false)), newer.getState().note.note!.header.title]).toEqual([false, 'a']);
});

test('a change that would point to a picture or file which the note does not hold is refused: behind a page, on it, or as a film', () => {
  const [held, gone] = ['a'.repeat(64), 'b'.repeat(64)];
  const alive = { ...makeAlive(), device: 'd', file: { holds: (hash: string) => hash === held, record: () => undefined } as unknown as NoteFile };
  const store = makeStore(alive);
  store.dispatch(opening('n'));
  store.dispatch(opened({ note: noteOf({ v: 2, id: 'n', title: 'a', made: 0, changed: 0, pages: [newPage('p')], takes: [], timeline: [] }), following: false, mode: 'write' }));
  const { id: _, ...page } = newPage('p');
  const pointing = (hash: string): Edit[] => [
    { put: [makePicture({ id: `pic-${hash}`, page: 'p', stamp: null, wall: 5, content: hash, px: [9, 9], m: [9, 0, 0, 9, 1, 1] })] },
    { put: [makePicture({ id: `moves-${hash}`, page: 'p', stamp: null, wall: 5, content: held, moves: hash, px: [9, 9], m: [9, 0, 0, 9, 1, 1] })] },
    { rows: [put('pages', 'p', { ...page, order: 'a0', backdrop: { content: hash } })] },
    { rows: [put('takes', 't', { name: 'Take 1', wall: 1, ms: 10, parts: [], state: 'done', order: 'a0', film: { content: hash, type: 'video/mp4' } })] },
  ];
  for (const edit of pointing(held)) expect(store.dispatch(change(edit))).toBe(true);
  const before = store.getState().note.note;
  for (const edit of pointing(gone)) expect(store.dispatch(change(edit))).toBe(false);
  expect(store.getState().note.note).toBe(before);
  expect(store.getState().messages.map((m) => m.text)).toEqual(['A picture or file of it is not on this device any more. Nothing was changed; copy it again where it still is.']);
  // A hash that somebody wrote is a text like any other.
  expect(store.dispatch(change(title(gone)))).toBe(true);
});

test('two stores live side by side: each changes its own note, as its own device', () => {
  const [one, two] = [start('one'), start('two')];
  one.dispatch(change({ put: [stroke(1)] }));
  two.dispatch(change({ put: [stroke(2)] }));
  two.dispatch(change(title('b')));
  expect([ids(one), ids(two)]).toEqual([['s1'], ['s2']]);
  expect([one, two].map((s) => s.getState().note.note!.ink.p[0].s!.slice(2))).toEqual([['device-one', 0], ['device-two', 0]]);
  one.dispatch(undo());
  expect([ids(one), ids(two), two.getState().note.undo.length]).toEqual([[], ['s2'], 2]);
});

test('what another tab wrote comes in without a history, and words only for the note that is open', () => {
  const store = start();
  store.dispatch(followed({ put: [stroke(1)], foreign: { changed: 5 } }));
  expect(ids(store)).toEqual(['s1']);
  expect(store.getState().note.undo).toHaveLength(0);
  const words = { grouping: { words: [], lines: [], drawings: [] }, of: store.getState().note.note!.ink.p };
  store.dispatch(wordsFound({ note: 'other', page: 'p', words }));
  expect(store.getState().note.words).toEqual({});
  store.dispatch(wordsFound({ note: 'n', page: 'p', words }));
  expect(store.getState().note.words.p).toBe(words);
  store.dispatch(closed());
  expect(store.getState().note.note).toBeNull();
});
