/** The lock on storage: what is locked cannot be read without the passphrase, and comes back as it was, whenever the program ends. */
import 'fake-indexeddb/auto';
import { webcrypto } from 'node:crypto';
import { PointBuffer } from '../core/ink/points';
import { makeStroke, type Stroke } from '../core/ink/stroke';
import { hereAndNow } from '../core/formats/bundle';
import { unfiled } from '../core/library/folder';
import { copiedNote } from '../core/note/copy';
import { applyEdit, noteOf, put as putRow, type Edit } from '../core/note/edit';
import { newPage, type NoteHeader } from '../core/note/schema';
import { MODEL } from '../core/reading/model';
import { deriveKey, type Derive } from '../core/vault/passphrase';
import { importKey, isSealed } from '../core/vault/seal';
import { coverOf, newVault, unlock, vaultOf, WrongPassphrase, type Vault } from '../core/vault/vault';
import { withPassword } from '../core/note/pages';
import { bundleOf, restoreArchive, writeArchive } from './archive';
import { learnedGoWith, learnedWords, learnWord } from './learnedFile';
import { readContent } from './contentFile';
import { keys, notesDb, rawDbs } from './databases';
import { deleteNotes, readLibrary, writeFolders, writePlaces } from './libraryFile';
import { HistoryFile } from './historyFile';
import { NoteFile, replaceNote, writeNewNote } from './noteFile';
import { readPicture, writePicture } from './pictureFile';
import { writeTakeHeard } from './heardFile';
import { LockedError, NO_LOCK, policy } from './sealing';
import { markRead, readNoteText, readTextOf, writeTextOf } from './textFile';
import { SoundFile, readPieces, writeSound } from './soundFile';
import { beginVault, changePassphrase, closeVault, coverCame, coverNew, finishSealing, keepCovers, loadVault, openVault, removeVault, sealNotes, sealTake, sealWhole, TooSoon, unsealNotes } from './vaultFile';
import { killAfter } from '../../tests/helpers/killed';

const opening = (id: string, by?: { device: string; now: number }) => NoteFile.openToWrite({ note: id }, by);

/** Nobody else has any note. */
const enterAny = (note: string) => Promise.resolve({ note, release: () => undefined });

Object.defineProperty(globalThis, 'crypto', { value: webcrypto, configurable: true });

/** The key derivation itself, with less memory: the parameters in use are held against a reference in the core. */
const derive = (passphrase: string, how: Derive) => deriveKey(passphrase, { ...how, memory: 8192, passes: 1, lanes: 1 });
const PASS = 'north cardinal 9';
const SECRETS = ['Dredging contract', 'confidential', 'soundings'];

const stroke = (id: string, page: string): Stroke => {
  const buffer = new PointBuffer();
  for (let i = 0; i < 6; i++) buffer.add(20 + i, 30 + (i % 3), 0.5, i * 9);
  return makeStroke(buffer.points(), { id, page, pen: { kind: 'ball', color: '#16324f', width: 0.4 }, stamp: { take: 'take1', at: 120 }, wall: 1000 });
};
const take = (id: string) => ({ id, name: 'Take 1', wall: 5, ms: 8000, state: 'done' as const, parts: [{ at: 0, wall: 5 }] });
const headerA: NoteHeader = { v: 2, id: 'a', title: SECRETS[0], made: 1, changed: 10, pages: [newPage('a-p')], takes: [take('take1')], timeline: [{ take: 'take1', from: 0, to: 8000 }] };
const headerB: NoteHeader = { v: 2, id: 'b', title: 'Buoyage', made: 1, changed: 20, pages: [newPage('b-p')], takes: [take('take2')], timeline: [], links: [{ take: 'take1', note: 'a' }] };
const packets = Array.from({ length: 400 }, (_, i) => ({ t: i * 20, data: Uint8Array.of(0xf8, i & 255, 7, 9, i >> 3) }));
const BY = { device: 'here', now: 100 };
const work = () => ({ packer: hereAndNow, signal: new AbortController().signal, progress: () => undefined });
const raw = async (): Promise<Map<string, string>> => {
  const { notes, sound } = rawDbs();
  const all = [...Object.entries(await notes.getMany(await notes.getAllKeys())), ...Object.entries(await sound.getMany(await sound.getAllKeys()))];
  return new Map(all.filter(([key]) => !key.startsWith('vault')).sort() as [string, string][]);
};
/** Records of the locked note: all that say anything of it. */
const isOfA = (key: string) => /^(aside\/)?(note|rows|ink|history|review|picture|place|text|unheard-of)\/a(\/|$)/.test(key) || /^(heard\/)?take1(\/|$)/.test(key);

