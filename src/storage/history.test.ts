/** The history that outlives a reload, and settings of which some cannot be read. */
import 'fake-indexeddb/auto';
import { BALL, pointsThrough } from '../../tests/helpers/ink';
import { makeStroke, type Stroke } from '../core/ink/stroke';
import { applyEdit, noteOf, put, type Edit, type Note } from '../core/note/edit';
import { newPage, type NoteHeader } from '../core/note/schema';
import { keys, notesDb, rawDbs } from './databases';
import { HistoryFile } from './historyFile';
import { DEFAULT_SETTINGS, onlyPenWrites, readSettings, patchSettings } from './settingsFile';

const stroke = (n: number): Stroke => makeStroke(pointsThrough([[n, 10], [n + 4, 12]]), { id: `s${n}`, page: 'p', pen: BALL, stamp: { take: 't', at: n }, wall: n });
const header: NoteHeader = { v: 2, id: 'n', title: 'Tides', made: 1, changed: 2, pages: [newPage('p')], takes: [], timeline: [] };

const BY = { device: 'here', now: 9 };

beforeEach(() => rawDbs().notes.clear());

/** Four strokes, a deletion, a change of title; the history with it. */
function worked(): { note: Note; undo: Edit[]; redo: Edit[] } {
  let note = noteOf(header);
  const undo: Edit[] = [];
  for (const edit of [{ put: [stroke(1)] }, { put: [stroke(2), stroke(3)] }, { cut: [{ id: 's2', page: 'p' }] }, { rows: [put('note', 'title', { value: 'Streams' })] }] as Edit[]) {
    const { note: next, inverse } = applyEdit(note, edit, BY);
    undo.push(inverse);
    note = next;
  }
  return { note, undo, redo: [{ put: [stroke(9)] }] };
}

test('the history comes back as it was and takes the same steps back', async () => {
  const { note, undo, redo } = worked();
  await new HistoryFile('n').write({ undo, redo }, note);
  const read = await new HistoryFile('n').read(note);
  expect(read).toEqual({ undo, redo });
  let back = note;
  for (const edit of [...read.undo].reverse()) back = applyEdit(back, edit).note;
  expect(back.ink.p).toEqual([]);
  expect(back.header.title).toBe('Tides');
});

test('steps are written once, and those that are past go', async () => {
  const { note, undo, redo } = worked();
  const file = new HistoryFile('n');
  await file.write({ undo, redo }, note);
  const names = async () => (await notesDb().getAllKeys()).filter((k) => k.startsWith(keys.historyPrefix('n'))).sort();
  const first = await names();
  await file.write({ undo, redo: [] }, note);
  const second = await names();
  expect(second).toHaveLength(first.length - 1);
  expect(first).toEqual(expect.arrayContaining(second));
  await file.clear();
  expect(await names()).toEqual([]);
});

test('a history of another state of the note is of no use; with a step missing, what is newer still serves', async () => {
  const { note, undo, redo } = worked();
  await new HistoryFile('n').write({ undo, redo }, note);
  expect(await new HistoryFile('n').read(applyEdit(note, { put: [stroke(77)] }, BY).note)).toEqual({ undo: [], redo: [] });
  await new HistoryFile('n').write({ undo, redo }, note);
  const order = JSON.parse((await notesDb().getItem(keys.historyOrder('n')))!) as { undo: string[] };
  await notesDb().setItem(keys.historyStep('n', order.undo[1]), 'no step at all');
  expect(await new HistoryFile('n').read(note)).toEqual({ undo: undo.slice(2), redo });
});

test('the newest steps are kept within a limit in bytes, whatever they are', async () => {
  const { note } = worked();
  const LIMIT = 20_000;
  const heavy = (k: number): Edit => ({ put: Array.from({ length: 60 }, (_, i) => ({ ...stroke(1 + (i % 90)), id: `heavy-${k}-${i}` })) });
  const undo = Array.from({ length: 16 }, (_, k) => heavy(k));
  const file = new HistoryFile('n', LIMIT);
  const bytes = async () => Object.values(await notesDb().getMany((await notesDb().getAllKeys()).filter((k) => k !== keys.historyOrder('n')))).reduce((s, t) => s + t!.length, 0);
  await file.write({ undo, redo: [] }, note);
  expect(await bytes()).toBeLessThanOrEqual(LIMIT);
  const read = await new HistoryFile('n').read(note);
  expect(read.undo.length).toBeGreaterThan(2);
  expect(read.undo.length).toBeLessThan(undo.length);
  expect(read.undo.at(-1)).toEqual(undo.at(-1));
  // A light step after them takes its place, and the oldest makes room.
  await file.write({ undo: [...undo, { put: [stroke(5)] }], redo: [] }, note);
  expect(await bytes()).toBeLessThanOrEqual(LIMIT);
  expect((await new HistoryFile('n').read(note)).undo.at(-1)).toEqual({ put: [stroke(5)] });
});

test('one setting that cannot be read does not cost the pens', async () => {
  const cup = [...DEFAULT_SETTINGS.cup, { ...DEFAULT_SETTINGS.cup[0], id: 'mine', name: 'definitions' }];
  await patchSettings({ ...DEFAULT_SETTINGS, cup, leftHanded: true });
  const text = JSON.parse((await notesDb().getItem(keys.settings))!) as Record<string, unknown>;
  await notesDb().setItem(keys.settings, JSON.stringify({ ...text, leadIn: 'soon', eraser: { by: 'teeth' } }));
  const read = await readSettings();
  expect(read.cup).toEqual(cup);
  expect([read.leftHanded, read.leadIn, read.eraser]).toEqual([true, DEFAULT_SETTINGS.leadIn, DEFAULT_SETTINGS.eraser]);
});

test('who writes: the pen alone once one was seen, unless the writer says otherwise', () => {
  expect((['auto', 'pen', 'any'] as const).map((writes) => [onlyPenWrites({ writes, penSeen: false }), onlyPenWrites({ writes, penSeen: true })])).toEqual([[false, true], [true, true], [false, false]]);
});
