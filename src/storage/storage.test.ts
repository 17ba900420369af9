/** Storage on an IndexedDB of the test's own (fake-indexeddb), through the real AsyncStorage. */
import 'fake-indexeddb/auto';
import { createAsyncStorage } from '@react-native-async-storage/async-storage';
import { packetsEnd } from '../core/audio/pieces';
import type { Packet } from '../core/audio/opus';
import { applyEdit, noteOf, put, type Edit, type Note } from '../core/note/edit';
import { NEW_FORM, newPage, type NoteHeader } from '../core/note/schema';
import { finishedTakes } from '../core/note/takes';
import { MODEL } from '../core/reading/model';
import type { PageText } from '../core/reading/pageText';
import { PointBuffer } from '../core/ink/points';
import { makeStroke, type Stroke } from '../core/ink/stroke';
import { isQuotaError, keys, keysOf, keysStarting, notesDb, rawDbs, removeOwned, soundDb } from './databases';
import { keysOwnedBy } from './recordKinds';
import { makePicture } from '../core/note/kinds/picture';
import { noteRecord } from '../core/note/records/noteRecord';
import { RecordError } from '../core/record';
import { bringNote, deleteNotes, readLibrary } from './libraryFile';
import { letGo, writeContent } from './contentFile';
import { deviceName } from './deviceFile';
import { freeMadeAnew } from './sizes';
import { readNote } from './noteReading';
import { NoteFile, writeNewNote } from './noteFile';
import { DEFAULT_SETTINGS, patchSettings, readSettings } from './settingsFile';
import { layReserve, onReserveUsed } from './reserve';
import { writeTakeHeard } from './heardFile';
import { firstInk, writePicture } from './pictureFile';
import { writeNoteReview } from './reviewFile';
import { writeSeen } from './seenFile';
import { markRead, readNoteText, writeTextOf } from './textFile';
import { RetryingWriter, type SaveState } from './retryingWriter';
import { bringSound, readPieces, SoundFile, remainsOf, storedPieces } from './soundFile';
import { readTemplates, removeTemplate, storeTemplate } from './templateFile';

const opening = (id: string, by?: { device: string; now: number }) => NoteFile.openToWrite({ note: id }, by);

const stroke = (n: number): Stroke => {
  const buffer = new PointBuffer();
  for (let i = 0; i < 5; i++) buffer.add(n % 50, 10 + i, 0.5, i * 8);
  return makeStroke(buffer.points(), { id: `s${n}`, page: 'p', pen: { kind: 'ball', color: '#16324f', width: 0.4 }, stamp: { take: 't', at: n * 10 }, wall: 1000 + n });
};
const header = (id: string): NoteHeader => ({ v: 2, id, title: `Note ${id}`, made: 1, changed: 2, pages: [newPage('p')], takes: [], timeline: [] });

/** 60 ms SILK packets (RFC 6716, configuration 11). */
const packets = (from: number, n: number): Packet[] => Array.from({ length: n }, (_, i) => ({ t: from + 60 * i, data: Uint8Array.of(0x58, i & 255, 7) }));

const BY = { device: 'here', now: 5000 };
/** A new note on disk, open. */
async function opened(h: NoteHeader): Promise<{ note: Note; file: NoteFile }> {
  await writeNewNote(noteOf(h));
  return opening(h.id);
}

beforeEach(async () => {
  await rawDbs().notes.clear();
  await rawDbs().sound.clear();
});

test('what is recorded in a note file is there when it is opened, in as few records as its chunks', async () => {
  let { note, file } = await opened(header('a'));
  for (let n = 0; n < 300; n++) {
    const edit = { put: [stroke(n)] };
    note = applyEdit(note, edit, BY).note;
    file.record(edit, note);
  }
  await file.flush(true);
  expect((await notesDb().getAllKeys()).filter((k) => k.startsWith('ink/')).length).toBe(3);
  expect((await opening('a')).note).toEqual(note);

  // Erasing and bringing back ends where it began.
  const cut = { cut: [5, 200].map((n) => ({ id: `s${n}`, page: 'p' })) };
  const { note: less, inverse } = applyEdit(note, cut, BY);
  file.record(cut, less);
  await file.flush(true);
  expect((await opening('a')).note).toEqual(less);
  expect(less.gone.size).toBe(2);
  const back = applyEdit(less, inverse, BY).note;
  file.record(inverse, back);
  await file.flush(true);
  expect((await opening('a')).note).toEqual(back);
  expect(Object.values(back.ink).flat().map(({ s: _, ...rest }) => rest)).toEqual(Object.values(note.ink).flat().map(({ s: _, ...rest }) => rest));
});