let vault: Vault;
async function fill(): Promise<void> {
  const strokes = Array.from({ length: 300 }, (_, i) => stroke(`a-s${i}`, 'a-p'));
  await replaceNote({ note: headerA.id }, noteOf(headerA, { 'a-p': strokes.sort((x, y) => (x.id < y.id ? -1 : 1)) }));
  await replaceNote({ note: headerB.id }, noteOf(headerB, { 'b-p': [stroke('b-s', 'b-p')] }));
  // A kind of record that this version does not know is sealed with its note.
  await rawDbs().notes.setItem('unheard-of/a/3', SECRETS[2]);
  await writeSound('take1', packets);
  await writeSound('take2', packets);
  await notesDb().setMany({ [keys.review('a')]: `{"tags":"${SECRETS[1]}"}`, [keys.aside('ink/a/7')]: SECRETS[2] });
  await rawDbs().sound.setItem(keys.heard('take1'), 'levels and speech');
  // What was read of its ink, and that it was read as a whole.
  await writeTextOf('a', 'a-p', { model: MODEL, words: {}, list: [{ key: null, shown: SECRETS[2], box: [0, 0, 9, 9], id: 'a-s1', line: 0, stamp: null }] });
  await markRead('a', { changed: 10 }, ['a-p']);
  await writePicture('a', { of: { changed: 10 }, bytes: Uint8Array.of(1, 2, 3) });
  await writePlaces([{ ...unfiled('a'), tags: [SECRETS[1]], changed: 3 }, { ...unfiled('b'), changed: 3 }]);
  await new HistoryFile('a').write({ undo: [{ put: strokes.slice(0, 3), rows: [putRow('note', 'title', { value: SECRETS[0] })] }], redo: [] }, noteOf(headerA, { 'a-p': strokes }));
}
async function setUp(): Promise<void> {
  const made = await newVault(PASS, 'a mark', derive);
  await beginVault(made.vault, made.keyBytes);
  vault = made.vault;
}
const lockA = (hidden = true) => sealNotes(vault, [coverOf(headerA, undefined, hidden)], [headerA], work());

beforeEach(async () => {
  await rawDbs().notes.clear();
  await rawDbs().sound.clear();
  await loadVault();
  closeVault();
  await fill();
});

test('of a locked note nothing can be read in storage, and all of it with the passphrase', async () => {
  const before = await raw();
  const { note } = await opening('a');
  await setUp();
  await lockA();
  closeVault();
  const sealed = await raw();
  for (const [key, text] of sealed) expect([key, isSealed(text)]).toEqual([key, isOfA(key)]);
  expect([...sealed.keys()].filter((k) => isOfA(k)).length).toBeGreaterThan(9);
  const everything = JSON.stringify([...sealed]);
  for (const secret of SECRETS) expect(everything).not.toContain(secret);
  await loadVault();
  const shut = await readLibrary();
  expect(shut.headers.map((h) => h.id)).toEqual(['b']);
  expect(shut.places.map((p) => p.note)).toEqual(['b']);
  expect(shut.covers).toMatchObject([{ id: 'a', title: null, takes: ['take1'] }]);
  await expect(opening('a')).rejects.toBeInstanceOf(LockedError);
  await expect(readPieces('take1', [0])).rejects.toBeInstanceOf(LockedError);
  await expect(readTextOf('a', 'a-p')).rejects.toBeInstanceOf(LockedError);
  // As if it had never been read, and what would be read of it is not stored.
  await expect(writeTextOf('a', 'a-p', { model: MODEL, words: {} })).rejects.toBeInstanceOf(LockedError);
  await expect(readPicture('a')).rejects.toBeInstanceOf(LockedError);
  // Nor is anything of it stored readable behind the lock's back.
  await expect(replaceNote({ note: headerA.id }, noteOf(headerA))).rejects.toBeInstanceOf(LockedError);
  await expect(writeSound('take1', packets)).rejects.toBeInstanceOf(LockedError);
  expect(await raw()).toEqual(sealed);

  await openVault(PASS, derive, 0);
  await readLibrary();
  expect((await opening('a')).note).toEqual(note);
  expect((await readPieces('take1', [0]))[0][3]).toEqual(packets[3]);
  expect((await readPicture('a'))?.bytes).toEqual(Uint8Array.of(1, 2, 3));
  expect((await readNoteText('a', { changed: 10 }))?.map((p) => p.text.list?.[0].shown)).toEqual([SECRETS[2]]);
  expect((await new HistoryFile('a').read(note)).undo.length).toBe(1);
  await unsealNotes(vault, ['a'], [headerA, headerB], work());
  expect(await raw()).toEqual(before);
});

