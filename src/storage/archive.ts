/** The library to one file and back. The file is written and read note by note, so that memory does not grow with the library. */
import { packetsEnd, PIECE_MS } from '../core/audio/pieces';
import { ArchiveError, HIDDEN_TITLE, INDEX_NAME, isForeign, LARGEST_FOREIGN, LARGEST_INDEX, LARGEST_NOTE, NOT_WHOLE, noteName, readIndex, shutName, openBundle, readShut, sealBundle, templateName, writeIndex, writeShut, type ArchiveEntry, type ArchiveIndex } from '../core/formats/archive';
import { sizeOf, type Content } from '../core/formats/blobFile';
import { BundleError, type Bundle, type Packer } from '../core/formats/bundle';
import { ZipError, ZipIn, ZipOut } from '../core/formats/zip';
import { newId } from '../core/id';
import type { Folder, Place } from '../core/library/folder';
import { foldersToPut, noteAction, placesToPut, type RestoreReport } from '../core/library/merge';
import { copiedNote } from '../core/note/copy';
import { applyEdit, noteOfRows, put, type Note, type RowPut } from '../core/note/edit';
import { withoutPasswords } from '../core/note/pages';
import { allOf, canMerge, merge as mergeNotes } from '../core/note/merge';
import type { Tables } from '../core/note/tables';
import { keptOf, nameOfKept } from '../core/note/kept';
import { bytesOfRecord, recordOfBytes } from '../core/note/binaryText';
import { FAR_AHEAD_MS, type By, type Version } from '../core/note/version';
import { sha256Hex } from '../core/hash';
import { contentsOfTemplate, noteOfTemplate, templateOfNote, type Template } from '../core/note/template';
import { NewerError, RecordError } from '../core/record';
import { summaryOf, type NoteHeader, type NoteSummary, type Take } from '../core/note/schema';
import { SealError } from '../core/vault/seal';
import type { Cover, Keyhole } from '../core/vault/vault';
import type { Heard } from '../core/audio/heard';
import type { Packet } from '../core/audio/opus';
import { writeFolders, writePlaces } from './libraryFile';
import { writeCheckpoint } from './checkpointFile';
import { keys, keysOf, notesDb, readMany } from './databases';
import { NoteFile, replaceNote, writeNewNote, type Hold } from './noteFile';
import { readNote } from './noteReading';
import { placeOf } from './recordKinds';
import { openedShut, shutNote } from './shutNote';
import { letGo, readContent, writeContent } from './contentFile';
import { keepForeign } from './foreignFile';
import { readTemplates, storeTemplate } from './templateFile';
import { readTakeHeard, writeTakeHeard } from './heardFile';
import { bringSound, readPieces, storedPieces } from './soundFile';
import { isWritable, LockedError, policy } from './sealing';
import { adopt, coverCame, coverNew, knowCover, sealSound } from './vaultFile';

export interface Work {
  readonly packer: Packer;
  readonly signal: AbortSignal;
  /** Share done, 0..1, and the title of the note that is at work. */
  progress(share: number, title: string): void;
}

/** So many pieces of sound are read at a time. */
const PIECES = 60;

/** The sound of a take in portions, null after the last. Of a take that runs, in another tab perhaps, its row does not know the length yet: then the pieces themselves are counted. */
async function soundOnDisk({ id, ms, state }: Take): Promise<() => Promise<readonly Packet[] | null>> {
  const pieces = state === 'recording' ? await storedPieces(id) : Array.from({ length: Math.ceil(ms / PIECE_MS) + 1 }, (_, k) => k);
  let k = 0;
  return async () => (k >= pieces.length ? null : (await readPieces(id, pieces.slice(k, (k += PIECES)))).flat());
}

/** Where a bundle has the records of its note that cannot be read, as they are: whoever restores it may be able to. */
const DAMAGED = 'damaged/';

/** What cannot be read of a note, in sentences for the user. */
export interface Incomplete {
  readonly title: string;
  readonly problems: readonly string[];
}