test('a write that fails is told, kept, and made good', async () => {
  const { note, file } = await opened(header('b'));
  const edit: Edit = { rows: [put('note', 'title', { value: 'Neaps' })] };
  file.record(edit, applyEdit(note, edit, BY).note);
  const states: string[] = [];
  file.onState = (s) => states.push(s);
  const real = notesDb().setMany;
  notesDb().setMany = () => Promise.reject(new Error(''));
  await expect(file.flush()).rejects.toThrow();
  notesDb().setMany = real;
  await file.flush();
  await file.close();
  expect(states).toEqual(['failed', 'saved', 'saved']);
  expect((await opening('b')).note.header.title).toBe('Neaps');
  expect(isQuotaError(new Error(''))).toBe(true);
  expect(isQuotaError(new Error('The database connection is closing.'))).toBe(false);
});

test('another tab brings its copy up to what was written', async () => {
  const { note, file: writer } = await opened(header('c'));
  const first = applyEdit(note, { put: [stroke(1), stroke(2)] }, BY);
  writer.record({ put: [stroke(1), stroke(2)] }, first.note);
  await writer.flush(true);
  const follower = await opening('c');
  const written: string[] = [];
  writer.onWritten = (k) => written.push(...k);
  const edit: Edit = { put: [stroke(3)], cut: [{ id: 's1', page: 'p' }], rows: [put('note', 'title', { value: 'Renamed' })] };
  const second = applyEdit(first.note, edit, BY);
  writer.record(edit, second.note);
  await writer.flush();
  expect(applyEdit(follower.note, await follower.file.follow(written)).note).toEqual(second.note);
});

test('sound lies in pieces of five seconds and comes back in order; a damaged piece is told and empty', async () => {
  const file = new SoundFile('t');
  const all = packets(0, 200);
  for (let i = 0; i < all.length; i += 17) {
    file.add(all.slice(i, i + 17));
    await file.flush();
  }
  expect(await storedPieces('t')).toEqual([0, 1, 2]);
  expect((await readPieces('t', [0, 1, 2])).flat()).toEqual(all);
  expect((await remainsOf('t')).ms).toBe(packetsEnd(all));
  await soundDb().setItem(keys.piece('t', 1), 'rubbish');
  const damaged: number[] = [];
  expect((await readPieces('t', [1, 2, 9], (p) => damaged.push(p))).map((p) => p.length > 0)).toEqual([false, true, false]);
  expect(damaged).toEqual([1]);
  // With the last piece gone the length is what is left.
  await soundDb().removeMany([keys.piece('t', 2)]);
  expect((await remainsOf('t')).ms).toBe(packetsEnd(all.filter((p) => p.t < 5000)));
});

test('a take left running is closed with the length that is on disk, at the end of the timeline and nowhere else', async () => {
  const done = { id: 'first', name: 'Take 1', wall: 1, ms: 9000, state: 'done' as const, parts: [{ at: 0, wall: 1 }] };
  // The first take was cut; the second had been paused at 2 s, and what was recorded up to there was laid out then.
  const running: NoteHeader = { ...header('d'), takes: [done, { id: 'live', name: 'Take 2', wall: 5, ms: 2000, state: 'recording', parts: [{ at: 0, wall: 5 }] }], timeline: [{ take: 'first', from: 0, to: 4000 }, { take: 'first', from: 6000, to: 9000 }, { take: 'live', from: 0, to: 2000 }] };
  const sound = new SoundFile('live');
  sound.add(packets(0, 100));
  await sound.flush();
  const note = noteOf(running);
  const fixed = applyEdit(note, (await finishedTakes(note, remainsOf))!, BY).note;
  expect(fixed.header.takes[1]).toMatchObject({ state: 'done', ms: 6000 });
  expect(fixed.header.timeline).toEqual([{ take: 'first', from: 0, to: 4000, cut: true }, { take: 'first', from: 6000, to: 9000 }, { take: 'live', from: 0, to: 6000 }]);
  expect(await finishedTakes(fixed, remainsOf)).toBeNull();
});