test('what is written while the lock is open is sealed from its first moment', async () => {
  await setUp();
  await lockA();
  const { file, note } = await opening('a');
  const edit: Edit = { put: [stroke('new', 'a-p')], rows: [putRow('note', 'title', { value: 'Dredging contract, signed' })] };
  file.record(edit, applyEdit(note, edit, BY).note);
  await file.close();
  sealTake('a', 'take3');
  const sound = new SoundFile('take3');
  sound.add(packets);
  await sound.flush();
  const hash = await (await opening('a')).file.keep(Uint8Array.of(9, 8, 7));
  const copy = copiedNote(note, 'A copy', 30, () => 'copy');
  await writeNewNote(copy, 'a');
  for (const [key, text] of await raw()) if (/^(note|rows|ink)\/(a|copy)|take3/.test(key) || key === keys.content(hash, 0)) expect([key, isSealed(text)]).toEqual([key, true]);
  expect(await readContent(hash)).toEqual(Uint8Array.of(9, 8, 7));
  closeVault();
  await loadVault();
  expect((await readLibrary()).covers.map((c) => [c.id, c.title]).sort()).toEqual([['a', null], ['copy', null]]);
});

test('everything locked: no record but the lock itself can be read, and it all comes back', async () => {
  const before = await raw();
  await setUp();
  await lockA(false);
  vault = await sealWhole(vault, true, work());
  closeVault();
  for (const [key, text] of await raw()) expect([key, isSealed(text)]).toEqual([key, true]);
  expect((await loadVault())?.whole).toBe(true);
  await expect(readLibrary()).rejects.toBeInstanceOf(LockedError);
  vault = await openVault(PASS, derive, 0);
  expect((await readLibrary()).headers.length).toBe(2);
  vault = await sealWhole(vault, false, work());
  const { headers, covers } = await readLibrary();
  expect(covers[0].title).toBe(SECRETS[0]);
  expect(headers.length).toBe(2);
  // A take that no note names any more is opened too: with the key it would be lost.
  await rawDbs().notes.removeMany([keys.note('b')]);
  vault = await sealWhole(vault, true, work());
  await removeVault(vault, work());
  before.delete(keys.note('b'));
  expect(await raw()).toEqual(before);
});

test('removing the lock opens sound of a locked note whose header is beyond reading, before the key goes', async () => {
  const before = await raw();
  await setUp();
  await lockA();
  await rawDbs().notes.removeMany([keys.note('a')]);
  await readLibrary();
  await removeVault(vault, work());
  before.delete(keys.note('a'));
  expect(await raw()).toEqual(before);
});

test('a wrong passphrase opens nothing and makes the next one wait, also over a reload', async () => {
  await setUp();
  await lockA();
  closeVault();
  await expect(openVault('north cardinal 8', derive, 1000)).rejects.toBeInstanceOf(WrongPassphrase);
  expect(policy.current.key).toBeNull();
  await expect(openVault(PASS, derive, 1500)).rejects.toBeInstanceOf(TooSoon);
  await expect(openVault('north', derive, 2001)).rejects.toBeInstanceOf(WrongPassphrase);
  expect(await loadVault()).toMatchObject({ wrong: 2, notBefore: 4001 });
  expect(await openVault(PASS, derive, 4002)).toMatchObject({ wrong: 0 });
  expect(await loadVault()).toMatchObject({ wrong: 0 });
  vault = await changePassphrase(vault, 'south cardinal 6', '', derive);
  closeVault();
  await expect(openVault(PASS, derive, 9000)).rejects.toBeInstanceOf(WrongPassphrase);
  await openVault('south cardinal 6', derive, 99_000);
  await readLibrary();
  expect((await opening('a')).note.header.title).toBe(SECRETS[0]);
});

test('the record of the lock is there twice; a damaged sealed record costs what is in it and nothing else', async () => {
  await setUp();
  await lockA();
  closeVault();
  await rawDbs().notes.setItem(keys.vault, 'spilt coffee');
  // Nor does another take its place, whatever state it is in.
  const other = await newVault('south cardinal 6', '', derive);
  await expect(beginVault(other.vault, other.keyBytes)).rejects.toBeInstanceOf(LockedError);
  const chunk = await rawDbs().notes.getItem(keys.ink('a', 1));
  await rawDbs().notes.setItem(keys.ink('a', 1), `${chunk!.slice(0, 60)}?${chunk!.slice(61)}`);
  await openVault(PASS, derive, 0);
  await readLibrary();
  const { note, problems } = await opening('a');
  expect(Object.values(note.ink).flat().length).toBe(300 - 128);
  expect(problems.join()).toMatch(/set aside/);
  expect((await raw()).has(keys.aside(keys.ink('a', 1)))).toBe(true);
});