/**
 * A stored note as a bundle, with the state it is in, and what of it could not be read, which goes along as it is. `sealed`: nobody but the writer reads it, so that
 * the passwords of its PDFs may go along. @throws RecordError when its header cannot be read.
 */
export async function bundleOf(id: string, packer: Packer, sealed = false): Promise<{ bundle: Blob; note: Note; problems: readonly string[] }> {
  const { note, damaged, problems } = await readNote(id);
  const takes = new Map<string, Blob>();
  for (const t of note.header.takes) {
    const sound = await packer.packSound(await soundOnDisk(t));
    if (sound) takes.set(t.id, sound);
  }
  const { contents, others } = await contentsOf(note);
  for (const { key, text } of damaged) others.set(`${DAMAGED}${key}`, bytesOfRecord(text));
  return { bundle: await packer.writeBundle({ note: sealed ? note : withoutPasswords(note), takes, heard: await heardOf(note), contents, others }), note, problems };
}

/** All records of a note of which not even the header can be read, as one file. */
async function rawRecords(id: string): Promise<Uint8Array> {
  const all = await readMany(notesDb(), await keysOf('notes', new Set([id])));
  return new TextEncoder().encode(JSON.stringify(Object.fromEntries(all)));
}

/** What is known of the sound of its takes, so that nobody has to listen to it once more. */
export async function heardOf({ header }: Pick<Note, 'header'>): Promise<Map<string, Heard>> {
  const out = new Map<string, Heard>();
  for (const { id, ms } of header.takes) {
    const heard = await readTakeHeard(id);
    if (heard && heard.ms >= ms - 1) out.set(id, heard);
  }
  return out;
}

/** What a note has of pictures and files, and of files that this version does not know, with their names. */
export async function contentsOf(note: Note): Promise<{ contents: Map<string, Uint8Array>; others: Map<string, Uint8Array> }> {
  const [contents, others] = [new Map<string, Uint8Array>(), new Map<string, Uint8Array>()];
  for (const hash of note.header.contents ?? []) {
    const bytes = await readContent(hash);
    const file = (note.rows.contents?.get(hash)?.v as Tables['contents'] | null | undefined)?.file;
    if (bytes && file) others.set(file, bytes);
    else if (bytes) contents.set(hash, bytes);
  }
  return { contents, others };
}

/** Whether a note is locked, and so leaves this device sealed only. */
export const leavesSealed = (note: string): boolean => policy.current.whole || policy.current.notes.has(note);

/** A bundle as it goes into a backup, and what the index says of it. */
interface Packed {
  readonly entry: ArchiveEntry;
  readonly content: Content;
}

/** A template as it goes into a backup. Its name is that of the writer and is not in the index where everything is locked. */
export async function packedTemplate(template: Template, packer: Packer): Promise<Packed> {
  const { id, name, made } = template;
  const bundle = await packer.writeBundle({ note: noteOfTemplate(template), takes: new Map(), contents: contentsOfTemplate(template) });
  const { key, whole } = policy.current;
  const shut = whole && key !== null;
  const { content, sealed } = shut ? await sealBundle(key, id, bundle) : { content: bundle, sealed: {} };
  return { content, entry: { id, title: shut ? HIDDEN_TITLE : name, changed: made, bytes: sizeOf(content), sha256: await sha256Hex(content), ...sealed } };
}

/** A stored note as it goes into a backup: its bundle, sealed when the note is locked, and what the index says of it. @throws RecordError */
export async function packed({ id, title }: Pick<NoteHeader, 'id' | 'title'>, covers: Readonly<Record<string, Cover>>, packer: Packer): Promise<Packed & { readonly problems: readonly string[] }> {
  const { key } = policy.current;
  const shut = leavesSealed(id) && key !== null;
  const { bundle, note, problems } = await bundleOf(id, packer, shut);
  const { changed, state } = note.header;
  const { content, sealed } = shut ? await sealBundle(key, id, bundle) : { content: bundle, sealed: {} };
  const shown = shut ? (covers[id]?.title ?? HIDDEN_TITLE) : title;
  // One of which something is missing is not known by its state: what is mended of it has to be sent.
  return { content, problems, entry: { id, title: shown, changed, ...(state && !problems.length ? { state } : {}), bytes: sizeOf(content), sha256: await sha256Hex(content), ...sealed } };
}