test('deleting takes a note with its ink and sound and nothing of another', async () => {
  for (const id of ['e', 'f']) {
    const { note, file } = await opened({ ...header(id), takes: [{ id: `take-${id}`, name: 'Take 1', wall: 0, ms: 60, state: 'done', parts: [] }] });
    file.record({ put: [stroke(1)] }, applyEdit(note, { put: [stroke(1)] }, BY).note);
    await file.flush();
    const sound = new SoundFile(`take-${id}`);
    sound.add(packets(0, 3));
    await sound.flush();
  }
  await deleteNotes([(await readLibrary()).headers.find((h) => h.id === 'e')!]);
  expect((await notesDb().getAllKeys()).every((k) => !k.includes('/e'))).toBe(true);
  expect(await soundDb().getAllKeys()).toEqual(['take-f/000000']);
  expect((await opening('f')).note.ink.p).toHaveLength(1);
  await expect(opening('e')).rejects.toThrow('no such note');
});

test('settings come back, and unreadable ones give the defaults', async () => {
  expect(await readSettings()).toEqual(DEFAULT_SETTINGS);
  await patchSettings({ ...DEFAULT_SETTINGS, leadIn: 3.5 });
  expect((await readSettings()).leadIn).toBe(3.5);
  await notesDb().setItem(keys.settings, '{"leadIn": 99}');
  expect(await readSettings()).toEqual(DEFAULT_SETTINGS);
  await notesDb().setItem(keys.settings, 'x');
  expect(await readSettings()).toEqual(DEFAULT_SETTINGS);
});

test('settings and templates of two tabs stand beside each other, since each changes only what it changed', async () => {
  await patchSettings({ leadIn: 3.5 });
  await patchSettings({ leftHanded: true });
  const read = await readSettings();
  expect([read.leadIn, read.leftHanded]).toEqual([3.5, true]);
  const template = (id: string) => ({ id, name: `Log ${id}`, made: 1, form: NEW_FORM, placed: [] });
  await storeTemplate(template('one'));
  await storeTemplate(template('two'));
  expect((await readTemplates()).map((t) => t.id)).toEqual(['one', 'two']);
  await removeTemplate('one');
  expect((await readTemplates()).map((t) => t.id)).toEqual(['two']);
});

test('sound that another note took over after the list was read stays when the first note is deleted', async () => {
  const take = { id: 'take-shared', name: 'Take 1', wall: 1, ms: 600, state: 'done' as const, parts: [{ at: 0, wall: 1 }] };
  await writeNewNote(noteOf({ ...header('a'), takes: [take] }));
  const sound = new SoundFile('take-shared');
  sound.add(packets(0, 10));
  await sound.flush();
  const stale = (await readLibrary()).headers.find((h) => h.id === 'a')!;
  // Another tab makes a copy, which has the same take.
  await writeNewNote(noteOf({ ...header('copy'), takes: [take] }));
  // A note whose ink only points to that sound needs none of it.
  await writeNewNote(noteOf({ ...header('linked'), links: [{ take: 'take-shared', note: 'a' }] }));
  await deleteNotes([stale]);
  expect((await remainsOf('take-shared')).ms).toBe(600);
  await deleteNotes([(await readLibrary()).headers.find((h) => h.id === 'copy')!]);
  expect((await remainsOf('take-shared')).ms).toBe(0);
});

test('what is left undone is gone on with only under the hold on its note', async () => {
  await writeNewNote(noteOf(header('a')));
  await notesDb().setMany({ [keys.gone('a')]: JSON.stringify({ v: 1, note: 'a', takes: [] }) });
  const asked: string[] = [];
  // Another tab is at it.
  expect((await readLibrary((note) => (asked.push(note), Promise.resolve(null)))).headers.map((h) => h.id)).toEqual(['a']);
  let released = 0;
  expect((await readLibrary((note) => (asked.push(note), Promise.resolve({ note, release: () => void released++ })))).headers).toEqual([]);
  expect([asked, released]).toEqual([['a', 'a'], 1]);
  // A deletion that names another note than its key deletes nothing.
  await writeNewNote(noteOf(header('b')));
  await notesDb().setMany({ [keys.gone('c')]: JSON.stringify({ v: 1, note: 'b', takes: [] }) });
  expect((await readLibrary()).headers.map((h) => h.id)).toEqual(['b']);
});

