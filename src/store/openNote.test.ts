/** Notes over several visits: what can be taken back after a reload, and changes of notes that are not open. Storage is an IndexedDB of the test's own. */
import 'fake-indexeddb/auto';
import { webcrypto } from 'node:crypto';
import { BALL, pointsThrough } from '../../tests/helpers/ink';
import { makeStroke } from '../core/ink/stroke';
import { applyEdit, drop, noteOf, put, type Edit, type Note } from '../core/note/edit';
import { noteRecord } from '../core/note/records/noteRecord';
import { heldNotes, holdToChange } from '../platform/tabs';
import { newPage, summaryOf } from '../core/note/schema';
import { keys, notesDb, rawDbs, soundDb } from '../storage/databases';
import { NoteFile, replaceNote } from '../storage/noteFile';
import { makeAlive } from './alive';
import { change, redo, undo } from './change';
import { movePagesTo } from './pages';
import { closeNote, flushAll, openNote } from './openNote';
import { deleteNotes } from './library';
import { librarySlice } from './slices';
import { makeStore } from './store';
import { editStored } from './storedNotes';
import { wouldBeLost } from './unsaved';

const opening = (id: string, by?: { device: string; now: number }) => NoteFile.openToWrite({ note: id }, by);

Object.defineProperty(globalThis, 'crypto', { value: webcrypto, configurable: true });
// As in a browser without locks and channels: one tab alone.
Object.defineProperty(globalThis, 'navigator', { value: {}, configurable: true });
Object.defineProperty(globalThis, 'BroadcastChannel', { value: undefined, configurable: true });
// Nothing is played here.
jest.mock('../platform/player', () => ({ playingObstacle: () => null, Player: class { setSpeed() {} setGain() {} setTimeline() {} setSkips() {} setRepeat() {} destroy() {} position = 0; } }));

const stroke = (id: string) => makeStroke(pointsThrough([[3, 4], [9, 8]]), { id, page: 'p', pen: BALL, stamp: { take: 't', at: 5 }, wall: 7 });
const note = (id: string): Note => noteOf({ v: 2, id, title: `Note ${id}`, made: 1, changed: 2, pages: [newPage('p'), newPage('q')], takes: [{ id: 't', name: 'Take 1', wall: 1, ms: 9000, state: 'done', parts: [{ at: 0, wall: 1 }] }], timeline: [] }, { p: [stroke('s')] });

/** A visit: a store of its own on the same storage. */
function visit() {
  const alive = { ...makeAlive(), device: 'here' };
  return { store: makeStore(alive), alive };
}
/** The visit ends without the note being closed, as at a reload. */
async function reloaded({ store, alive }: ReturnType<typeof visit>) {
  await alive.file!.flush(true);
  // What a page holds goes with it.
  await alive.held?.release();
  store.dispatch(flushAll());
  // What it set going comes to its end.
  await new Promise((resolve) => setTimeout(resolve, 50));
  return visit();
}

beforeEach(async () => {
  await rawDbs().notes.clear();
  await rawDbs().sound.clear();
  await replaceNote({ note: 'n' }, note('n'));
});

test.each([
  ['a mark', { rows: [put('marks', 'm', { kind: 'ask', take: 't', at: 3, wall: 4 })] }],
  ['a heading', { rows: [put('headings', 'h', { page: 'p', strokes: ['s'], level: 1 })] }],
  ['a tag', { rows: [put('tags', 's/exam', { placed: 's', name: 'exam', order: 'a0' })] }],
  ['a bookmark', { rows: [put('bookmarks', 'p', {})] }],
  ['a settled gap', { rows: [put('settled', 'g', { take: 't', from: 10, to: 900 })] }],
  ['a title', { rows: [put('note', 'title', { value: 'Streams' })] }],
  ['a page that goes with its ink', { cut: [{ id: 's', page: 'p' }], rows: [drop('pages', 'p')] }],
] as [string, Edit][])('%s is taken back and done again after a reload', async (_, edit) => {
  const first = visit();
  await first.store.dispatch(openNote('n'));
  const shown = (v: ReturnType<typeof visit>) => {
    const { header, ink } = v.store.getState().note.note!;
    return { header: { ...header, changed: 0, state: '' }, ink: Object.entries(ink).flatMap(([page, list]) => list.map((s) => [page, s.id])) };
  };
  const before = shown(first);
  expect(first.store.dispatch(change(edit))).toBe(true);
  const after = shown(first);
  expect(after).not.toEqual(before);
  const second = await reloaded(first);
  await second.store.dispatch(openNote('n'));
  expect(shown(second)).toEqual(after);
  second.store.dispatch(undo());
  expect(shown(second)).toEqual(before);
  const third = await reloaded(second);
  await third.store.dispatch(openNote('n'));
  expect(shown(third)).toEqual(before);
  third.store.dispatch(redo());
  expect(shown(third)).toEqual(after);
  await third.store.dispatch(closeNote());
});