/** A locked note as it goes into a backup while the lock is closed, and what the index says of it. */
export async function packedShut(cover: Cover): Promise<Packed> {
  const content = await shutNote(cover);
  return { content, entry: { id: cover.id, title: cover.title ?? HIDDEN_TITLE, changed: cover.changed, bytes: sizeOf(content), sha256: await sha256Hex(content), sealed: true, shut: true } };
}

/** Folders and places for the index: in the open, or sealed where the notes are. */
export async function filing(folders: readonly Folder[], places: readonly Place[], lock: Keyhole | null): Promise<Pick<ArchiveIndex, 'folders' | 'places' | 'lock' | 'shut'>> {
  const { key, whole } = policy.current;
  if (!lock) return { folders: [...folders], places: [...places] };
  const { id, derive, wrapped, hint } = lock;
  const keyhole = { id, derive, wrapped, hint };
  // While it is closed, places of locked notes are among their own records.
  if (!key) return { folders: [...folders], places: places.filter((p) => !leavesSealed(p.note)), lock: keyhole };
  if (whole) return { folders: [], places: [], lock: keyhole, shut: [await writeShut(key, folders, places)] };
  const shut = places.filter((p) => leavesSealed(p.note));
  return { folders: [...folders], places: places.filter((p) => !leavesSealed(p.note)), lock: keyhole, ...(shut.length ? { shut: [await writeShut(key, [], shut)] } : {}) };
}

/** Stores what a bundle brings beside rows and ink. Gives the note with what was learnt on the way. */
async function storeParts({ note, takes, heard, contents, others }: Bundle, packer: Packer): Promise<Note> {
  await knowCover(note.header.id);
  adopt(note.header);
  const rows: RowPut[] = [];
  for (const [id, webm] of takes) {
    const packets = await packer.unpackSound(webm);
    await bringSound(id, packets);
    const row = note.rows.takes?.get(id);
    if (row?.v && (row.v as Tables['takes']).ms === 0) rows.push(put('takes', id, { ...(row.v as Tables['takes']), ms: packetsEnd(packets) }));
  }
  // What is known here is of what is here.
  for (const [id, what] of heard) if (takes.has(id) && (await readTakeHeard(id)) === null) await writeTakeHeard(note.header.id, id, what);
  // One that is not what its name says was damaged on its way: the note is brought without it.
  for (const [hash, bytes] of contents) if ((await sha256Hex(bytes)) === hash) await writeContent(bytes);
  for (const [file, bytes] of others) if (file.startsWith(DAMAGED)) await keepAside(file.slice(DAMAGED.length), recordOfBytes(bytes), note.header.id);
    else rows.push(put('contents', await writeContent(bytes), { type: 'application/octet-stream', bytes: bytes.length, file }));
  // Some of it may have been here before, and have lain open.
  if (policy.current.notes.has(note.header.id)) await sealSound([...takes.keys(), ...(note.header.contents ?? [])]);
  return applyEdit(note, { rows }).note;
}

/** A record that could not be read where it came from: it can be tried again here. */
async function keepAside(key: string, text: string, note: string): Promise<void> {
  const { kind, owner } = placeOf('notes', key);
  if ((kind === 'ink' || kind === 'rows') && owner === note && (await notesDb().getItem(keys.aside(key))) === null) await notesDb().setItem(keys.aside(key), text);
}