test('sound that comes in under the name of a take that is here changes nothing of it: what is missing is added, and an end that goes on', async () => {
  const whole = packets(0, 250);
  const file = new SoundFile('t1');
  file.add(whole.slice(0, 120));
  await file.flush();
  const before = await readPieces('t1', [0, 1]);
  // Something else under the same name.
  const other = whole.map((p) => ({ t: p.t, data: Uint8Array.of(0x58, 99, 99) }));
  await bringSound('t1', other.slice(0, 120));
  expect(await readPieces('t1', [0, 1])).toEqual(before);
  // The same take, further on: the last piece here goes on, and the pieces after it come.
  await bringSound('t1', whole);
  expect((await readPieces('t1', [0, 1, 2])).flat()).toEqual(whole);
  // A new take comes as it is.
  await bringSound('t2', whole);
  expect((await readPieces('t2', [0, 1, 2])).flat()).toEqual(whole);
});

test('what belongs to some owners is found by how keys begin as by looking at all of them, also of kinds of later versions', async () => {
  await rawDbs().notes.clear();
  await rawDbs().sound.clear();
  const ids = ['a', 'a-1', 'ab', 'b', 'note', 'ink'];
  const notes = ids.flatMap((id) => [`note/${id}`, `ink/${id}/0`, `ink/${id}/11`, `rows/${id}/0`, `place/${id}`, `history/${id}/order`, `gone/${id}`, `hologram/${id}`, `hologram/${id}/3`, `aside/ink/${id}/4`, `aside/hologram/${id}/1`]);
  const sound = ids.flatMap((id) => [`${id}/000000`, `${id}/000012`, `heard/${id}`, `content/${id}/0`, `${id}/spectrum`, `aside/${id}/000001`, `aside/heard/${id}`]);
  await rawDbs().notes.setMany(Object.fromEntries([...notes, 'settings', 'today', 'vault', 'folder/a'].map((k) => [k, 'x'])));
  await rawDbs().sound.setMany(Object.fromEntries(sound.map((k) => [k, 'x'])));
  for (const owners of [['a'], ['ab', 'b'], ['note', 'ink'], ['nobody'], []].map((list) => new Set(list))) {
    for (const store of ['notes', 'sound'] as const) {
      const all = await rawDbs()[store].getAllKeys();
      const theirs = keysOwnedBy(store, all, owners).sort();
      expect([store, [...owners], await keysOf(store, owners)]).toEqual([store, [...owners], theirs]);
      // And goes by whole stretches, with nothing of anybody else.
      const kept = `gone/${[...owners][0]}`;
      await removeOwned(store, owners, new Set([kept]));
      expect([store, (await rawDbs()[store].getAllKeys()).sort()]).toEqual([store, all.filter((k) => k === kept || !theirs.includes(k)).sort()]);
      await rawDbs()[store].setMany(Object.fromEntries(all.map((k) => [k, 'x'])));
    }
  }
  expect(await keysStarting('notes', 'ink/a/')).toEqual(['ink/a/0', 'ink/a/11']);
  await rawDbs().notes.clear();
  await rawDbs().sound.clear();
});

const afterwards: (() => void)[] = [];
afterEach(() => afterwards.splice(0).forEach((f) => f()));

