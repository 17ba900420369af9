/** Two devices that hand each other their backups, and a backup that is made while another tab writes. */
import 'fake-indexeddb/auto';
import { webcrypto } from 'node:crypto';
import { PointBuffer } from '../core/ink/points';
import { makeStroke } from '../core/ink/stroke';
import { hereAndNow } from '../core/formats/bundle';
import { readIndex, INDEX_NAME } from '../core/formats/archive';
import { ZipIn } from '../core/formats/zip';
import { applyEdit, drop, noteOf, put, type Edit, type Note } from '../core/note/edit';
import { keptOf } from '../core/note/kept';
import { newPage } from '../core/note/schema';
import { restoreArchive, writeArchive } from './archive';
import { checkpointsOf, readCheckpoint } from './checkpointFile';
import { keys, notesDb, rawDbs } from './databases';
import { readLibrary } from './libraryFile';
import { NoteFile, writeNewNote } from './noteFile';
import { readNote } from './noteReading';

Object.defineProperty(globalThis, 'crypto', { value: webcrypto, configurable: true });

const work = { packer: hereAndNow, signal: new AbortController().signal, progress: () => undefined };
const enter = (note: string) => Promise.resolve({ note, release: () => undefined });
const stroke = (id: string, wall: number, page = 'p') => {
  const b = new PointBuffer();
  b.add(1, wall % 200, 0.5, 0);
  b.add(5, (wall % 200) + 1, 0.5, 9);
  return makeStroke(b.points(), { id, page, pen: { kind: 'ball', color: '#16324f', width: 0.4 }, stamp: null, wall });
};
const first = () => noteOf({ v: 2, id: 'n', title: 'Tides', made: 1, changed: 1, pages: [newPage('p'), newPage('q')], takes: [], timeline: [] }, { p: [stroke('old', 1)] });

/** All that is on a device, and whose it is. */
interface Device {
  readonly name: string;
  readonly notes: Record<string, string>;
}
let on: Device | null = null;
/** Puts the present device away and takes another one up. */
async function take(device: Device): Promise<void> {
  const { notes, sound } = rawDbs();
  if (on) {
    for (const key of Object.keys(on.notes)) delete on.notes[key];
    Object.assign(on.notes, await notes.getMany(await notes.getAllKeys()));
  }
  await notes.clear();
  await sound.clear();
  if (Object.keys(device.notes).length) await notes.setMany(device.notes);
  on = device;
}
const by = (now: number) => ({ device: on!.name, now });

async function edit(now: number, make: (n: Note) => Edit): Promise<void> {
  const { file, note } = await NoteFile.openToWrite({ note: 'n' }, by(now));
  const change = make(note);
  file.record(change, applyEdit(note, change, by(now)).note);
  await file.close();
}
const backup = async () => {
  const { headers } = await readLibrary();
  return writeArchive({ notes: headers, folders: [], places: [], covers: {}, lock: null, templates: [] }, 99, work);
};
const restore = async (file: Blob, now: number) => restoreArchive(file, { headers: (await readLibrary()).headers, folders: new Map(), places: {} }, enter, work, by(now));
const ids = async () => Object.values((await readNote('n')).note.ink).flat().map((s) => s.id).sort();

beforeEach(async () => {
  on = null;
  await rawDbs().notes.clear();
  await rawDbs().sound.clear();
});

test('A restores B, then B restores A: each has what both wrote, whatever their clocks say', async () => {
  const [a, b]: Device[] = [{ name: 'a', notes: {} }, { name: 'b', notes: {} }];
  for (const d of [a, b]) {
    await take(d);
    await writeNewNote(first());
  }
  // Both change the same, at the same moment by their clocks.
  await take(a);
  await edit(5000, () => ({ put: [stroke('of-a', 4000)] }));
  await take(b);
  await edit(5000, () => ({ put: [stroke('of-b', 4000)] }));
  const ofB = (await backup()).blob;
  await take(a);
  expect((await restore(ofB, 6000)).updated).toEqual(['Tides']);
  const ofA = (await backup()).blob;
  await take(b);
  expect((await restore(ofA, 7000)).updated).toEqual(['Tides']);
  expect(await ids()).toEqual(['of-a', 'of-b', 'old']);
  // Now they are the same, and know it without opening anything.
  const again = (await backup()).blob;
  await take(a);
  expect((await restore(again, 8000)).same).toEqual(['Tides']);
  expect((await readLibrary()).headers[0].state).toBe((await readNote('n')).note.header.state);
});