test('sound that a locked note has stays when another note with it is deleted for good; its hidden title is in no link', async () => {
  await replaceNote({ note: headerB.id }, noteOf({ ...headerB, takes: [take('take1'), take('take2')] }));
  await setUp();
  await lockA();
  // A link names the note and not its title: what is hidden stands nowhere else.
  expect((await opening('b')).note.header.links).toEqual([{ take: 'take1', note: 'a' }]);
  expect(JSON.stringify([...(await raw())])).not.toContain(SECRETS[0]);
  closeVault();
  await loadVault();
  const shut = await readLibrary();
  await deleteNotes([shut.headers[0]]);
  expect(JSON.stringify([...await raw()])).not.toContain(SECRETS[0]);
  await openVault(PASS, derive, 0);
  await readLibrary();
  expect((await readPieces('take1', [0]))[0].length).toBeGreaterThan(100);
  expect((await readPieces('take2', [0]))[0].length).toBe(0);
});

/** Another device: nothing stored, nothing unlocked. */
async function fresh(): Promise<void> {
  await rawDbs().notes.clear();
  await rawDbs().sound.clear();
  closeVault();
  await loadVault();
}
const empty = { headers: [], folders: new Map(), places: {} };

test('locked notes leave the device sealed only, and open elsewhere with their passphrase', async () => {
  const { note } = await opening('a');
  await setUp();
  await lockA();
  const { headers, folders, places, covers } = await readLibrary();
  const byId = Object.fromEntries(covers.map((c) => [c.id, c]));
  const { blob, left } = await writeArchive({ notes: headers, folders, places, covers: byId, lock: vault, templates: [] }, 99, work());
  expect(left).toEqual([]);
  const file = Buffer.from(await blob.arrayBuffer());
  for (const secret of SECRETS) expect([secret, file.includes(secret)]).toEqual([secret, false]);

  // Without the passphrase the other note is restored and this one named.
  await fresh();
  const without = await restoreArchive(blob, empty, enterAny, work(), BY);
  expect(without.brought).toEqual(['Buoyage']);
  expect(without.damaged).toEqual([{ what: '“Locked note”', why: 'it is locked, and what it was locked with was not given' }]);
  expect([...(await raw()).keys()].filter(isOfA)).toEqual([]);

  // With it, on a device that takes the lock over: all is there, and sealed from its first record.
  await fresh();
  const report = await restoreArchive(blob, empty, enterAny, work(), BY, async (lock) => {
    expect(lock).toEqual({ id: vault.id, derive: vault.derive, wrapped: vault.wrapped, hint: vault.hint });
    await expect(unlock(lock, 'north', derive)).rejects.toBeInstanceOf(WrongPassphrase);
    const bytes = await unlock(lock, PASS, derive);
    await beginVault(vaultOf(lock), bytes);
    return importKey(bytes);
  });
  expect(report.damaged).toEqual([]);
  for (const [key, text] of await raw()) if (isOfA(key)) expect([key, isSealed(text)]).toEqual([key, true]);
  const back = await readLibrary();
  expect(back.covers).toMatchObject([{ id: 'a', title: null }]);
  expect(back.places.find((p) => p.note === 'a')?.tags).toEqual([SECRETS[1]]);
  expect((await opening('a')).note).toEqual(note);
  expect((await readPieces('take1', [0, 1])).flat().length).toBe(400);

  // A sealed bundle that was put in the place of another does not open.
  await fresh();
  const wrong = await restoreArchive(blob, empty, enterAny, work(), BY, () => importKey(new Uint8Array(32)));
  expect(wrong.damaged.map((d) => d.why)).toEqual(['it does not open with this passphrase', 'they do not open with this passphrase, or were damaged']);
});