test('a full disk is none while there is a reserve: what waits is written in its room, once; who finds it full a moment later waits for the same room', async () => {
  const full = Object.assign(new Error(''), { name: 'QuotaExceededError' });
  const states: SaveState[] = [];
  let told = 0;
  onReserveUsed(() => void told++);
  let [room, waiting] = [false, true];
  const made = () => new RetryingWriter(1, () => (room ? Promise.resolve(void (waiting = false)) : Promise.reject(full)), () => waiting);
  const writer = made();
  const next = () => new Promise<SaveState>((resolve) => (writer.onState = (s) => (states.push(s), resolve(s))));
  await layReserve();
  const after = next();
  // Ink and sound at once, and sound once more before the browser counts the room as free.
  const sound = made();
  sound.onState = (s) => states.push(s);
  afterwards.push(() => writer.stop(), () => sound.stop());
  await Promise.all([expect(writer.flush()).rejects.toBe(full), expect(sound.flush()).rejects.toBe(full)]);
  await expect(sound.flush()).rejects.toBe(full);
  expect([told, states]).toEqual([1, []]);
  sound.stop();
  room = true;
  expect(await after).toBe('saved');
  // There is no other: now it is told.
  const clock = jest.spyOn(performance, 'now').mockReturnValue(performance.now() + 60_000);
  [room, waiting] = [false, true];
  const failed = next();
  await expect(writer.flush()).rejects.toBe(full);
  expect([await failed, told, states]).toEqual(['failed', 1, ['saved', 'failed']]);
  clock.mockRestore();
  writer.stop();
});

test('what was read of a note counts when it was stored as a whole, is whole, and is of this reader; else it is read anew, and never told wrongly', async () => {
  const text = (shown: string): PageText => ({ model: MODEL, words: {}, list: [{ key: null, shown, box: [0, 0, 9, 9], id: 's1', line: 0, stamp: null }] });
  const shown = async (state = 'five') => (await readNoteText('read', { state, changed: 5 }))?.map((p) => p.text.list?.[0].shown) ?? null;
  await notesDb().setItem(keys.note('read'), 'its record');
  // Killed between any two of its writes.
  await writeTextOf('read', 'p1', text('flood'));
  expect(await shown()).toBeNull();
  await writeTextOf('read', 'p2', text('ebb'));
  expect(await shown()).toBeNull();
  await markRead('read', { state: 'five', changed: 5 }, ['p1', 'p2']);
  expect(await shown()).toEqual(['flood', 'ebb']);
  // Another tab changed the note since, or has read a page of it anew.
  expect(await shown('six')).toBeNull();
  await writeTextOf('read', 'p2', text('ebbs'));
  expect(await shown()).toEqual(['flood', 'ebbs']);
  const key = keys.text('read', 'p2');
  const good = (await notesDb().getItem(key))!;
  for (const bad of ['', '{', '[]', good.slice(0, good.length - 9), good.replace('"v":1', '"v":9'), good.replace(MODEL, 'an older reader')]) {
    await notesDb().setItem(key, bad);
    expect([bad.slice(0, 30), await shown()]).toEqual([bad.slice(0, 30), null]);
  }
  await rawDbs().notes.removeItem(key);
  expect(await shown()).toBeNull();
  for (const bad of ['', 'null', '{"state":"five","changed":"5","pages":["p1"]}', '{"state":"five","changed":5}']) {
    await notesDb().setItem(keys.textOf('read'), bad);
    expect(await shown()).toBeNull();
  }
  // It goes with its note.
  await removeOwned('notes', new Set(['read']));
  expect((await notesDb().getAllKeys()).filter((k) => k.startsWith('text/read'))).toEqual([]);
});

test('a picture counts as one of the ink that was on disk when it was drawn, not of what was on its way there', async () => {
  let { note, file } = await opened(header('p'));
  const write = (n: number) => {
    const edit = { put: [stroke(n)] };
    note = applyEdit(note, edit, { ...BY, now: BY.now + n }).note;
    file.record(edit, note);
  };
  const drawn = async () => {
    const { of, texts } = await firstInk('p');
    return { state: of.state, ink: texts.join().includes('"s1"') };
  };
  const before = note.header.state;
  write(1);
  expect(await drawn()).toEqual({ state: before, ink: false });
  await file.flush(true);
  expect(await drawn()).toEqual({ state: note.header.state, ink: true });
  expect(note.header.state).not.toBe(before);
  await file.close();
});