/** Puts a bundle's note onto this device; a half-stored note has no record and is not listed. @throws BundleError, RecordError or what storage throws. */
export async function storeNote(hold: Hold, bundle: Bundle, packer: Packer, more: Partial<Pick<NoteHeader, 'demo'>> = {}, cover?: Cover): Promise<NoteSummary> {
  const { header, rows, ink, gone } = await storeParts(bundle, packer);
  const note = noteOfRows({ ...header, ...more }, rows, ink, gone);
  await replaceNote(hold, note, cover);
  return summaryOf(note.header);
}

/** What goes into an archive. */
export interface Contents {
  readonly notes: readonly NoteSummary[];
  readonly folders: readonly Folder[];
  readonly places: readonly Place[];
  readonly covers: Readonly<Record<string, Cover>>;
  /** Of this device, when something is locked. */
  readonly lock: Keyhole | null;
  readonly templates: readonly Template[];
  /** Notes that are locked and cannot be opened now: they go along as they are. */
  readonly shut?: readonly Cover[];
  /** Files that this version does not know, by name. */
  readonly foreign?: ReadonlyMap<string, Uint8Array>;
}

/**
 * All of some notes, and the folders and places that belong to them, as one file; `left`: titles of notes that could not be read, whose records are in it as they are;
 * `incomplete`: notes of which a part could not. @throws AbortError when stopped.
 */
export async function writeArchive({ notes, folders, places, covers, lock, templates, shut = [], foreign = new Map() }: Contents, made: number, { packer, signal, progress }: Work): Promise<{ blob: Blob; left: string[]; incomplete: Incomplete[] }> {
  const zip = new ZipOut();
  const entries: ArchiveEntry[] = [];
  const left: string[] = [];
  const incomplete: Incomplete[] = [];
  for (const [i, header] of notes.entries()) {
    const { id, title, changed } = header;
    signal.throwIfAborted();
    progress(i / notes.length, title);
    let one: Awaited<ReturnType<typeof packed>>;
    try {
      one = await packed(header, covers, packer);
    } catch (e) {
      // A note that cannot be read must not cost the backup of all others.
      if (!(e instanceof RecordError)) throw e;
      left.push(title);
      // Nothing of a locked note leaves in the open.
      if (!leavesSealed(id)) await zip.add(`${DAMAGED}${id}.json`, await rawRecords(id), 6, changed);
      continue;
    }
    if (one.problems.length) incomplete.push({ title, problems: one.problems });
    await zip.add(noteName(id), one.content, 0, changed);
    entries.push(one.entry);
  }
  for (const cover of shut) {
    signal.throwIfAborted();
    const { entry, content } = await packedShut(cover);
    await zip.add(shutName(cover.id), content, 0, cover.changed);
    entries.push(entry);
  }
  const kept: ArchiveEntry[] = [];
  for (const template of templates) {
    const { entry, content } = await packedTemplate(template, packer);
    await zip.add(templateName(entry.id), content, 0, entry.changed);
    kept.push(entry);
  }
  // They came in the open; where all is locked nothing leaves in the open.
  for (const [name, bytes] of policy.current.whole ? [] : foreign) await zip.add(name, bytes, 6, made);
  signal.throwIfAborted();
  const index = writeIndex({ made, ...(await filing(folders, places, lock)), notes: entries, ...(kept.length ? { templates: kept } : {}) });
  await zip.add(INDEX_NAME, new TextEncoder().encode(index), 6, made);
  return { blob: await zip.close(), left, incomplete };
}

export interface Here {
  readonly headers: readonly NoteSummary[];
  readonly folders: ReadonlyMap<string, Folder>;
  readonly places: Readonly<Record<string, Place>>;
}

/** Holds a note that is about to be written against everybody else; a clause why when it may not be written now, such as one that is open. */
export type Enter = (note: string) => Promise<(Hold & { release(): unknown }) | string>;

/** The key of the lock that an archive was made under; null when it is not to be had. Asked once, and only when something is sealed. */
export type KeyOf = (lock: Keyhole) => Promise<CryptoKey | null>;

