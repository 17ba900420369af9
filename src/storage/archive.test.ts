/** The archive: judged by `unzip -t` and Python's zipfile, broken in every way, and interrupted at every step. */
import 'fake-indexeddb/auto';
import { execFileSync } from 'node:child_process';
import { createHash, webcrypto } from 'node:crypto';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { INDEX_NAME, isForeign, noteName, readIndex, writeIndex } from '../core/formats/archive';
import { bytesOf, type Content } from '../core/formats/blobFile';
import { hereAndNow } from '../core/formats/bundle';
import { unfiled, type Folder } from '../core/library/folder';
import { noteAction } from '../core/library/merge';
import { PointBuffer } from '../core/ink/points';
import { makeStroke, type Stroke } from '../core/ink/stroke';
import { makePicture } from '../core/note/kinds/picture';
import { NEW_PAPER, newPage, type NoteHeader } from '../core/note/schema';
import type { Template } from '../core/note/template';
import { bundleOf, restoreArchive, writeArchive, type Here } from './archive';
import type { Heard } from '../core/audio/heard';
import { keys, notesDb, rawDbs, soundDb } from './databases';
import { readTakeHeard, writeTakeHeard } from './heardFile';
import { deleteNotes, readLibrary, writeFolders, writePlaces } from './libraryFile';
import { applyEdit, noteOf, put as putRow } from '../core/note/edit';
import { setBackdrop } from '../core/note/pages';
import { NoteFile, replaceNote } from './noteFile';
import { writeSound } from './soundFile';
import { letGo, readContent } from './contentFile';
import { readForeign } from './foreignFile';
import { readTemplates, storeTemplate } from './templateFile';
import { killAfter } from '../../tests/helpers/killed';

const opening = (id: string, by?: { device: string; now: number }) => NoteFile.openToWrite({ note: id }, by);

/** Nobody else has any note. */
const enterAny = (note: string) => Promise.resolve({ note, release: () => undefined });

Object.defineProperty(globalThis, 'crypto', { value: webcrypto, configurable: true });

const stroke = (id: string, page: string): Stroke => {
  const buffer = new PointBuffer();
  for (let i = 0; i < 6; i++) buffer.add(20 + i, 30 + (i % 3), 0.5, i * 9);
  return makeStroke(buffer.points(), { id, page, pen: { kind: 'ball', color: '#16324f', width: 0.4 }, stamp: { take: 'take1', at: 120 }, wall: 1000 });
};
const header = (id: string, changed: number, more: Partial<NoteHeader> = {}): NoteHeader => ({ v: 2, id, title: `Note ${id}`, made: 1, changed, pages: [newPage(`${id}-p`)], takes: [], timeline: [], ...more });
/** 20 ms CELT packets with content (RFC 6716, configuration 31). */
const packets = Array.from({ length: 400 }, (_, i) => ({ t: i * 20, data: Uint8Array.of(0xf8, i & 255, 7, 9, i >> 3) }));
const folder: Folder = { v: 1, id: 'f', name: 'Navigation', parent: null, color: 'teal', emblem: 'compass', made: 1, changed: 1 };
const template: Template = { id: 't', name: 'Watch log', made: 7, form: { w: 210, h: 297, paper: NEW_PAPER }, placed: [Object.freeze({ ...stroke('t-s', 't'), stamp: null }), makePicture({ id: 't-p', page: 't', stamp: null, wall: 8, content: createHash('sha256').update('a picture').digest('hex'), px: [1, 1], m: [9, 0, 0, 9, 5, 5] })], contents: { [createHash('sha256').update('a picture').digest('hex')]: btoa('a picture') } };
const BY = { device: 'here', now: 100 };
const packer = hereAndNow;
const work = { packer, signal: new AbortController().signal, progress: () => undefined };
const here = async (): Promise<Here> => {
  const { headers, folders, places } = await readLibrary();
  return { headers, folders: new Map(folders.map((f) => [f.id, f])), places: Object.fromEntries(places.map((p) => [p.note, p])) };
};
const all = async (db: ReturnType<typeof notesDb>) => db.getMany((await db.getAllKeys()).sort());
const state = async () => JSON.stringify([await all(notesDb()), await all(soundDb())]);
const put = async (h: NoteHeader, n = 3) => replaceNote({ note: h.id }, noteOf(h, { [h.pages[0].id]: Array.from({ length: n }, (_, i) => stroke(`${h.id}-s${i}`, h.pages[0].id)).sort((a, b) => (a.id < b.id ? -1 : 1)) }));