test('what was being made of a note or a take while they were deleted for good leaves nothing behind', async () => {
  const made = () =>
    Promise.all([
      writeTextOf('gone', 'p1', { model: MODEL, words: {}, list: [] }),
      markRead('gone', { changed: 5 }, ['p1']),
      writeSeen('gone', { page: 'p1', x: 0, y: 0, zoom: null }),
      writeNoteReview('gone', { changed: 5, lag: null, share: 0, gaps: [], tagged: [] }),
      writePicture('gone', { of: { changed: 5 }, bytes: new Uint8Array([1, 2]) }),
      writeTakeHeard('gone', 'gone-take', { ms: 1000, by: 'levels', levels: new Uint8Array(50), speech: [] }),
    ]);
  const left = async () => [...(await notesDb().getAllKeys()), ...(await soundDb().getAllKeys())].filter((k) => k.includes('gone')).sort();
  await notesDb().setItem(keys.note('gone'), 'its record');
  await soundDb().setItem(keys.piece('gone-take', 0), 'its sound');
  // Others that begin with the same letters are not it.
  await notesDb().setItem(keys.note('gone-too'), 'its record');
  await soundDb().setItem(keys.piece('gone-take-too', 0), 'its sound');
  await made();
  expect(await left()).toEqual(['gone-take-too/000000', 'gone-take/000000', 'heard/gone-take', 'note/gone', 'note/gone-too', 'picture/gone', 'review/gone', 'seen/gone', 'text/gone', 'text/gone/p1']);
  await Promise.all([removeOwned('notes', new Set(['gone'])), removeOwned('sound', new Set(['gone-take']))]);
  await made();
  expect(await left()).toEqual(['gone-take-too/000000', 'note/gone-too']);
  // Also what comes between the look for what there is and the deletion itself.
  for (let steps = 0; steps < 40; steps++) {
    await notesDb().setItem(keys.note('gone'), 'its record');
    const going = removeOwned('notes', new Set(['gone']));
    for (let i = 0; i < steps; i++) await new Promise(setImmediate);
    await Promise.all([made(), going]);
    expect([steps, await left()]).toEqual([steps, ['gone-take-too/000000', 'note/gone-too']]);
  }
});

test('what is recorded is on disk within a second by itself, and so is the name of a picture that ink alone brings', async () => {
  const { note, file } = await opened(header('s'));
  const picture = makePicture({ id: 'pic', page: 'p', stamp: null, wall: 5, content: 'c'.repeat(64), px: [9, 9], m: [9, 0, 0, 9, 1, 1] });
  const edit = { put: [stroke(1), picture] };
  const next = applyEdit(note, edit, BY).note;
  const written = new Promise<void>((done) => (file.onWritten = () => done()));
  file.record(edit, next);
  await written;
  expect((await readNote('s')).note.header.state).toBe(next.header.state);
  expect((await readLibrary()).headers[0].contents).toEqual(['c'.repeat(64)]);
  // Taken back, it is named for as long as the step can be done again.
  const back = { cut: [{ id: 'pic', page: 'p' }] };
  const without = applyEdit(next, back, BY).note;
  file.record(back, without);
  await file.flush(true);
  expect([without.header.contents, (await readLibrary()).headers[0].contents]).toEqual([undefined, ['c'.repeat(64)]]);
  await file.close();
  expect((await readLibrary()).headers[0].contents).toBeUndefined();
});

test('a record that could not be read again is not written, and ink does not wait for it', async () => {
  const { note, file } = await opened(header('refused'));
  const edit = { put: [stroke(1)], rows: [put('note', 'title', { value: 'Neaps' })] };
  const refused = jest.spyOn(noteRecord, 'write').mockImplementation(() => {
    throw new RecordError('it would not be as Scrivo reads it');
  });
  const states: string[] = [];
  file.onState = (state) => void states.push(state);
  const next = applyEdit(note, edit, BY).note;
  file.record(edit, next);
  await expect(file.flush()).rejects.toBeInstanceOf(RecordError);
  expect(states.at(-1)).toBe('failed');
  const { note: read } = await readNote('refused');
  expect([read.ink.p.map((s) => s.id), read.header.title, read.header.state]).toEqual([['s1'], 'Neaps', next.header.state]);
  refused.mockRestore();
  await file.close();
  expect((await readLibrary()).headers[0]).toMatchObject({ title: 'Neaps', state: next.header.state });
});

test('this device has one name for good: it is read again, kept where a newer Scrivo wrote it, and found anew only where it cannot be read', async () => {
  const name = await deviceName();
  expect(name).toMatch(/^[\w-]{12}$/);
  expect(await deviceName()).toBe(name);
  const [key] = (await notesDb().getAllKeys()).filter((k) => k === keys.device);
  const text = (await notesDb().getItem(key))!;
  const newer = text.replace(/"v":\d+/, '"v":99');
  expect(newer).not.toBe(text);
  await notesDb().setItem(key, newer);
  expect([await deviceName(), await notesDb().getItem(key)]).toEqual([name, newer]);
  await notesDb().setItem(key, 'rubbish');
  const other = await deviceName();
  expect(other).not.toBe(name);
  expect(await deviceName()).toBe(other);
});

