/** The library to one file and back. The file is written and read note by note, so that memory does not grow with the library. */
import { BlobReader, BlobWriter, configure, Uint8ArrayReader, Uint8ArrayWriter, ZipReader, ZipWriter, type Entry, type FileEntry } from '@zip.js/zip.js';
import { packetsEnd, PIECE_MS } from '../core/audio/pieces';
import { ArchiveError, INDEX_NAME, LARGEST_INDEX, LARGEST_NOTE, NOT_WHOLE, noteName, readIndex, writeIndex, type ArchiveEntry, type ArchiveIndex } from '../core/formats/archive';
import { BundleError, readBundle, writeBundle, type Bundle } from '../core/formats/bundle';
import { fillHoles, opusHead, packetsOfWebm, webmOf } from '../core/formats/webmFile';
import { newId } from '../core/id';
import type { Folder, Place } from '../core/library/folder';
import { foldersToPut, noteAction, placesToPut, type RestoreReport } from '../core/library/merge';
import { copiedNote } from '../core/note/copy';
import { RecordError } from '../core/note/records';
import type { NoteHeader } from '../core/note/schema';
import type { Packet } from '../core/audio/opus';
import { writeFolders, writePlaces } from './libraryFile';
import { NoteFile, replaceNote, writeNewNote } from './noteFile';
import { readPieces, writeSound } from './soundFile';

// What is packed is packed already; a worker would only carry the bytes to and fro.
configure({ useWebWorkers: false });

export interface Work {
  readonly signal: AbortSignal;
  /** Share done, 0..1, and the title of the note that is at work. */
  progress(share: number, title: string): void;
}

const hex = (bytes: ArrayBuffer): string => [...new Uint8Array(bytes)].map((b) => b.toString(16).padStart(2, '0')).join('');
export const sha256 = async (bytes: Uint8Array): Promise<string> => hex(await crypto.subtle.digest('SHA-256', bytes as Uint8Array<ArrayBuffer>));

/** So many pieces of sound are read at a time. */
const PIECES = 60;

async function soundOnDisk(take: string, ms: number): Promise<Packet[]> {
  const packets: Packet[] = [];
  const count = Math.ceil(ms / PIECE_MS) + 1;
  for (let k = 0; k < count; k += PIECES) packets.push(...(await readPieces(take, Array.from({ length: Math.min(PIECES, count - k) }, (_, i) => k + i))).flat());
  return packets;
}

/** A stored note as a bundle. @throws RecordError when its header cannot be read. */
export async function bundleOf(id: string): Promise<Uint8Array> {
  const { note } = await NoteFile.open(id);
  const takes = new Map<string, Uint8Array>();
  for (const t of note.header.takes) {
    const packets = await soundOnDisk(t.id, t.ms);
    if (packets.length) takes.set(t.id, await webmOf(fillHoles(packets, packets[0].t), opusHead(2)));
  }
  return writeBundle({ note, takes });
}

/** Puts a bundle's note onto this device; a half-stored note has no header and is not listed. Gives its header. @throws BundleError, RecordError or what storage throws. */
export async function storeNote({ note, takes }: Bundle, mark: Partial<NoteHeader> = {}): Promise<NoteHeader> {
  const lengths = new Map<string, number>();
  for (const [id, webm] of takes) {
    const packets = await packetsOfWebm(webm);
    await writeSound(id, packets);
    lengths.set(id, packetsEnd(packets));
  }
  const header = { ...note.header, takes: note.header.takes.map((t) => (t.ms === 0 ? { ...t, ms: lengths.get(t.id) ?? 0 } : t)), ...mark };
  await replaceNote({ header, ink: note.ink });
  return header;
}

/** All of some notes, and the folders and places that belong to them, as one file; `left`: titles of notes that could not be read. @throws AbortError when stopped. */
export async function writeArchive(notes: readonly NoteHeader[], folders: readonly Folder[], places: readonly Place[], made: number, { signal, progress }: Work): Promise<{ blob: Blob; left: string[] }> {
  const zip = new ZipWriter(new BlobWriter('application/zip'), { level: 0, extendedTimestamp: false });
  const entries: ArchiveEntry[] = [];
  const left: string[] = [];
  for (const [i, { id, title, changed }] of notes.entries()) {
    signal.throwIfAborted();
    progress(i / notes.length, title);
    let bytes: Uint8Array;
    try {
      bytes = await bundleOf(id);
    } catch (e) {
      // A note that cannot be read must not cost the backup of all others.
      if (!(e instanceof RecordError)) throw e;
      left.push(title);
      continue;
    }
    await zip.add(noteName(id), new Uint8ArrayReader(bytes), { lastModDate: new Date(Math.max(changed, Date.UTC(1980, 0, 2))) });
    entries.push({ id, title, changed, bytes: bytes.length, sha256: await sha256(bytes) });
  }
  signal.throwIfAborted();
  const index = writeIndex({ made, folders: [...folders], places: [...places], notes: entries });
  await zip.add(INDEX_NAME, new Uint8ArrayReader(new TextEncoder().encode(index)), { level: 6 });
  return { blob: await zip.close(), left };
}

export interface Here {
  readonly headers: readonly NoteHeader[];
  readonly folders: ReadonlyMap<string, Folder>;
  readonly places: Readonly<Record<string, Place>>;
}