/** Where an archive comes from. */
export interface Source {
  readonly index: ArchiveIndex;
  /** The bundle of a note or template, which lies in an archive as `file`. @throws ArchiveError with a clause that says why it cannot be had. */
  content(entry: ArchiveEntry, file: string): Promise<Content>;
}

/** Merges what a source has into the library. What cannot be read is named and the rest is restored. @throws AbortError when stopped, and what storage throws. */
export async function restoreFromSource({ index, content }: Source, here: Here, enter: Enter, { packer, signal, progress }: Work, keyOf: KeyOf, by: By): Promise<RestoreReport> {
  const key = index.lock && (index.shut || [...index.notes, ...(index.templates ?? [])].some((n) => n.sealed)) ? await keyOf(index.lock) : null;
  const report: RestoreReport = emptyReport();
  const known = new Map(here.headers.map((h) => [h.id, h]));
  const notes = new Set(known.keys());
  const bundleFrom = async (entry: ArchiveEntry, file: string): Promise<Bundle> => {
    const bytes = await content(entry, file);
    if ((await sha256Hex(bytes)) !== entry.sha256) throw new ArchiveError('its checksum is wrong: the file was damaged');
    const bundle = await read(entry.sealed ? await unsealed(key, entry, bytes) : bytes, packer);
    if (bundle.note.header.id !== entry.id) throw new ArchiveError('it holds another note than it says');
    return bundle;
  };
  const shutFrom = async (entry: ArchiveEntry) => {
    const bytes = await content(entry, shutName(entry.id));
    if ((await sha256Hex(bytes)) !== entry.sha256) throw new ArchiveError('its checksum is wrong: the file was damaged');
    if (!key) throw new ArchiveError('it is locked, and what it was locked with was not given');
    return openedShut(key, entry.id, bytes, packer);
  };
  const filed = { folders: [...index.folders], places: [...index.places] };
  for (const [i, entry] of index.notes.entries()) {
    signal.throwIfAborted();
    progress(i / index.notes.length, entry.title);
    const what = `“${entry.title}”`;
    if (noteAction(known.get(entry.id), entry) === 'same') {
      report.same.push(entry.title);
      continue;
    }
    try {
      const { bundle, place } = entry.shut ? await shutFrom(entry) : { bundle: await bundleFrom(entry, noteName(entry.id)), place: null };
      if (place) filed.places.push(place);
      await merge(bundle, what, known, enter, report, by, packer, entry.sealed && { hidden: entry.title !== bundle.note.header.title });
      notes.add(entry.id);
    } catch (e) {
      if (!(e instanceof ArchiveError || e instanceof BundleError || e instanceof RecordError)) throw e;
      report.damaged.push({ what, why: e.message });
    }
  }
  const mine = index.templates?.length ? (await readTemplates()).map((t) => t.id) : [];
  let templates = 0;
  for (const entry of index.templates ?? []) {
    if (mine.includes(entry.id)) continue;
    signal.throwIfAborted();
    try {
      const bundle = await bundleFrom(entry, templateName(entry.id));
      const template = templateOfNote(bundle.note, bundle.contents);
      mine.push(template.id);
      await storeTemplate(template);
      templates++;
    } catch (e) {
      if (!(e instanceof ArchiveError || e instanceof BundleError || e instanceof RecordError)) throw e;
      report.damaged.push({ what: `The template “${entry.title}”`, why: e.message });
    }
  }
  for (const text of key ? (index.shut ?? []) : []) {
    try {
      const shut = await readShut(key!, text);
      filed.folders.push(...shut.folders);
      filed.places.push(...shut.places);
    } catch (e) {
      if (!(e instanceof ArchiveError)) throw e;
      report.damaged.push({ what: 'Folders and tags of locked notes', why: e.message });
    }
  }
  const folders = foldersToPut(here.folders, filed.folders);
  if (folders.length) await writeFolders(folders);
  // Of a note that another tab has locked meanwhile it is not said where it lies while the lock is closed here.
  const places = placesToPut(here.places, filed.places, notes, by.now).filter((p) => isWritable('notes', keys.place(p.note)));
  if (places.length) await writePlaces(places);
  return { ...report, folders: folders.length, templates };
}