test('another lock set up in another tab: the old key seals nothing more, and what is left sealed by it costs the library nothing', async () => {
  await setUp();
  await lockA();
  const left = (await rawDbs().notes.getItem(keys.place('a')))!;
  const { headers } = await readLibrary();
  await unsealNotes(vault, ['a'], headers, work());
  // Elsewhere the lock is removed and another set up; a place was written here a moment too late.
  const other = await newVault('south cardinal 6', '', derive);
  await rawDbs().notes.setMany({ [keys.vault]: JSON.stringify(other.vault), [keys.vaultCopy]: JSON.stringify(other.vault), [keys.place('a')]: left });
  await loadVault();
  expect(policy.current).toMatchObject({ lock: other.vault.id, key: null });
  const library = await readLibrary();
  expect(library.headers.map((h) => h.id).sort()).toEqual(['a', 'b']);
  expect(library.places.map((p) => p.note)).toEqual(['b']);
  // Without any lock the record is damaged, which is told, and it is set aside.
  await rawDbs().notes.removeMany([keys.vault, keys.vaultCopy]);
  await loadVault();
  expect((await readLibrary()).problems.join()).toMatch(/Where a note lies could not be read/);
  expect(await rawDbs().notes.getItem(keys.aside(keys.place('a')))).toBe(left);
});

test.each(['locking', 'unlocking', 'locking everything', 'unlocking everything'] as const)('killed at any step of %s, every note is whole, and what was begun is brought to its end', async (what) => {
  const { note } = await opening('a');
  await setUp();
  if (what.startsWith('unlocking')) await lockA();
  if (what === 'unlocking everything') vault = await sealWhole(vault, true, work());
  const from = { vault, raw: await raw(), policy: policy.current };
  for (let step = 0; step < 40; step++) {
    await rawDbs().notes.clear();
    await rawDbs().sound.clear();
    const soundKey = (k: string) => /^(heard\/)?take\d/.test(k);
    await rawDbs().notes.setMany(Object.fromEntries([...from.raw].filter(([k]) => !soundKey(k)).concat([[keys.vault, JSON.stringify(from.vault)], [keys.vaultCopy, JSON.stringify(from.vault)]])));
    await rawDbs().sound.setMany(Object.fromEntries([...from.raw].filter(([k]) => soundKey(k))));
    policy.current = from.policy;
    const revive = killAfter(Object.values(rawDbs()), step);
    const done = await (what === 'locking' ? lockA() : what === 'unlocking' ? unsealNotes(from.vault, ['a'], [headerA, headerB], work()) : sealWhole(from.vault, what === 'locking everything', work())).then(() => true, () => false);
    revive();
    // The next visit.
    closeVault();
    await loadVault();
    const opened = await openVault(PASS, derive, 0);
    await readLibrary();
    if (opened.unfinished) await finishSealing(opened, work());
    const again = await opening('a');
    expect([step, again.problems]).toEqual([step, []]);
    expect(again.note).toEqual(note);
    expect((await readPieces('take1', [0, 1])).flat().length).toBe(400);
    const stored = await raw();
    const locked = policy.current.whole || policy.current.notes.has('a');
    for (const [key, text] of stored) if (isOfA(key)) expect([step, key, isSealed(text)]).toEqual([step, key, locked]);
    expect([step, done]).not.toEqual([0, true]);
    if (done) break;
    expect(step).toBeLessThan(39);
  }
}, 300_000);

/** A picture that an open note had first lies open on disk; what a locked note has lies sealed. */
const PICTURE = Uint8Array.from({ length: 3000 }, (_, i) => (i * 7) & 255);
const openContents = async () => [...(await raw())].filter(([key, text]) => key.startsWith('content/') && !isSealed(text)).map(([key]) => key);
const showing = (page: string, content: string): Edit => ({ rows: [putRow('pages', page, { ...newPage(page), id: undefined, order: 'a0', backdrop: { content } } as never)] });

test('a picture that an open note had first is sealed as soon as a locked note has it too: kept there, or restored into it', async () => {
  const b = await opening('b', BY);
  const hash = await b.file.keep(PICTURE);
  b.file.record(showing('b-p', hash), applyEdit(b.note, showing('b-p', hash), BY).note);
  await b.file.close();
  expect((await openContents()).length).toBe(1);
  await setUp();
  await lockA();
  const a = await opening('a', BY);
  expect(await a.file.keep(PICTURE)).toBe(hash);
  a.file.record(showing('a-p', hash), applyEdit(a.note, showing('a-p', hash), BY).note);
  await a.file.flush();
  expect(await openContents()).toEqual([]);
  // Its cover knows of it from the same step on: while the lock is closed nobody lets go of what only it has.
  closeVault();
  await deleteNotes([{ id: 'b', takes: [], contents: [hash] }]);
  await openVault(PASS, derive, 0);
  expect(await readContent(hash)).toEqual(PICTURE);
  await a.file.close();
});