async function fill(): Promise<Blob> {
  await put(header('a', 10, { takes: [{ id: 'take1', name: 'Take 1', wall: 5, ms: 8000, state: 'done', parts: [{ at: 0, wall: 5 }] }], timeline: [{ take: 'take1', from: 0, to: 8000 }] }), 300);
  await put(header('b', 20));
  await writeSound('take1', packets);
  await writeFolders([folder]);
  await writePlaces([{ ...unfiled('a'), folder: 'f', tags: ['exam'], changed: 3 }]);
  await storeTemplate(template);
  const h = await here();
  return (await writeArchive({ notes: h.headers, folders: [...h.folders.values()], places: Object.values(h.places), covers: {}, lock: null, templates: await readTemplates() }, 99, work)).blob;
}
const clear = async () => {
  await rawDbs().notes.clear();
  await rawDbs().sound.clear();
};
beforeEach(clear);

test('what is known of the sound of a take goes along, where it is known of all of it', async () => {
  await fill();
  const heard: Heard = { ms: 8000, by: 'levels', speech: [{ from: 500, to: 2500 }], levels: new Uint8Array(400) };
  const write = async (known: Heard) => {
    await writeTakeHeard('a', 'take1', known);
    const h = await here();
    const { blob } = await writeArchive({ notes: h.headers, folders: [], places: [], covers: {}, lock: null, templates: [] }, 99, work);
    await clear();
    await restoreArchive(blob, await here(), enterAny, work, BY);
    return readTakeHeard('take1');
  };
  expect(await write(heard)).toMatchObject({ ms: 8000, speech: [{ from: 500, to: 2500 }] });
  // Of half of the take nothing is said.
  expect(await write({ ...heard, ms: 4000 })).toBeNull();
});

test('a note with damage is named in what a backup says, in the order of the notes, and those that cannot be read at all are named too', async () => {
  await fill();
  await put(header('c', 30));
  // One piece of ink of two notes; all of a third.
  for (const id of ['b', 'c']) {
    const [key] = (await notesDb().getAllKeys()).filter((k) => k.startsWith(`ink/${id}/`));
    await notesDb().setItem(key, 'rubbish');
  }
  const h = await here();
  const said = await writeArchive({ notes: h.headers, folders: [], places: [], covers: {}, lock: null, templates: [] }, 99, work);
  const order = h.headers.map((x) => x.title).filter((title) => title !== 'Note a');
  expect(said.incomplete.map((x) => x.title)).toEqual(order);
});

test('what is damaged is carried along letter for letter, in any script, and lies aside where it is restored', async () => {
  await fill();
  const [key] = (await notesDb().getAllKeys()).filter((k) => k.startsWith('rows/b/'));
  const torn = '{"title":"Łódź, 水先 ½ \u00ff torn';
  await notesDb().setItem(key, torn);
  const h = await here();
  const { blob } = await writeArchive({ notes: h.headers, folders: [], places: [], covers: {}, lock: null, templates: [] }, 99, work);
  await clear();
  await restoreArchive(blob, await here(), enterAny, work, BY);
  expect(await notesDb().getItem(keys.aside(key))).toBe(torn);
});

test('what is archived comes back as it was: ink, stamps, sound, folders, tags', async () => {
  const blob = await fill();
  const before = [await opening('a'), await opening('b')].map((o) => o.note);
  const sound = await all(soundDb());
  await clear();
  const report = await restoreArchive(blob, await here(), enterAny, work, BY);
  expect(report).toMatchObject({ updated: [], same: [], kept: [], damaged: [], folders: 1, templates: 1 });
  expect(await readTemplates()).toEqual([template]);
  expect(report.brought.sort()).toEqual(['Note a', 'Note b']);
  expect([await opening('a'), await opening('b')].map((o) => o.note)).toEqual(before);
  expect(await all(soundDb())).toEqual(sound);
  const back = await here();
  expect([back.folders.get('f'), back.places.a.tags]).toEqual([folder, ['exam']]);
  // And once more: nothing to do, nothing changed.
  const now = await state();
  expect((await restoreArchive(blob, back, enterAny, work, BY)).same.length).toBe(2);
  expect(await state()).toBe(now);
});