/** A bundle, whatever is wrong with it: a bad one costs no other. @throws BundleError */
async function read(content: Content, packer: Packer): Promise<Bundle> {
  try {
    return await packer.readBundle(content);
  } catch (e) {
    if (e instanceof BundleError || (e instanceof DOMException && e.name === 'AbortError')) throw e;
    throw new BundleError('The note in this file is not as Scrivo writes it, and cannot be read.', { cause: e });
  }
}

const emptyReport = (): RestoreReport => ({ brought: [], updated: [], same: [], kept: [], both: [], ahead: [], damaged: [], folders: 0, templates: 0 });

/**
 * Merges an archive, or a single bundle, into the library.
 * @throws ArchiveError with a sentence when nothing in the file can be used, AbortError when stopped, and what storage throws.
 */
export async function restoreArchive(file: Blob, here: Here, enter: Enter, work: Work, by: By, keyOf: KeyOf = () => Promise.resolve(null)): Promise<RestoreReport> {
  const zip = await opened(file);
  try {
    if (!zip.has(INDEX_NAME) && zip.has('note.json')) {
      const report = emptyReport();
      const bundle = await read(file, work.packer);
      const what = `“${bundle.note.header.title}”`;
      try {
        await merge(bundle, what, new Map(here.headers.map((h) => [h.id, h])), enter, report, by, work.packer);
      } catch (e) {
        if (!(e instanceof ArchiveError)) throw e;
        report.damaged.push({ what, why: e.message });
      }
      return report;
    }
    const index = readIndex(new TextDecoder().decode(await readable(zip.read(INDEX_NAME, LARGEST_INDEX), NOT_WHOLE)));
    const content = (entry: ArchiveEntry, name: string) => readable(zip.readBlob(name, Math.min(LARGEST_NOTE, entry.bytes)), 'it is missing in the file or damaged');
    const report = await restoreFromSource({ index, content }, here, enter, work, keyOf, by);
    for (const name of zip.names.filter(isForeign)) {
      try {
        await keepForeign(name, await readable(zip.read(name, LARGEST_FOREIGN), 'it is damaged, or too large for a file that this Scrivo does not know'));
      } catch (e) {
        if (!(e instanceof ArchiveError || e instanceof RecordError || e instanceof NewerError)) throw e;
        report.damaged.push({ what: `The file “${name}”`, why: e.message });
      }
    }
    return report;
  } finally {
    await zip.close();
  }
}

async function opened(file: Blob): Promise<ZipIn> {
  try {
    return await ZipIn.open(file);
  } catch (e) {
    throw e instanceof ZipError ? new ArchiveError(NOT_WHOLE) : e;
  }
}

/** What is read of the archive. @throws ArchiveError with `why`. */
async function readable<T>(reading: Promise<T>, why: string): Promise<T> {
  try {
    return await reading;
  } catch (e) {
    throw e instanceof ZipError ? new ArchiveError(why) : e;
  }
}

async function unsealed(key: CryptoKey | null, entry: ArchiveEntry, content: Content): Promise<Content> {
  if (!key) throw new ArchiveError('it is locked, and what it was locked with was not given');
  try {
    return await openBundle(key, entry, content);
  } catch (e) {
    if (e instanceof SealError) throw new ArchiveError('it does not open with this passphrase');
    throw e;
  }
}

/** A note with what another state of it has; the same object when that has nothing new. */
function mergedWith(note: Note, other: Note, by: By): Note {
  const { edit, own } = mergeNotes(note, allOf(other), by.device);
  if (!edit.put?.length && !edit.cut?.length && !edit.rows?.length && !own) return note;
  const together = applyEdit(note, edit).note;
  return own ? applyEdit(together, own, by).note : together;
}