test('a locked note that comes from elsewhere seals what lay open here before: its pictures and its sound', async () => {
  await setUp();
  await lockA();
  const a = await opening('a', BY);
  const hash = await a.file.keep(PICTURE);
  a.file.record(showing('a-p', hash), applyEdit(a.note, showing('a-p', hash), BY).note);
  await a.file.close();
  const { headers, folders, places, covers } = await readLibrary();
  const { blob } = await writeArchive({ notes: headers.filter((h) => h.id === 'a'), folders, places, covers: Object.fromEntries(covers.map((c) => [c.id, c])), lock: vault, templates: [] }, 9, work());
  // Another device: an open note there has the same picture and the same take.
  await rawDbs().notes.clear();
  await rawDbs().sound.clear();
  closeVault();
  await loadVault();
  await replaceNote({ note: 'c' }, noteOf({ ...headerB, id: 'c', pages: [newPage('c-p')], takes: [take('take1')] }));
  const c = await opening('c', BY);
  await c.file.keep(PICTURE);
  c.file.record(showing('c-p', hash), applyEdit(c.note, showing('c-p', hash), BY).note);
  await c.file.close();
  await writeSound('take1', packets);
  expect((await openContents()).length).toBe(1);
  const here = await readLibrary();
  await restoreArchive(blob, { headers: here.headers, folders: new Map(), places: {} }, enterAny, work(), BY, async (lock) => {
    const bytes = await unlock(lock, PASS, derive);
    await beginVault(vaultOf(lock), bytes);
    return importKey(bytes);
  });
  const open = [...(await raw())].filter(([key, text]) => /^(content\/|take1\/)/.test(key) && !isSealed(text)).map(([key]) => key);
  expect(open).toEqual([]);
  expect(await readContent(hash)).toEqual(PICTURE);
});

test('a tab that does not know yet that a note was locked writes nothing of it in the open', async () => {
  await setUp();
  // Another tab locked it: its cover stands, and this tab's policy is of before.
  await rawDbs().notes.setItem(keys.cover('a'), '{"v":1}');
  await rawDbs().sound.removeMany([keys.heard('take1')]);
  const before = await raw();
  await writeTextOf('a', 'a-p', { model: MODEL, words: {}, list: [] });
  await markRead('a', { changed: 11 }, ['a-p']);
  await writePicture('a', { of: { changed: 11 }, bytes: Uint8Array.of(9) });
  const heard = { ms: 1000, by: 'levels', levels: new Uint8Array(50), speech: [] } as const;
  await writeTakeHeard('a', 'take1', heard);
  expect(await raw()).toEqual(before);
  // Nor where a lock was set up that this tab knows nothing of: it may be for everything.
  policy.current = NO_LOCK;
  await writeTextOf('b', 'b-p', { model: MODEL, words: {}, list: [] });
  await writeTakeHeard('b', 'take1', heard);
  expect(await raw()).toEqual(before);
});