test('after a merge a backup has another state to send, also when the time of the last change is the same', async () => {
  const a: Device = { name: 'a', notes: {} };
  await take(a);
  await writeNewNote(first());
  const stateOf = async (blob: Blob) => {
    const zip = await ZipIn.open(blob);
    return readIndex(new TextDecoder().decode(await zip.read(INDEX_NAME, 1e6))).notes[0];
  };
  const before = await stateOf((await backup()).blob);
  expect(before.state).toBe((await readLibrary()).headers[0].state);
  const { file, note } = await NoteFile.openToWrite({ note: 'n' });
  // As a merge brings it: with the time of where it comes from, which is earlier.
  const foreign: Edit = { put: [{ ...stroke('of-b', 4000), s: [4009, 0, 'b', 0] }], foreign: { changed: 1 } };
  file.record(foreign, applyEdit(note, foreign).note);
  await file.close();
  const after = await stateOf((await backup()).blob);
  expect([after.changed === before.changed, after.state === before.state]).toEqual([true, false]);
  expect((await readLibrary()).headers[0].state).toBe(after.state);
});

test('a note that was left in the middle of writing is known by what is on disk, not by its record', async () => {
  await take({ name: 'a', notes: {} });
  await writeNewNote(first());
  const { file, note } = await NoteFile.openToWrite({ note: 'n' }, by(5000));
  let next = note;
  for (const id of ['s1', 's2']) {
    const change = { put: [stroke(id, 4000)] };
    next = applyEdit(next, change, by(5000)).note;
    file.record(change, next);
    await file.flush();
  }
  // Killed here.
  const [header] = (await readLibrary()).headers;
  expect(header.state).toBe(next.header.state);
  expect(header.state).toBe((await readNote('n')).note.header.state);
  file.giveUp();
});

test('what two devices changed of one title is told by the restore, stands side by side, and one touch goes back to before it', async () => {
  const [a, b]: Device[] = [{ name: 'a', notes: {} }, { name: 'b', notes: {} }];
  for (const d of [a, b]) {
    await take(d);
    await writeNewNote(first());
  }
  await take(b);
  await edit(9000, () => ({ rows: [put('note', 'title', { value: 'Flood' })], cut: [{ id: 'old', page: 'p' }] }));
  const ofB = (await backup()).blob;
  await take(a);
  await edit(5000, () => ({ rows: [put('note', 'title', { value: 'Ebb' })], put: [stroke('of-a', 4000)] }));
  const before = (await readNote('n')).note;
  const report = await restore(ofB, 6000);
  expect(report.both).toEqual([{ note: 'n', title: 'Flood', what: ['the title'] }]);
  const merged = (await readNote('n')).note;
  expect(keptOf(merged)).toMatchObject([{ table: 'note', id: 'title', stands: { value: { value: 'Flood' } }, lost: { value: { value: 'Ebb' } } }]);
  expect((await readLibrary()).headers[0].kept).toBe(1);
  // Written since then: it stays.
  await edit(7000, () => ({ put: [stroke('later', 6500, 'q')] }));
  const [at] = await checkpointsOf('n');
  const back = (await readCheckpoint('n', at))!;
  await edit(8000, () => back);
  const { note } = await readNote('n');
  expect([note.header.title, Object.values(note.ink).flat().map((s) => s.id).sort(), keptOf(note)]).toEqual(['Ebb', ['later', 'of-a', 'old'], []]);
  expect(note.header.pages).toEqual(before.header.pages);
});