test('unzip finds it whole, and Python reads the same files with the same checksums', async () => {
  const blob = await fill();
  const file = path.join(mkdtempSync(path.join(tmpdir(), 'scrivo-archive-')), 'library.zip');
  writeFileSync(file, Buffer.from(await blob.arrayBuffer()));
  expect(execFileSync('unzip', ['-t', file]).toString()).toContain('No errors detected');
  const script = 'import sys, zipfile, hashlib, json\nz = zipfile.ZipFile(sys.argv[1])\nprint(json.dumps({n: hashlib.sha256(z.read(n)).hexdigest() for n in z.namelist()}))\nprint(z.read("archive.json").decode())';
  const [sums, ...index] = execFileSync('python3', ['-c', script, file]).toString().split('\n');
  const read = readIndex(index.join('\n'));
  for (const n of read.notes) expect((JSON.parse(sums) as Record<string, string>)[noteName(n.id)]).toBe(n.sha256);
  // A bundle in it is a bundle.
  const bundle = path.join(path.dirname(file), 'a.scrivo');
  writeFileSync(bundle, await bytesOf((await bundleOf('a', packer)).bundle));
  expect(execFileSync('unzip', ['-t', bundle]).toString()).toContain('No errors detected');
});

test('the newer one wins, what it replaces is kept as a copy, and what is newer here stays', async () => {
  const blob = await fill();
  await put(header('a', 5, { title: 'Older here' }), 2);
  await put(header('b', 50, { title: 'Newer here' }), 7);
  const report = await restoreArchive(blob, await here(), enterAny, work, BY);
  expect([report.updated, report.kept]).toEqual([['Note a'], ['Newer here']]);
  expect((await opening('a')).note.ink['a-p'].length).toBe(300);
  expect((await opening('b')).note.ink['b-p'].length).toBe(7);
  const copy = (await here()).headers.find((h) => h.title === 'Older here (before the restore)')!;
  expect(Object.values((await opening(copy.id)).note.ink).flat().length).toBe(2);
  expect(noteAction(undefined, { changed: 1 })).toBe('new');
});

test('a note with versions is brought together: what was done here and there since the backup stands, once, and without a copy', async () => {
  const there = { device: 'there', now: 200 };
  const before = applyEdit(noteOf(header('m', 10), {}), { put: [stroke('s1', 'm-p'), stroke('s2', 'm-p')] }, BY).note;
  // Another device goes on with it: a stroke more, one less, another title.
  await replaceNote({ note: 'm' }, applyEdit(before, { put: [stroke('s3', 'm-p')], cut: [{ id: 's1', page: 'm-p' }], rows: [putRow('note', 'title', { value: 'Neap tides' })] }, there).note);
  const { headers } = await readLibrary();
  const { blob } = await writeArchive({ notes: headers, folders: [], places: [], covers: {}, lock: null, templates: [] }, 99, work);
  await clear();
  // Here too, later: a stroke more, and a mark.
  const mark = { kind: 'key', take: 'take1', at: 5, wall: 6 } as const;
  await replaceNote({ note: 'm' }, applyEdit(before, { put: [stroke('s4', 'm-p')], rows: [putRow('marks', 'k', mark)] }, { device: 'here', now: 300 }).note);
  const report = await restoreArchive(blob, await here(), enterAny, work, BY);
  expect([report.updated, report.kept, report.brought]).toEqual([['Neap tides'], [], []]);
  const { note } = await opening('m');
  expect(note.ink['m-p'].map((s) => s.id).sort()).toEqual(['s2', 's3', 's4']);
  expect([note.header.title, note.header.marks]).toEqual(['Neap tides', [{ id: 'k', ...mark }]]);
  expect((await readLibrary()).headers.length).toBe(1);
  // Once more there is nothing to do.
  const now = await state();
  expect((await restoreArchive(blob, await here(), enterAny, work, BY)).updated).toEqual([]);
  expect(await state()).toBe(now);
});