test('a tab that knows an older state of the lock learns it before it writes a note: locked by another tab, set up by another tab, taken off by another tab', async () => {
  const open = { ...policy.current };
  await setUp();
  const before = { ...policy.current };
  await lockA();
  const now = { ...policy.current };
  const ofA = async () => [...(await raw())].filter(([key]) => isOfA(key) && !/^(aside|heard)\//.test(key));
  const again = () => replaceNote({ note: 'a' }, noteOf(headerA, { 'a-p': [stroke('a-new', 'a-p')] }));
  // It has the key, and does not know that this note is locked.
  policy.current = before;
  await again();
  for (const [key, text] of await ofA()) expect([key, isSealed(text)]).toEqual([key, true]);
  // It knows of no lock at all, and can write nothing of the note.
  policy.current = open;
  const stored = await raw();
  await expect(again()).rejects.toBeInstanceOf(LockedError);
  await expect(opening('a', BY)).rejects.toBeInstanceOf(LockedError);
  expect(await raw()).toEqual(stored);
  // The lock was taken off elsewhere: what it wrote sealed nobody could ever read.
  policy.current = now;
  await openVault(PASS, derive, 0);
  await unsealNotes(vault, ['a'], [headerA], work());
  await rawDbs().notes.removeMany([keys.vault, keys.vaultCopy]);
  policy.current = now;
  const { file, note } = await opening('a', BY);
  const edit: Edit = { put: [stroke('a-later', 'a-p')] };
  file.record(edit, applyEdit(note, edit, BY).note);
  await file.close();
  for (const [key, text] of await raw()) expect([key, isSealed(text)]).toEqual([key, false]);
});

test('the library may be read while a cover is on its way, or while a lock is being taken off: what is being done here stands', async () => {
  await setUp();
  coverNew({ ...headerB, id: 'c', takes: [take('take3')] }, true);
  await readLibrary();
  expect([policy.current.notes.has('c'), policy.current.takes.has('take3')]).toEqual([true, true]);
  // It was not brought in after all.
  coverCame('c');
  await readLibrary();
  expect([policy.current.notes.has('c'), policy.current.takes.has('take3')]).toEqual([false, false]);
  await lockA();
  const { signal, packer } = work();
  let seen = 0;
  // At every step somebody reads the library, as at a word of another tab.
  await unsealNotes(vault, ['a'], [headerA], { signal, packer, progress: () => { seen++; void readLibrary(); } } as never);
  expect(seen).toBeGreaterThan(1);
  for (const [key, text] of await raw()) expect([key, isSealed(text)]).toEqual([key, false]);
});

test('while the lock is closed, a restore leaves out what is locked here or shares its sound with what is, says so, and brings back the rest', async () => {
  // The third plays the sound of the first.
  const headerC: NoteHeader = { ...headerA, id: 'c', title: 'Copy of it', pages: [newPage('c-p')] };
  await replaceNote({ note: 'c' }, noteOf(headerC, { 'c-p': [stroke('c-s', 'c-p')] }));
  const { headers } = await readLibrary();
  const { bundle: single } = await bundleOf('a', hereAndNow);
  const places = ['a', 'b', 'c'].map((id) => ({ ...unfiled(id), tags: ['exam'], changed: 9 }));
  const { blob } = await writeArchive({ notes: headers, folders: [], places, covers: {}, lock: null, templates: [] }, 99, work());
  await setUp();
  await lockA();
  await deleteNotes(headers.filter((h) => h.id !== 'a'));
  closeVault();
  const stored = await raw();
  const here = await readLibrary();
  const report = await restoreArchive(blob, { headers: here.headers, folders: new Map(), places: {} }, enterAny, work(), BY);
  expect([report.damaged.map((d) => [d.what, /^it is locked here, or its sound/.test(d.why)]).sort(), report.brought]).toEqual([[['“Copy of it”', true], [`“${SECRETS[0]}”`, true]], ['Buoyage']]);
  const now = await raw();
  for (const [key, text] of stored) expect([key, now.get(key)]).toEqual([key, text]);
  expect([...now.keys()].filter((key) => key.startsWith('place/')).sort()).toEqual(['place/a', 'place/b']);
  // What this tab still takes for open, since another has locked it a moment ago, is known by its record.
  const stale = await restoreArchive(blob, { headers: headers.filter((h) => h.id !== 'c'), folders: new Map(), places: {} }, enterAny, work(), BY);
  expect([stale.same.length, await raw()]).toEqual([2, now]);
  // The same for a file of a single one.
  const one = await restoreArchive(single, { headers: here.headers, folders: new Map(), places: {} }, enterAny, work(), BY);
  expect(one.damaged.map((d) => d.what)).toEqual([`“${SECRETS[0]}”`]);
});

test('a note whose lock another tab has taken off, or that it deleted, gets no cover again', async () => {
  await setUp();
  await lockA();
  await keepCovers([{ ...coverOf(headerA, undefined, true), changed: 77 }]);
  expect((await readLibrary()).covers).toMatchObject([{ id: 'a', changed: 77 }]);
  await unsealNotes(vault, ['a'], [headerA], work());
  await keepCovers([coverOf(headerA, undefined, true)]);
  expect((await raw()).has(keys.cover('a'))).toBe(false);
});

test('words that were put right in a note are sealed with it, also those that were taught before it was written down where', async () => {
  const shape = { wide: 1, long: 1, at: new Float32Array(256) };
  const words = (list: readonly { text: string }[]) => list.map((w) => w.text).sort();
  await learnWord({ text: SECRETS[2], note: 'a', shape });
  await learnWord({ text: 'Dredging', shape });
  await learnWord({ text: 'buoyage', note: 'b', shape });
  await setUp();
  await learnedGoWith(new Map([['a', new Set(['Dredging'])]]));
  await lockA();
  await learnWord({ text: 'signed', note: 'a', shape });
  expect(words(await learnedWords())).toEqual(['Dredging', 'buoyage', 'signed', SECRETS[2]].sort());
  const everything = JSON.stringify([...(await raw())]);
  for (const secret of [SECRETS[2], 'Dredging', 'signed']) expect(everything).not.toContain(secret);
  closeVault();
  expect(words(await learnedWords())).toEqual(['buoyage']);
});

test('the password of a PDF leaves sealed or not at all', async () => {
  const secret = { content: 'f'.repeat(64), leaf: 2, password: 'springs' };
  const locked = (page: string): Edit => ({ rows: [putRow('pages', page, { ...newPage(page), id: undefined, order: 'a0', backdrop: secret } as never)] });
  for (const id of ['a', 'b']) {
    const { file, note } = await opening(id, BY);
    file.record(locked(`${id}-p`), applyEdit(note, locked(`${id}-p`), BY).note);
    await file.close();
  }
  const { bundle } = await bundleOf('b', hereAndNow);
  const read = await hereAndNow.readBundle(bundle);
  expect(read.note.header.pages[0].backdrop).toEqual({ content: secret.content, leaf: 2 });
  // Here it is as it was, and the two are the same note.
  const here = (await opening('b')).note;
  expect([here.header.pages[0].backdrop, here.header.state === read.note.header.state]).toEqual([secret, true]);
  const asked = applyEdit(read.note, withPassword(read.note, secret.content, 'springs'), BY).note;
  expect(asked.header.pages[0].backdrop).toEqual(secret);
  await setUp();
  await lockA();
  expect((await hereAndNow.readBundle((await bundleOf('a', hereAndNow, true)).bundle)).note.header.pages[0].backdrop).toEqual(secret);
});

test('a backup that is made while the lock is closed has the locked note sealed, as it is stored, and it is a note again with the passphrase', async () => {
  const a0 = await opening('a', BY);
  const hash = await a0.file.keep(PICTURE);
  a0.file.record(showing('a-p', hash), applyEdit(a0.note, showing('a-p', hash), BY).note);
  await a0.file.close();
  const { note } = await opening('a');
  await writeFolders([{ v: 1, id: 'secret', name: SECRETS[1], parent: null, color: 'teal', emblem: 'compass', made: 1, changed: 1 }]);
  await writePlaces((await readLibrary()).places.map((p) => (p.note === 'a' ? { ...p, folder: 'secret' } : p)));
  const foldersBefore = (await readLibrary()).folders.map((f) => f.id).sort();
  expect(foldersBefore.length).toBeGreaterThan(0);
  await setUp();
  await sealNotes(vault, [coverOf(note.header, undefined, true)], [note.header], work());
  closeVault();
  const { headers, folders, places, covers } = await readLibrary();
  expect(headers.map((h) => h.id)).toEqual(['b']);
  const { blob } = await writeArchive({ notes: headers, folders, places, covers: {}, lock: vault, templates: [], shut: covers }, 9, work());
  const bytes = Buffer.from(await blob.arrayBuffer()).toString('latin1');
  for (const secret of SECRETS) expect(bytes).not.toContain(secret);
  await fresh();
  const without = await restoreArchive(blob, empty, enterAny, work(), BY);
  expect([without.brought, without.damaged]).toEqual([['Buoyage'], [{ what: '“Locked note”', why: 'it is locked, and what it was locked with was not given' }]]);
  await fresh();
  const report = await restoreArchive(blob, empty, enterAny, work(), BY, async (lock) => {
    const opened = await unlock(lock, PASS, derive);
    await beginVault(vaultOf(lock), opened);
    return importKey(opened);
  });
  expect([report.brought.sort(), report.damaged]).toEqual([['Buoyage', SECRETS[0]], []]);
  const back = await readLibrary();
  expect(back.covers).toMatchObject([{ id: 'a', title: null }]);
  expect(back.places.find((p) => p.note === 'a')?.tags).toEqual([SECRETS[1]]);
  expect(back.folders.map((f) => f.id).sort()).toEqual(foldersBefore);
  const again = (await opening('a')).note;
  expect([again.header.state, again.header.title, again.ink['a-p'].length]).toEqual([note.header.state, SECRETS[0], 300]);
  expect((await readPieces('take1', [0, 1])).flat().length).toBe(400);
  expect(await readContent(hash)).toEqual(PICTURE);
  // It is sealed here too, and once more there is nothing to do.
  for (const [key, text] of await raw()) if (isOfA(key)) expect([key, isSealed(text)]).toEqual([key, true]);
  const here = await readLibrary();
  const once = await restoreArchive(blob, { headers: here.headers, folders: new Map(), places: {} }, enterAny, work(), BY, () => unlock(vault, PASS, derive).then(importKey));
  expect([once.updated, once.brought, once.damaged]).toEqual([[], [], []]);
  // Damaged on its way it is named.
  const spoiled = new Uint8Array(await blob.arrayBuffer());
  spoiled[Math.floor(spoiled.length * 0.7)] ^= 1;
  const damaged = await restoreArchive(new Blob([spoiled]), empty, enterAny, work(), BY, () => unlock(vault, PASS, derive).then(importKey)).catch((e: unknown) => e);
  expect(damaged instanceof Error || (damaged as typeof once).damaged.length > 0).toBe(true);
});