/** Calls of a note that may not be written now, such as one that is open, with the sentence why. */
export type Refuse = (note: string) => string | null;

/** Where an archive comes from. */
export interface Source {
  readonly index: ArchiveIndex;
  /** The bundle of a note. @throws ArchiveError with a clause that says why it cannot be had. */
  content(entry: ArchiveEntry): Promise<Uint8Array>;
}

/** Merges what a source has into the library. What cannot be read is named and the rest is restored. @throws AbortError when stopped, and what storage throws. */
export async function restoreFromSource({ index, content }: Source, here: Here, refuse: Refuse, { signal, progress }: Work): Promise<RestoreReport> {
  const report: RestoreReport = emptyReport();
  const known = new Map(here.headers.map((h) => [h.id, h]));
  const notes = new Set(known.keys());
  for (const [i, entry] of index.notes.entries()) {
    signal.throwIfAborted();
    progress(i / index.notes.length, entry.title);
    const what = `“${entry.title}”`;
    if (noteAction(known.get(entry.id), entry) === 'same') {
      report.same.push(entry.title);
      continue;
    }
    try {
      const bytes = await content(entry);
      if ((await sha256(bytes)) !== entry.sha256) throw new ArchiveError('its checksum is wrong: the file was damaged');
      await merge(bytes, what, known, refuse, report, entry.id);
      notes.add(entry.id);
    } catch (e) {
      if (!(e instanceof ArchiveError || e instanceof BundleError || e instanceof RecordError)) throw e;
      report.damaged.push({ what, why: e.message });
    }
  }
  const folders = foldersToPut(here.folders, index.folders);
  if (folders.length) await writeFolders(folders);
  const places = placesToPut(here.places, index.places, notes);
  if (places.length) await writePlaces(places);
  return { ...report, folders: folders.length };
}

const emptyReport = (): RestoreReport => ({ brought: [], updated: [], same: [], kept: [], damaged: [], folders: 0 });

/**
 * Merges an archive, or a single bundle, into the library.
 * @throws ArchiveError with a sentence when nothing in the file can be used, AbortError when stopped, and what storage throws.
 */
export async function restoreArchive(file: Blob, here: Here, refuse: Refuse, work: Work): Promise<RestoreReport> {
  const reader = new ZipReader(new BlobReader(file), { checkSignature: true });
  try {
    const files = new Map<string, FileEntry>();
    for (const entry of await entriesOf(reader)) if (!entry.directory) files.set(entry.filename, entry as FileEntry);
    if (!files.has(INDEX_NAME) && files.has('note.json')) {
      const report = emptyReport();
      await merge(new Uint8Array(await file.arrayBuffer()), 'The note', new Map(here.headers.map((h) => [h.id, h])), refuse, report);
      return report;
    }
    const index = readIndex(new TextDecoder().decode(await contentOf(files.get(INDEX_NAME), LARGEST_INDEX, NOT_WHOLE)));
    const content = (entry: ArchiveEntry) => contentOf(files.get(noteName(entry.id)), Math.min(LARGEST_NOTE, entry.bytes), 'it is missing in the file or damaged');
    return await restoreFromSource({ index, content }, here, refuse, work);
  } finally {
    await reader.close().catch(() => undefined);
  }
}

async function entriesOf(reader: ZipReader<Blob>): Promise<Entry[]> {
  let entries: Entry[];
  try {
    entries = await reader.getEntries();
  } catch {
    throw new ArchiveError(NOT_WHOLE);
  }
  // A file that lost its end can still end with a bundle, whose directory then looks like that of the whole.
  if (!entries.some((e) => e.offset === 0)) throw new ArchiveError(NOT_WHOLE);
  return entries;
}

/** Content of a file in the archive. What says it is larger than it may be is not unpacked at all, and what turns out larger not to its end. */
async function contentOf(entry: FileEntry | undefined, largest: number, why: string): Promise<Uint8Array> {
  if (!entry || entry.encrypted || entry.uncompressedSize > largest) throw new ArchiveError(why);
  const stop = new AbortController();
  try {
    return await entry.getData(new Uint8ArrayWriter(), { signal: stop.signal, onprogress: (n) => (n > largest ? void stop.abort() : undefined) });
  } catch {
    throw new ArchiveError(why);
  }
}

async function merge(bytes: Uint8Array, what: string, known: ReadonlyMap<string, NoteHeader>, refuse: Refuse, report: RestoreReport, id?: string): Promise<void> {
  const bundle = readBundle(bytes);
  const { header } = bundle.note;
  if (id && header.id !== id) throw new ArchiveError('it holds another note than it says');
  const mine = known.get(header.id);
  const action = noteAction(mine, header);
  if (action === 'same') return void report.same.push(header.title);
  if (action === 'keep') return void report.kept.push(mine!.title);
  const obstacle = refuse(header.id);
  if (obstacle) return void report.damaged.push({ what, why: obstacle });
  if (action === 'update') {
    // First a copy of what is here: from then on nothing can be lost.
    const { note } = await NoteFile.open(header.id);
    await writeNewNote(copiedNote(note, `${note.header.title} (before the restore)`.slice(0, 500), note.header.changed, newId));
  }
  await storeNote(bundle);
  (action === 'new' ? report.brought : report.updated).push(header.title);
}