test('a note with a wrong checksum is named and the rest is restored; one that is open elsewhere is named too', async () => {
  const blob = await fill();
  const bytes = new Uint8Array(await blob.arrayBuffer());
  const index = readIndex(await (await pick(blob, INDEX_NAME)).text());
  const good = { a: new Uint8Array(await (await pick(blob, noteName('a'))).arrayBuffer()), b: new Uint8Array(await (await pick(blob, noteName('b'))).arrayBuffer()) };
  expect(bytes.length).toBeGreaterThan(good.a.length);
  const torn = good.a.slice();
  torn[torn.length >> 1] ^= 1;
  await clear();
  // Zipped anew, so that only our own checksum can tell.
  const damaged = new Blob([zipSync({ [noteName('a')]: torn, [noteName('b')]: good.b, [INDEX_NAME]: strToU8(JSON.stringify(index)) }) as Uint8Array<ArrayBuffer>]);
  const report = await restoreArchive(damaged, await here(), enterAny, work, BY);
  // The template is not in this file at all.
  expect(report.damaged).toEqual([{ what: '“Note a”', why: 'its checksum is wrong: the file was damaged' }, { what: 'The template “Watch log”', why: 'it is missing in the file or damaged' }]);
  expect((await here()).headers.map((h) => h.id)).toEqual(['b']);
  await clear();
  const held = await restoreArchive(blob, await here(), (id) => (id === 'b' ? Promise.resolve('it is open in another tab') : enterAny(id)), work, BY);
  expect([held.brought, held.damaged]).toEqual([['Note a'], [{ what: '“Note b”', why: 'it is open in another tab' }]]);
});

/** A file of a ZIP, by the reader that the operating system has. */
async function pick(blob: Blob, name: string): Promise<Blob> {
  const file = path.join(mkdtempSync(path.join(tmpdir(), 'scrivo-pick-')), 'x.zip');
  writeFileSync(file, Buffer.from(await blob.arrayBuffer()));
  return new Blob([execFileSync('unzip', ['-p', file, name], { maxBuffer: 1 << 28 }) as unknown as Uint8Array<ArrayBuffer>]);
}