test('what is found again when it is needed makes room, all of it, and nothing else goes', async () => {
  await opened(header('a'));
  const made = Object.fromEntries(Array.from({ length: 600 }, (_, i) => [keys.picture(`x${i}`), 'a picture']));
  await notesDb().setMany(made);
  const before = (await notesDb().getAllKeys()).filter((k) => !(k in made)).sort();
  await freeMadeAnew();
  expect((await notesDb().getAllKeys()).sort()).toEqual(before.filter((k) => !k.startsWith(keys.picture(''))));
});

test('the reserve takes the room that it says, in text that no browser packs', async () => {
  await layReserve();
  const text = await createAsyncStorage('scrivo-reserve').getItem('reserve');
  expect(text!.length).toBeGreaterThanOrEqual(8_000_000);
  // What is said again lies farther back than a packer of 64 kB looks (snappy, format description, section 2).
  expect(text!.slice(0, 65_536)).not.toBe(text!.slice(65_536, 131_072));
});

test('a note from elsewhere that fails halfway leaves nothing of itself, its sound and its files; one that does not fail stays', async () => {
  const hash = await writeContent(Uint8Array.of(1, 2, 3));
  await letGo([hash]);
  const foreign = (id: string) => noteOf({ ...header(id), takes: [{ id: `take-${id}`, name: 'Take 1', wall: 0, ms: 60, state: 'done', parts: [{ at: 0, wall: 0 }] }] }, { p: [makePicture({ id: `pic-${id}`, page: 'p', stamp: null, wall: 5, content: hash, px: [9, 9], m: [9, 0, 0, 9, 1, 1] })] });
  const rest = async (id: string) => {
    await writeContent(Uint8Array.of(1, 2, 3));
    await bringSound(`take-${id}`, packets(0, 100));
  };
  const failing = bringNote(foreign('a'), async () => {
    await rest('a');
    throw new Error('torn');
  });
  await expect(failing).rejects.toThrow('torn');
  expect([(await notesDb().getAllKeys()).filter((k) => !k.startsWith('device')), await soundDb().getAllKeys()]).toEqual([[], []]);
  await bringNote(foreign('b'), () => rest('b'));
  expect((await readLibrary()).headers.map((h) => h.id)).toEqual(['b']);
  expect((await notesDb().getAllKeys()).filter((k) => k.startsWith('gone/'))).toEqual([]);
  expect((await readPieces('take-b', [0, 1])).flat()).toHaveLength(100);
});

test('a setting that was changed in the last moment of a visit holds in the next: it is kept where the browser takes it at once', async () => {
  const kept = new Map<string, string>();
  Object.defineProperty(globalThis, 'localStorage', { configurable: true, value: { getItem: (k: string) => kept.get(k) ?? null, setItem: (k: string, v: string) => void kept.set(k, v), removeItem: (k: string) => void kept.delete(k) } });
  try {
    await patchSettings({ leadIn: 2 });
    expect(kept.size).toBe(0);
    // The visit ends before storage has answered.
    const never = jest.spyOn(notesDb(), 'setItem').mockReturnValue(new Promise(() => undefined));
    void patchSettings({ speed: 2 });
    expect(await readSettings()).toMatchObject({ leadIn: 2, speed: 2 });
    never.mockRestore();
    // Something absurd there costs nothing, and a later change stands over it.
    kept.set('scrivo-settings-pending', '{"speed":"fast","leadIn":[],"theme":"dark"}');
    expect(await readSettings()).toMatchObject({ leadIn: 2, speed: DEFAULT_SETTINGS.speed, theme: 'dark' });
    await patchSettings({ theme: 'light' });
    expect((await readSettings()).theme).toBe('light');
    kept.set('scrivo-settings-pending', 'torn');
    expect((await readSettings()).theme).toBe('light');
  } finally {
    Object.defineProperty(globalThis, 'localStorage', { configurable: true, value: undefined });
  }
});