test('changes of a stored note that are asked for at once are made one after another; one that is refused stops none', async () => {
  const { store } = visit();
  const mark = (id: string) => () => ({ rows: [put('marks', id, { kind: 'ask', take: 't', at: 3, wall: 4 })] });
  const done = await Promise.allSettled([store.dispatch(editStored('n', mark('a'))), store.dispatch(editStored('n', () => Promise.reject(new Error('no')))), store.dispatch(editStored('n', mark('b')))]);
  expect(done.map((d) => d.status)).toEqual(['fulfilled', 'rejected', 'fulfilled']);
  expect([...(await opening('n')).note.rows.marks.keys()].sort()).toEqual(['a', 'b']);
});

test('a note that is opened while a change of it is under way here waits for that, and can be written', async () => {
  const { store } = visit();
  let go = () => {};
  const slow = new Promise<void>((resolve) => (go = resolve));
  const changing = store.dispatch(editStored('n', async () => (await slow, { rows: [put('note', 'title', { value: 'Springs' })] })));
  // The change holds the note by now.
  while (!(await heldNotes()).has('n')) await new Promise((resolve) => setImmediate(resolve));
  const opening = store.dispatch(openNote('n'));
  go();
  await Promise.all([changing, opening]);
  expect(store.getState().note).toMatchObject({ status: 'open', following: false, note: { header: { title: 'Springs' } } });
  expect(await holdToChange('n')).toBeNull();
  await store.dispatch(closeNote());
  expect(await heldNotes()).toEqual(new Set());
});

test('a note that is not open is changed by the same edits, and not when it is read only or newer', async () => {
  const { store } = visit();
  const titled = (value: string): Edit => ({ rows: [put('note', 'title', { value })] });
  const { note: changed } = await store.dispatch(editStored('n', () => titled('Streams')));
  expect([changed.header.title, (await opening('n')).note.header.title]).toEqual(['Streams', 'Streams']);
  await store.dispatch(editStored('n', () => ({ rows: [put('note', 'readOnly', { value: true })] })));
  await expect(store.dispatch(editStored('n', () => titled('Neaps')))).rejects.toMatchObject({ name: 'Refused', message: 'it is read only' });
  // Its own work, such as a take that ends, goes on.
  expect((await store.dispatch(editStored('n', () => ({ rows: [put('note', 'readOnly', { value: false })] }), true))).note.header.readOnly).toBeUndefined();
  const record = JSON.parse(noteRecord.write(summaryOf(changed.header))) as object;
  await notesDb().setItem(keys.note('n'), JSON.stringify({ ...record, v: 99 }));
  await expect(store.dispatch(editStored('n', () => titled('Neaps')))).rejects.toMatchObject({ message: 'a newer Scrivo wrote it' });
  expect((await opening('n')).note.header.title).toBe('Streams');
});

test('pages are not moved into a note that is read only: they stay, and it is said', async () => {
  await replaceNote({ note: 'target' }, applyEdit(note('target'), { rows: [put('note', 'readOnly', { value: true })] }, { device: 'here', now: 5 }).note);
  const { store } = visit();
  await store.dispatch(openNote('n'));
  await store.dispatch(movePagesTo(['p'], 'target'));
  expect(store.getState().note.note!.header.pages.map((p) => p.id)).toEqual(['p', 'q']);
  expect(store.getState().messages.at(-1)!.text).toMatch(/takes no pages now: it is read only\. They are still here\./);
  expect((await opening('target')).note.header.pages).toHaveLength(2);
  await store.dispatch(closeNote());
});