test('however an archive is broken, the library is as before or has whole notes of it, and there is a sentence', async () => {
  const blob = await fill();
  const bytes = new Uint8Array(await blob.arrayBuffer());
  await clear();
  await put(header('mine', 7));
  const mine = await state();
  const sum = (b: Uint8Array) => createHash('sha256').update(b).digest('hex');
  let seed = 20261125;
  const random = (n: number) => (seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0) % n;
  const zipped = (files: Record<string, Uint8Array>) => new Blob([zipSync(files) as Uint8Array<ArrayBuffer>]);
  const index = (more: object) => strToU8(JSON.stringify({ format: 'scrivo archive', v: 1, made: 1, folders: [], places: [], notes: [], ...more }));
  const bomb = new Uint8Array(40 << 20);
  const broken: [string, Blob][] = [
    ['empty', new Blob([])],
    ['text', new Blob(['These are not the notes.'])],
    ['another zip', zipped({ 'readme.txt': strToU8('hello') })],
    ['a newer version', zipped({ [INDEX_NAME]: index({ v: 2 }) })],
    ['version nought', zipped({ [INDEX_NAME]: index({ v: 0 }) })],
    ['a path that leads out', zipped({ [INDEX_NAME]: index({ notes: [{ id: '../../mine', title: 'x', changed: 9e15, bytes: 3, sha256: sum(strToU8('abc')) }] }), 'notes/../../mine.scrivo': strToU8('abc') })],
    ['an index that is a bomb', zipped({ [INDEX_NAME]: bomb })],
    ['the same note twice', zipped({ [INDEX_NAME]: index({ notes: [1, 2].map((k) => ({ id: 'n', title: 'x', changed: k, bytes: 3, sha256: sum(strToU8('abc')) })) }) })],
  ];
  for (let k = 0; k < 60; k++) broken.push([`cut at ${k}`, new Blob([bytes.subarray(0, Math.floor((bytes.length * k) / 60)) as Uint8Array<ArrayBuffer>])]);
  for (const [name, file] of broken) {
    await expect(restoreArchive(file, await here(), enterAny, work, BY).then((r) => Promise.reject(new Error(`${name}: ${JSON.stringify(r)}`)))).rejects.toMatchObject({ name: expect.stringMatching(/^(Archive|Bundle)Error$/), message: expect.stringMatching(/^[A-Z].*\. Nothing was changed\./) });
    expect(await state()).toBe(mine);
  }
  // A note that says it is small and is not, and one that is another than it says.
  const other = await bytesOf((await bundleOf('mine', packer)).bundle);
  for (const [name, content, entry] of [
    ['a note that is a bomb', bomb, { id: 'n', title: 'Bomb', changed: 1, bytes: 10, sha256: sum(bomb) }],
    ['a note under another id', other, { id: 'n', title: 'Other', changed: 1, bytes: other.length, sha256: sum(other) }],
  ] as const) {
    const report = await restoreArchive(zipped({ [INDEX_NAME]: index({ notes: [entry] }), 'notes/n.scrivo': content }), await here(), enterAny, work, BY);
    expect([name, report.brought, report.damaged.length]).toEqual([name, [], 1]);
    expect(await state()).toBe(mine);
  }
  for (let k = 0; k < 100; k++) {
    const flipped = bytes.slice();
    for (let i = 0; i <= random(3); i++) flipped[random(flipped.length)] ^= 1 << random(8);
    try {
      const report = await restoreArchive(new Blob([flipped as Uint8Array<ArrayBuffer>]), await here(), enterAny, work, BY);
      for (const d of report.damaged) expect(d.why.length).toBeGreaterThan(10);
    } catch (e) {
      expect(e).toMatchObject({ name: expect.stringMatching(/^(Archive|Bundle)Error$/) });
    }
    // Whatever came in is whole: it is byte for byte what was archived.
    for (const h of (await here()).headers.filter((x) => x.id !== 'mine')) {
      const { note, problems } = await opening(h.id);
      expect([problems, Object.values(note.ink).flat().length]).toEqual([[], h.id === 'a' ? 300 : 3]);
    }
    await clear();
    await put(header('mine', 7));
  }
}, 300_000);

test.each(['restoring', 'replacing', 'deleting'] as const)('killed at any step of %s, the library is whole on the next visit', async (what) => {
  const blob = await fill();
  for (let step = 0; step < 40; step++) {
    await clear();
    if (what === 'replacing') await put(header('a', 5, { title: 'Older here' }), 700);
    if (what === 'deleting') await restoreArchive(blob, await here(), enterAny, work, BY);
    const library = await here();
    const revive = killAfter([notesDb(), soundDb()], step);
    const done = await (what === 'deleting' ? deleteNotes([library.headers.find((h) => h.id === 'a')!]) : restoreArchive(blob, library, enterAny, work, BY)).then(() => true, () => false);
    revive();
    const after = await here();
    for (const h of after.headers) {
      const { note, problems } = await opening(h.id);
      expect(problems).toEqual([]);
      const n = Object.values(note.ink).flat().length;
      const wanted = h.id === 'b' ? 3 : h.title === 'Note a' ? 300 : 700;
      expect([step, h.title, n]).toEqual([step, h.title, wanted]);
      if (h.title === 'Note a') expect((await soundDb().getAllKeys()).filter((k) => k.startsWith('take1/')).length).toBe(2);
    }
    if (what === 'replacing') expect(after.headers.some((h) => h.title.startsWith('Older here') || h.title === 'Note a')).toBe(true);
    // What was begun to be deleted is gone with all its records on the next visit.
    if (what === 'deleting' && step > 0) {
      expect(after.headers.map((h) => h.id)).toEqual(['b']);
      expect((await notesDb().getAllKeys()).filter((k) => k.includes('/a'))).toEqual([]);
      expect((await soundDb().getAllKeys()).filter((k) => k.startsWith('take1'))).toEqual([]);
    }
    expect([step, done]).not.toEqual([0, true]);
    if (done) break;
    expect(step).toBeLessThan(39);
  }
  expect((await notesDb().getAllKeys()).filter((k) => k.startsWith(keys.replacing('')) || k.startsWith(keys.gone('')))).toEqual([]);
}, 300_000);

