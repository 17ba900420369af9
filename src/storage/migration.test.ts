/** What the version before stored and handed out (tests/data/v1, made by it) is read, shown and written on without a loss. */
import 'fake-indexeddb/auto';
import { webcrypto } from 'node:crypto';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { hereAndNow, readBundle, writeBundle } from '../core/formats/bundle';
import { applyEdit, put, type Edit } from '../core/note/edit';
import type { Area } from '../core/note/kinds/area';
import { merge, type Incoming } from '../core/note/merge';
import type { NoteHeader } from '../core/note/schema';
import { restoreArchive } from './archive';
import { listAside, retryAside } from './asideFile';
import { keys, notesDb, rawDbs } from './databases';
import { HistoryFile } from './historyFile';
import { readLibrary, readToday } from './libraryFile';
import { NoteFile } from './noteFile';
import { readNote } from './noteReading';
import { readSettings } from './settingsFile';
import { readPieces } from './soundFile';
import { readTemplates } from './templateFile';

const opening = (id: string, by?: { device: string; now: number }) => NoteFile.openToWrite({ note: id }, by);

/** Nobody else has any note. */
const enterAny = (note: string) => Promise.resolve({ note, release: () => undefined });

Object.defineProperty(globalThis, 'crypto', { value: webcrypto, configurable: true });
const DATA = path.resolve(__dirname, '../../tests/data/v1');
const stored = JSON.parse(readFileSync(path.join(DATA, 'records.json'), 'utf8')) as Record<'notes' | 'sound', Record<string, string>>;
const before = JSON.parse(stored.notes['note/note-ebb']) as NoteHeader & { links: object[] };
const BY = { device: 'here', now: 1_770_000_000_000 };

beforeEach(async () => {
  await rawDbs().notes.clear();
  await rawDbs().sound.clear();
  await rawDbs().notes.setMany(stored.notes);
  await rawDbs().sound.setMany(stored.sound);
});

const all = async () => notesDb().getMany((await notesDb().getAllKeys()).sort());

test('a library of before is read whole, and reading it changes nothing', async () => {
  const raw = await all();
  const { headers, folders, places, problems } = await readLibrary();
  expect(problems).toEqual([]);
  expect(headers.map((h) => [h.id, h.title, h.pages, h.takes.length, h.tagged]).sort()).toEqual([['note-ebb', before.title, 2, 1, true], ['note-lights', 'Lights and sectors', 1, 1, false]]);
  expect([folders.map((f) => f.name), places.map((p) => p.tags)]).toEqual([['Tides'], [['term 1']]]);
  expect((await readToday()).map((h) => h.title)).toEqual([before.title]);
  expect([(await readSettings()).leadIn, (await readTemplates()).map((t) => t.placed.length)]).toEqual([3, [2]]);
  expect((await readPieces('take-ebb', [0, 1])).flat().length).toBeGreaterThan(100);
  expect(await all()).toEqual(raw);
});

test('a note of before opens with everything it had; the title of another note goes from its links; a filled outline is an area', async () => {
  const { note, problems, newer } = await opening('note-ebb', BY);
  expect([problems, newer]).toEqual([[], null]);
  const { links: _, ...rest } = before;
  expect(note.header).toEqual({ ...rest, v: 2, state: note.header.state, links: [{ take: 'take-lights', note: 'note-lights' }] });
  const ink = Object.values(note.ink).flat();
  expect(ink.length).toBe(17);
  expect(ink.filter((s) => s.kind === 'area').map((a) => [a.id, (a as Area).fill, 'pen' in a])).toEqual([['s21', '#f6e3a8', false]]);
  expect(ink.find((s) => s.id === 's13')).toMatchObject({ second: true, stamp: { take: 'take-ebb', at: 5200 } });
  expect(ink.find((s) => s.id === 's12')).toMatchObject({ group: 'group-1', shape: { from: { to: 's11', u: 0.6 } } });
  // What could be taken back was written in another way: it is let go, and does not hinder.
  expect(await new HistoryFile('note-ebb').read(note)).toEqual({ undo: [], redo: [] });
});