test('a picture that was taken away stays while the step can be taken back, and goes when the note is left', async () => {
  const { store, alive } = visit();
  await store.dispatch(openNote('n'));
  const content = await alive.file!.keep(Uint8Array.of(1, 2, 3));
  const page = { ...newPage('p'), order: 'a0' } as { id?: string; order: string };
  delete page.id;
  store.dispatch(change({ rows: [put('pages', 'p', { ...page, backdrop: { content } } as never)] }));
  store.dispatch(undo());
  const stored = async () => (await soundDb().getAllKeys()).filter((k) => k.startsWith('content/')).length;
  await alive.file!.flush(true);
  expect(await stored()).toBe(1);
  store.dispatch(redo());
  store.dispatch(undo());
  await store.dispatch(closeNote());
  expect(await stored()).toBe(0);
});

/** Storage that takes nothing more, as a full disk; gives the way to make room again. */
function full(): () => void {
  const [notes, sound] = [notesDb(), soundDb()];
  const undoAll = [notes, sound].map((db) => {
    const { setMany, setItem } = db;
    // Chromium's error of a full disk comes through without words.
    db.setMany = db.setItem = () => Promise.reject(new Error(''));
    return () => Object.assign(db, { setMany, setItem });
  });
  return () => undoAll.forEach((f) => f());
}
const stroked = (id: string): Edit => ({ put: [{ ...stroke(id), wall: 99 }] });
const ids = async (id: string) => Object.values((await opening(id)).note.ink).flat().map((s) => s.id);

test('ink that found no room stays when another note is opened: it is said, can be saved, is tried again, and no other tab may write the note', async () => {
  await replaceNote({ note: 'other' }, note('other'));
  const { store, alive } = visit();
  await store.dispatch(openNote('n'));
  const room = full();
  store.dispatch(change(stroked('late')));
  await store.dispatch(openNote('other'));
  expect(store.getState().note.note!.header.id).toBe('other');
  expect(store.getState().messages.find((m) => m.key === 'unsaved-n')).toMatchObject({ tone: 'problem', action: 'save-copy', note: 'n', text: expect.stringMatching(/^“Note n” is not stored yet\./) });
  expect([alive.unsaved.get('n')!.file.current.ink.p.length, store.dispatch(wouldBeLost())]).toEqual([2, true]);
  expect(await ids('n')).toEqual(['s']);
  // Opened again it shows all of it, and goes on.
  await store.dispatch(openNote('n'));
  expect(store.getState().note.note!.ink.p.map((s) => s.id)).toEqual(['s', 'late']);
  store.dispatch(change(stroked('later')));
  await store.dispatch(openNote('other'));
  room();
  await alive.unsaved.get('n')!.file.flush();
  await new Promise((resolve) => setTimeout(resolve, 20));
  expect(await ids('n')).toEqual(['s', 'late', 'later']);
  expect([alive.unsaved.size, store.dispatch(wouldBeLost()), store.getState().messages.find((m) => m.key === 'unsaved-n')!.text]).toEqual([0, false, '“Note n” is stored.']);
  await store.dispatch(closeNote());
});

test('on a full disk a note can be deleted for good, also one that has something which is not stored', async () => {
  await replaceNote({ note: 'other' }, note('other'));
  const { store, alive } = visit();
  store.dispatch(librarySlice.actions.upserted(summaryOf(note('n').header)));
  await store.dispatch(openNote('n'));
  const room = full();
  store.dispatch(change(stroked('late')));
  await store.dispatch(openNote('other'));
  expect(alive.unsaved.size).toBe(1);
  await store.dispatch(deleteNotes(['n']));
  expect((await notesDb().getAllKeys()).filter((k) => /\/n(\/|$)/.test(k))).toEqual([]);
  room();
  await alive.file!.flush(true);
  await new Promise((resolve) => setTimeout(resolve, 20));
  expect((await notesDb().getAllKeys()).filter((k) => /\/n(\/|$)/.test(k))).toEqual([]);
  expect(alive.unsaved.size).toBe(0);
  await store.dispatch(closeNote());
});