test('an index is written and read; one of another kind is refused', () => {
  const index = { made: 5, folders: [folder], places: [], notes: [{ id: 'a', title: 'A', changed: 1, bytes: 3, sha256: '0'.repeat(64) }] };
  expect(readIndex(writeIndex(index))).toMatchObject(index);
  expect(() => readIndex('{"format":"other"}')).toThrow(/Nothing was changed/);
});

test('pictures behind pages, and files of a later version, come back and go into the next archive as they were', async () => {
  await put(header('a', 10));
  const { file, note } = await opening('a');
  const chart = Uint8Array.from({ length: 5000 }, (_, i) => (i * 7) & 255);
  const edit = setBackdrop(note, 'a-p', await file.keep(chart));
  file.record(edit, applyEdit(note, edit, BY).note);
  await file.close();
  const made = async () => (await writeArchive({ notes: (await here()).headers, folders: [], places: [], covers: {}, lock: null, templates: [], foreign: await readForeign() }, 99, work)).blob;
  const plain = unzipSync(new Uint8Array(await (await made()).arrayBuffer()));
  const foreign = { 'sketches/one.bin': Uint8Array.of(1, 2, 3), 'words.json': new TextEncoder().encode('{"v":9}') };
  const withMore = new Blob([zipSync({ ...foreign, ...plain }) as Uint8Array<ArrayBuffer>]);
  await clear();
  expect((await restoreArchive(withMore, await here(), enterAny, work, BY)).damaged).toEqual([]);
  const back = await opening('a');
  expect(await readContent(back.note.header.pages[0].backdrop!.content)).toEqual(chart);
  const again = unzipSync(new Uint8Array(await (await made()).arrayBuffer()));
  for (const [name, bytes] of Object.entries(foreign)) expect([name, [...again[name]]]).toEqual([name, [...bytes]]);
  // Nothing of it is let go of with a note that has the same bytes.
  await letGo(Object.values(foreign).map((b) => createHash('sha256').update(b).digest('hex')));
  expect((await readForeign()).size).toBe(2);
  // A path out of the archive is no file to keep.
  expect(['../evil', '/evil', INDEX_NAME, noteName('a'), 'sketches/one.bin'].map(isForeign)).toEqual([false, false, false, false, true]);
});

test('a note that another tab is recording is backed up with all of its sound that is on disk', async () => {
  await put(header('a', 10, { takes: [{ id: 'take1', name: 'Take 1', wall: 5, ms: 0, state: 'recording', parts: [{ at: 0, wall: 5 }] }] }));
  const long = Array.from({ length: 2000 }, (_, i) => ({ t: i * 20, data: Uint8Array.of(0xf8, i & 255, 7, 9, i >> 3) }));
  await writeSound('take1', long);
  const blob = (await writeArchive({ notes: (await here()).headers, folders: [], places: [], covers: {}, lock: null, templates: [] }, 99, work)).blob;
  const before = (await soundDb().getAllKeys()).sort();
  await clear();
  await restoreArchive(blob, await here(), enterAny, work, BY);
  expect((await soundDb().getAllKeys()).sort()).toEqual(before);
  expect(before.length).toBe(8);
  expect((await opening('a')).note.header.takes[0].ms).toBe(40_000);
});

test('one bundle that cannot be read, for whatever reason, costs no other note, and every hold is let go', async () => {
  const blob = await fill();
  await clear();
  let held = 0;
  const enter = (note: string) => Promise.resolve((held++, { note, release: () => void held-- }));
  let first = true;
  const clumsy = {
    ...packer,
    readBundle: (content: Content) => {
      if (!first) return packer.readBundle(content);
      first = false;
      return Promise.reject(new TypeError('x is undefined'));
    },
  };
  const report = await restoreArchive(blob, await here(), enter, { ...work, packer: clumsy }, BY);
  expect([report.brought.length, report.damaged.map((d) => d.why), held]).toEqual([1, ['The note in this file is not as Scrivo writes it, and cannot be read.'], 0]);
  // What storage says stops it, and still lets go.
  const revive = killAfter([notesDb()], 0);
  await expect(restoreArchive(blob, await here(), enter, work, BY)).rejects.toThrow('killed');
  revive();
  expect(held).toBe(0);
});