test('written on, it is a note of today in one step; killed before that step it is the one of before', async () => {
  const { note, file } = await opening('note-ebb', BY);
  const edit: Edit = { rows: [put('bookmarks', 'page-1', {})] };
  const next = applyEdit(note, edit, BY).note;
  file.record(edit, next);
  const real = notesDb().setMany;
  notesDb().setMany = () => Promise.reject(new Error('killed'));
  await expect(file.flush()).rejects.toThrow('killed');
  notesDb().setMany = real;
  expect((await opening('note-ebb', BY)).note.header.bookmarks).toEqual(['page-2']);
  await file.close();
  const again = await opening('note-ebb', BY);
  expect(again.note).toEqual(next);
  expect(JSON.parse((await notesDb().getItem(keys.note('note-ebb')))!)).toMatchObject({ v: 2, pages: 2 });
  expect((await notesDb().getAllKeys()).filter((k) => k.startsWith(keys.rowsPrefix('note-ebb'))).length).toBe(1);
  expect(JSON.stringify(await notesDb().getMany((await notesDb().getAllKeys()).filter((k) => /^(note|rows)\/note-ebb/.test(k))))).not.toContain('Lights and sectors');
});

test('ink alone can be written first: the record of before stands until all rows are there', async () => {
  const { note, file } = await opening('note-ebb', BY);
  const it = note.ink['page-1'][0];
  const edit: Edit = { put: [{ ...it, id: 'new', wall: BY.now, s: undefined }] };
  file.record(edit, applyEdit(note, edit, BY).note);
  await file.flush();
  const again = await opening('note-ebb', BY);
  expect(again.note.header.headings).toEqual(before.headings);
  expect(again.note.ink['page-1'].map((s) => s.id)).toContain('new');
});

test('bundles and archives of before are read, written anew and read again', async () => {
  const bundle = await readBundle(new Uint8Array(readFileSync(path.join(DATA, 'ebb.scrivo'))));
  expect(bundle.note.header.headings).toEqual(before.headings);
  expect(Object.values(bundle.note.ink).flat().filter((s) => s.kind === 'area').length).toBe(1);
  const files = new Map([['extra/notes.txt', new TextEncoder().encode('of a later version')]]);
  const again = await readBundle(await writeBundle({ ...bundle, others: files }));
  expect(again.note).toEqual(bundle.note);
  expect([...again.others]).toEqual([...files]);
  await rawDbs().notes.clear();
  await rawDbs().sound.clear();
  const report = await restoreArchive(new Blob([readFileSync(path.join(DATA, 'library.zip'))]), { headers: [], folders: new Map(), places: {} }, enterAny, { packer: hereAndNow, signal: new AbortController().signal, progress: () => undefined }, BY);
  expect([report.brought.sort(), report.damaged, report.folders, report.templates]).toEqual([['Ebb and flood – tables', 'Lights and sectors'], [], 1, 1]);
  expect((await opening('note-ebb', BY)).note.header.marks).toEqual(before.marks);
  expect((await readPieces('take-ebb', [0, 1])).flat().length).toBeGreaterThan(100);
});

test('a note that a newer program wrote opens read only, says why, and no record of it is written', async () => {
  const { note, file } = await opening('note-ebb', BY);
  const edit: Edit = { rows: [put('bookmarks', 'page-1', {})] };
  file.record(edit, applyEdit(note, edit, BY).note);
  await file.close();
  for (const change of [
    (r: Record<string, string | null>) => ({ [keys.note('note-ebb')]: r[keys.note('note-ebb')]!.replace('"v":2', '"v":3') }),
    (r: Record<string, string | null>) => ({ [keys.rows('note-ebb', 0)]: r[keys.rows('note-ebb', 0)]!.replace('"v":2', '"v":7') }),
    () => ({ [keys.ink('note-ebb', 0)]: '{"v":9,"strokes":"otherwise"}\nxyz' }),
  ]) {
    const good = await all();
    await notesDb().setMany(change(good));
    const raw = await all();
    const opened = await opening('note-ebb', BY);
    expect(opened.newer).toMatch(/newer Scrivo/);
    expect([opened.note.header.title, opened.problems]).toEqual([before.title, []]);
    await opened.file.close();
    expect(await all()).toEqual(raw);
    expect((await readLibrary()).headers.map((h) => h.id)).toContain('note-ebb');
    expect(await all()).toEqual(raw);
    await notesDb().setMany(good as Record<string, string>);
  }
});