/** What a bundle names and neither has nor is on this device. */
async function missingOf({ note: { header }, takes, contents, others }: Bundle): Promise<RestoreReport['damaged']> {
  const out: RestoreReport['damaged'] = [];
  for (const t of header.takes) if (t.ms > 0 && !takes.has(t.id) && !(await storedPieces(t.id)).length) out.push({ what: `${t.name} of “${header.title}”`, why: 'its sound is not in the file' });
  const brought = new Set(contents.keys());
  for (const bytes of others.values()) brought.add(await sha256Hex(bytes));
  const pictures = (header.contents ?? []).filter((hash) => !brought.has(hash));
  for (const hash of pictures) if ((await readContent(hash)) === null) out.push({ what: `A picture or file of “${header.title}”`, why: 'it is not in the file' });
  return out;
}

/** `locked`: it comes from a locked note, and is locked here too. @throws ArchiveError with a clause where it cannot be written while the lock is closed, and what storage throws. */
async function merge(bundle: Bundle, what: string, known: ReadonlyMap<string, NoteSummary>, enter: Enter, report: RestoreReport, by: By, packer: Packer, locked?: { readonly hidden: boolean }): Promise<void> {
  const { header } = bundle.note;
  const mine = known.get(header.id);
  const action = noteAction(mine, header);
  if (action === 'same') return void report.same.push(header.title);
  const held = await enter(header.id);
  if (typeof held === 'string') return void report.damaged.push({ what, why: held });
  try {
    if (isAhead(bundle.note, by.now)) report.ahead.push(header.title);
    if (mine) {
      const { note, newer } = await NoteFile.openToWrite(held, by);
      if (newer) return void report.damaged.push({ what, why: 'it is here as a newer Scrivo wrote it' });
      // Where both sides say of everything when it was changed, they are brought together row by row.
      if (canMerge(note, allOf(bundle.note))) {
        const cover = locked && coverNew(header, locked.hidden);
        const together = mergedWith(note, await storeParts(bundle, packer), by);
        report.damaged.push(...(await missingOf(bundle)));
        if (together === note) return void report.kept.push(mine.title);
        await writeCheckpoint(note, together, by.now);
        await replaceNote(held, together, cover);
        await letGo(note.header.contents ?? []);
        const had = new Set(note.rows.kept?.keys());
        const lost = keptOf(together).filter(({ key }) => !had.has(key));
        if (lost.length) report.both.push({ note: header.id, title: together.header.title, what: lost.map((one) => nameOfKept(together, one)) });
        return void report.updated.push(together.header.title);
      }
      if (action === 'keep') return void report.kept.push(mine.title);
      // First a copy of what is here: from then on nothing can be lost.
      await writeNewNote(copiedNote(note, `${note.header.title} (before the restore)`.slice(0, 500), note.header.changed, newId), header.id);
    }
    await storeNote(held, bundle, packer, {}, locked && coverNew(header, locked.hidden));
    (action === 'new' ? report.brought : report.updated).push(header.title);
    report.damaged.push(...(await missingOf(bundle)));
  } catch (e) {
    // While the lock is closed nothing that is locked is written; the other notes come back.
    throw e instanceof LockedError ? new ArchiveError('it is locked here, or its sound or a picture is in a note that is; unlock first, then restore once more') : e;
  } finally {
    coverCame(header.id);
    held.release();
  }
}

/** Something in it was changed by a clock that is far ahead of this device's. */
function isAhead(note: Note, now: number): boolean {
  const far = (s: Version | null | undefined): boolean => s !== null && s !== undefined && s[0] > now + FAR_AHEAD_MS;
  return Object.values(note.rows).some((list) => [...list.values()].some((row) => far(row.s))) || Object.values(note.ink).some((list) => list.some((it) => far(it.s))) || [...note.gone.values()].some(({ s }) => far(s));
}