test('a returned file that claims to have seen what there never was empties nothing: what it deletes is kept, and there is a way back', async () => {
  await take({ name: 'mine', notes: {} });
  await writeNewNote(first());
  await edit(5000, () => ({ put: Array.from({ length: 20 }, (_, i) => stroke(`s${i}`, 4000 + i)) }));
  const { note } = await readNote('n');
  // The same note, all of it taken away by somebody who says to know more of this device than there is.
  let empty = note;
  const cut = Object.values(note.ink).flat().filter((s) => s.s);
  const lie: Edit = { cut: cut.map((s, i) => ({ id: s.id, page: s.page, s: [9e12, i, 'other', i] as const, past: { mine: 1e9 } })), foreign: { changed: 9e12 } };
  empty = applyEdit(empty, lie).note;
  const file = await hereAndNow.writeBundle({ note: empty, takes: new Map() });
  const report = await restore(file, 6000);
  expect(report.both[0].what.length).toBe(20);
  expect(report.ahead).toEqual(['Tides']);
  const [at] = await checkpointsOf('n');
  await edit(7000, () => ({ rows: [], cut: [], put: [] }));
  const back = (await readCheckpoint('n', at))!;
  await edit(8000, () => back);
  expect((await ids()).length).toBe(21);
});

test('a backup that opens a note while another tab writes it has it as it was at one moment, and writes nothing', async () => {
  await take({ name: 'a', notes: {} });
  const many = applyEdit(first(), { put: Array.from({ length: 9000 }, (_, i) => stroke(`s${i}`, 4000 + i)) }, { device: 'a', now: 20_000 }).note;
  await writeNewNote(many);
  const { file, note } = await NoteFile.openToWrite({ note: 'n' }, by(5000));
  // Between two of its batches the other tab takes a page away and gives the note another.
  const db = notesDb();
  const getMany = db.getMany.bind(db);
  let [batches, next] = [0, note];
  const spy = jest.spyOn(db, 'getMany').mockImplementation(async (wanted: string[]) => {
    const found = await getMany(wanted);
    if (batches++ === 0) {
      const change: Edit = { rows: [put('pages', 'new', { w: 100, h: 100, paper: newPage('x').paper, order: 'a5' }), drop('pages', 'q')], put: [stroke('on-new', 9000, 'new')], cut: [{ id: 's7', page: 'p' }] };
      next = applyEdit(next, change, by(30_000)).note;
      file.record(change, next);
      await file.flush();
    }
    return found;
  });
  const setMany = jest.spyOn(db, 'setMany');
  const read = await readNote('n');
  spy.mockRestore();
  expect(batches).toBeGreaterThan(2);
  expect(read.note.header.state).toBe(next.header.state);
  expect(read.note.header.pages.map((p) => p.id)).toEqual(['p', 'new']);
  expect(read.problems).toEqual([]);
  // One write: the other tab's own.
  expect(setMany).toHaveBeenCalledTimes(1);
  setMany.mockRestore();
  file.giveUp();
});

test('what cannot be read of a note is in the backup as it is, is said, and can be tried again where it is restored', async () => {
  await take({ name: 'a', notes: {} });
  await writeNewNote(applyEdit(first(), { put: Array.from({ length: 300 }, (_, i) => stroke(`s${i}`, 4000 + i)) }, { device: 'a', now: 5000 }).note);
  const key = keys.ink('n', 1);
  const good = (await notesDb().getItem(key))!;
  await notesDb().setItem(key, `{${good}`);
  const before = await rawDbs().notes.getMany(await rawDbs().notes.getAllKeys());
  const { blob, left, incomplete } = await backup();
  expect([left, incomplete.map((i) => [i.title, i.problems.length])]).toEqual([[], [['Tides', 1]]]);
  // Making it changed nothing.
  expect(await rawDbs().notes.getMany(await rawDbs().notes.getAllKeys())).toEqual(before);
  const b: Device = { name: 'b', notes: {} };
  await take(b);
  await restore(blob, 9000);
  expect((await ids()).length).toBe(301 - 128);
  expect(await notesDb().getItem(keys.aside(key))).toBe(`{${good}`);
  // A note of which not even the record can be read: all that there is of it goes along.
  await notesDb().setItem(keys.note('n'), 'not a record');
  const { headers } = await readLibrary();
  const whole = await writeArchive({ notes: [...headers, { ...first().header, pages: 1, first: newPage('p'), tagged: false, kept: undefined } as never], folders: [], places: [], covers: {}, lock: null, templates: [] }, 99, work);
  expect(whole.left).toEqual(['Tides']);
  const zip = await ZipIn.open(whole.blob);
  const raw = JSON.parse(new TextDecoder().decode(await zip.read('damaged/n.json', 1e8))) as Record<string, string>;
  expect(Object.keys(raw)).toEqual(expect.arrayContaining([keys.note('n'), keys.ink('n', 0)]));
});