test('what was set aside is listed, can be tried again when it is whole, and comes back beside what is there', async () => {
  const good = (await notesDb().getItem(keys.ink('note-ebb', 0)))!;
  await notesDb().setItem(keys.ink('note-ebb', 0), good.replace('"s3"', '""'));
  expect((await opening('note-ebb', BY)).problems.join()).toMatch(/1 stroke/);
  await notesDb().setItem(keys.folder('bad'), 'spilt coffee');
  await readLibrary();
  const list = await listAside();
  expect(list.map((a) => [a.key, a.what, a.note])).toEqual([[keys.folder('bad'), 'a folder', null], [keys.ink('note-ebb', 0), 'ink of a note', 'note-ebb']]);
  expect(await retryAside(keys.folder('bad'))).toBeNull();
  // Whoever can mend it by hand, or a newer version that can read it, gets it back.
  await notesDb().setItem(keys.aside(keys.ink('note-ebb', 0)), good);
  const found = (await retryAside(keys.ink('note-ebb', 0))) as Incoming;
  const { note } = await opening('note-ebb', BY);
  expect([note.ink['page-1'].length, merge(note, found).edit.put!.map((s) => s.id)]).toEqual([10, ['s3']]);
});

describe.each(['v2', 'v3'])('records of %s (v2: the clock of a version as one number; v3: today’s, made on 2026-12-01)', (version) => {
  const folder = path.resolve(DATA, '..', version);
  const records = JSON.parse(readFileSync(path.join(folder, 'records.json'), 'utf8')) as Record<string, string>;
  beforeEach(async () => {
    await rawDbs().notes.clear();
    await rawDbs().notes.setMany(records);
  });

  test('are the same note, with the same versions, whichever program wrote it', async () => {
    const { note, problems } = await readNote('note-set');
    expect(problems).toEqual([]);
    expect([note.header.title, note.header.pages.map((p) => p.id), note.header.bookmarks, note.header.headings?.length]).toEqual(['Set and drift in the fairway', ['page-1', 'page-2'], undefined, 1]);
    expect(Object.values(note.ink).flat().map((s) => s.id).sort()).toEqual(['a2', 'heights', 'plain']);
    expect([...note.gone.keys()]).toEqual(['a1']);
    expect(note.rows.note.get('title')).toMatchObject({ s: [1_780_000_500_000, 1, 'phone', 1], v: { value: 'Set and drift in the fairway' } });
    expect(note.rows.bookmarks.get('page-2')).toMatchObject({ v: null, s: [1_780_000_900_000, expect.any(Number), 'tablet', expect.any(Number)] });
    const cells = (note.ink['page-1'].find((x) => x.id === 'heights') as unknown as { cells: ({ text: string } | null)[][] }).cells;
    expect(cells.map((row) => row.map((c) => c?.text ?? null))).toEqual([['HW', '4.4'], ['LW', null]]);
    // Two copies of a note say the same of themselves, by whatever program each was written.
    expect(note.header.state).toBe('834d476b1cfc86de');
    const bundle = await readBundle(new Uint8Array(readFileSync(path.join(folder, 'set.scrivo'))));
    expect(bundle.note.header.state).toBe(note.header.state);
  });

  test('are written anew and read again without a loss', async () => {
    const { file, note } = await opening('note-set', BY);
    const edit: Edit = { rows: [put('bookmarks', 'page-1', {})] };
    const next = applyEdit(note, edit, BY).note;
    file.record(edit, next);
    await file.close();
    // What it has seen counts a clock that is far ahead only while that is all there is.
    expect((await readNote('note-set')).note).toEqual({ ...next, seen: expect.anything() as unknown });
  });
});
