/** A note on disk: opens it, keeps what changed, writes it soon, repairs what is damaged. */
import { applyEdit, type Edit, type Note } from '../core/note/edit';
import { readChunk, readHeader, RecordError, writeChunk, writeHeader } from '../core/note/records';
import { strokeOrder, type Stroke } from '../core/ink/stroke';
import { keys, notesDb, readMany } from './databases';
import type { Cover } from '../core/vault/vault';
import { coverLike } from './vaultFile';

/** Strokes in a chunk: small enough to be written again for every new stroke, large enough that a note is few records. */
const CHUNK_STROKES = 128;
/** How long a change waits for others before it is written, ms. */
const WAIT_MS = 350;
/** Ink alone brings the header, with the time of the last change in it, to disk so often, ms. */
const HEADER_EVERY_MS = 5000;
/** How long after a failed write the next try is made, ms. */
const RETRY_MS = 3000;

export type SaveState = 'saved' | 'saving' | 'failed';

export interface Opened {
  readonly note: Note;
  readonly file: NoteFile;
  /** What could not be read, in sentences for the user. */
  readonly problems: readonly string[];
}

export class NoteFile {
  private chunks = new Map<number, Map<string, Stroke>>();
  private chunkOf = new Map<string, number>();
  private dirty = new Set<number>();
  private headerDirty = false;
  /** As it is on disk. */
  private extent = 0;
  /** `changed` of the header as it is on disk, and when it was written (Date.now()). */
  private writtenChanged = 0;
  private headerAt = 0;
  private timer: ReturnType<typeof setTimeout> | null = null;
  private writing: Promise<void> | null = null;
  private note: Note;
  private stopped = false;
  onState: (state: SaveState, error?: unknown) => void = () => undefined;
  onWritten: (written: readonly string[]) => void = () => undefined;

  private constructor(note: Note) {
    this.note = note;
  }

  static create(note: Note): NoteFile {
    const file = new NoteFile(note);
    file.headerDirty = true;
    for (const list of Object.values(note.ink)) for (const s of list) file.assign(s);
    return file;
  }

  /** @throws RecordError when there is no such note or its header is beyond reading. */
  static async open(id: string): Promise<Opened> {
    const db = notesDb();
    const prefix = keys.inkPrefix(id);
    const extent = Number(await db.getItem(keys.extent(id)));
    // Notes from before the extent was kept are looked for among all keys, once.
    const wanted = extent > 0 ? Array.from({ length: extent }, (_, k) => keys.ink(id, k)) : (await db.getAllKeys()).filter((k) => k.startsWith(prefix));
    const found = await readMany(db, [keys.note(id), ...wanted]);
    const headerText = found.get(keys.note(id));
    if (headerText === undefined) throw new RecordError('There is no such note on this device. It may have been deleted, or belong to another browser.');
    const header = readHeader(headerText);
    const file = new NoteFile({ header, ink: {} });
    file.writtenChanged = header.changed;
    file.extent = extent > 0 ? extent : wanted.reduce((n, k) => Math.max(n, Number(k.slice(prefix.length)) + 1), 0);
    if (file.extent !== extent && file.extent > 0) await db.setMany({ [keys.extent(id)]: String(file.extent) });
    file.headerAt = Date.now();
    const problems: string[] = [];
    const strokes: Stroke[] = [];
    const aside: Record<string, string> = {};
    const broken: string[] = [];
    let lost = 0;
    for (const key of wanted) {
      const text = found.get(key);
      const chunk = Number(key.slice(prefix.length));
      if (text === undefined) continue;
      try {
        const read = readChunk(text);
        lost += read.lost;
        if (read.lost) {
          aside[keys.aside(key)] = text;
          aside[key] = writeChunk(read.strokes);
        }
        file.chunks.set(chunk, new Map(read.strokes.map((s) => [s.id, s])));
        for (const s of read.strokes) file.chunkOf.set(s.id, chunk);
        strokes.push(...read.strokes);
      } catch (e) {
        if (!(e instanceof RecordError)) throw e;
        aside[keys.aside(key)] = text;
        broken.push(key);
        problems.push('A part of the ink of this note is damaged. It was set aside and the rest was opened; nothing else is lost.');
      }
    }
    if (lost) problems.push(`${lost} ${lost === 1 ? 'stroke' : 'strokes'} of this note could not be read. The damaged record was set aside and the rest was opened.`);
    // First the copy, then the removal: a crash between the two leaves the record twice, never nowhere.
    if (Object.keys(aside).length) await db.setMany(aside);
    if (broken.length) await db.removeMany(broken);
    // Ink on a page that the header does not know would never be seen: it goes to the first page.
    const known = new Set(header.pages.map((p) => p.id));
    const placed = strokes.map((s) => (known.has(s.page) ? s : { ...s, page: header.pages[0].id }));
    file.note = applyEdit({ header, ink: {} }, { put: placed.sort(strokeOrder) }).note;
    return { note: file.note, file, problems: [...new Set(problems)] };
  }

  /** Takes over the changed note; it is on disk within a second. */
  record(edit: Edit, note: Note): void {
    this.note = note;
    if (edit.header) this.headerDirty = true;
    for (const c of edit.cut ?? []) {
      const chunk = this.chunkOf.get(c.id);
      if (chunk === undefined) continue;
      this.chunks.get(chunk)?.delete(c.id);
      this.dirty.add(chunk);
    }
    for (const s of edit.put ?? []) this.assign(s);
    if (this.dirty.size || this.headerDirty) this.schedule(WAIT_MS);
  }

  private assign(s: Stroke): void {
    // An erased stroke that comes back goes where it was, so that one record changes and not two.
    let chunk = this.chunkOf.get(s.id);
    if (chunk === undefined) {
      chunk = Math.max(0, ...this.chunks.keys());
      if ((this.chunks.get(chunk)?.size ?? 0) >= CHUNK_STROKES) chunk++;
      this.chunkOf.set(s.id, chunk);
    }
    let list = this.chunks.get(chunk);
    if (!list) this.chunks.set(chunk, (list = new Map()));
    list.set(s.id, s);
    this.dirty.add(chunk);
  }

  private schedule(ms: number): void {
    this.onState('saving');
    if (this.timer || this.stopped) return;
    this.timer = setTimeout(() => {
      this.timer = null;
      // What fails is told through onState and tried again.
      this.flush().catch(() => undefined);
    }, ms);
  }

  /** Writes everything that waits; `whole`: the time of the last stroke in the header too, which else may lie some seconds behind. @throws what storage throws; the changes are kept and tried again. */
  async flush(whole = false): Promise<void> {
    while (this.writing) await this.writing.catch(() => undefined);
    if (whole && this.note.header.changed !== this.writtenChanged) this.headerDirty = true;
    if (!this.dirty.size && !this.headerDirty) return;
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    this.writing = this.write();
    try {
      await this.writing;
    } finally {
      this.writing = null;
    }
    if (this.dirty.size || this.headerDirty) this.schedule(WAIT_MS);
    else this.onState('saved');
  }

  private async write(): Promise<void> {
    const { id } = this.note.header;
    const dirty = [...this.dirty];
    const now = Date.now();
    const header = this.headerDirty || now - this.headerAt > HEADER_EVERY_MS;
    const { changed } = this.note.header;
    this.dirty.clear();
    this.headerDirty = false;
    const entries: Record<string, string> = {};
    const gone: string[] = [];
    for (const chunk of dirty) {
      const list = this.chunks.get(chunk)!;
      if (list.size) entries[keys.ink(id, chunk)] = writeChunk(list.values());
      else gone.push(keys.ink(id, chunk));
    }
    if (header) entries[keys.note(id)] = writeHeader(this.note.header);
    // In the same step as the ink it stands for.
    const extent = dirty.reduce((n, chunk) => Math.max(n, chunk + 1), this.extent);
    if (extent > this.extent) entries[keys.extent(id)] = String(extent);
    try {
      if (Object.keys(entries).length) await notesDb().setMany(entries);
      if (gone.length) await notesDb().removeMany(gone);
    } catch (e) {
      for (const chunk of dirty) this.dirty.add(chunk);
      this.headerDirty ||= header;
      this.onState('failed', e);
      if (!this.timer && !this.stopped) {
        this.timer = setTimeout(() => {
          this.timer = null;
          this.flush().catch(() => undefined);
        }, RETRY_MS);
      }
      throw e;
    }
    this.extent = extent;
    if (header) [this.writtenChanged, this.headerAt] = [changed, now];
    this.onWritten([...Object.keys(entries), ...gone]);
  }

  /** Another tab wrote these records: reads them and returns the edit that brings this copy to them. */
  async follow(written: readonly string[]): Promise<Edit> {
    const { id } = this.note.header;
    const found = await readMany(notesDb(), written);
    const put: Stroke[] = [];
    const cut: { id: string; page: string }[] = [];
    let header: Edit['header'];
    for (const key of written) {
      const text = found.get(key);
      if (key === keys.note(id)) {
        if (text === undefined) continue;
        const { v: _, id: __, made: ___, demo: ____, ...rest } = readHeader(text);
        header = rest;
        continue;
      }
      const chunk = Number(key.slice(keys.inkPrefix(id).length));
      if (!key.startsWith(keys.inkPrefix(id))) continue;
      const now = text === undefined ? [] : readChunk(text).strokes;
      const ids = new Set(now.map((s) => s.id));
      for (const s of this.chunks.get(chunk)?.values() ?? []) if (!ids.has(s.id)) cut.push({ id: s.id, page: s.page });
      put.push(...now);
      this.chunks.set(chunk, new Map(now.map((s) => [s.id, s])));
      for (const s of now) this.chunkOf.set(s.id, chunk);
    }
    const edit: Edit = { put, cut, ...(header ? { header } : {}) };
    this.note = applyEdit(this.note, edit).note;
    return edit;
  }

  /** Writes what waits and writes no more after it. */
  async close(): Promise<void> {
    await this.flush(true);
    this.stopped = true;
    if (this.timer) clearTimeout(this.timer);
  }
}

/** All records of a note that is new or takes another's place. */
function recordsOf({ header, ink }: Note): { entries: Record<string, string>; chunks: number } {
  const strokes = Object.values(ink).flat();
  const entries: Record<string, string> = { [keys.note(header.id)]: writeHeader(header) };
  let chunks = 0;
  for (let i = 0; i < strokes.length; i += CHUNK_STROKES) entries[keys.ink(header.id, chunks++)] = writeChunk(strokes.slice(i, i + CHUNK_STROKES));
  if (chunks) entries[keys.extent(header.id)] = String(chunks);
  return { entries, chunks };
}

/** Stores a note that is not there yet, in one step. A copy is locked when the note it was made of (`of`) is. */
export async function writeNewNote(note: Note, of?: string): Promise<void> {
  const cover = of === undefined ? null : await coverLike(of, note.header);
  await notesDb().setMany({ ...recordsOf(note).entries, ...(cover ? { [keys.cover(cover.id)]: JSON.stringify(cover) } : {}) });
}

/**
 * Puts a note in the place of one with the same id, or where there was none. Ink of the old one that the new one has no record for goes in
 * a second step, which is written down in the first: a program that ends in between goes on with it (`finishReplacing`). `cover`: it is locked.
 */
export async function replaceNote(note: Note, cover?: Cover): Promise<void> {
  const { entries, chunks } = recordsOf(note);
  if (cover) entries[keys.cover(cover.id)] = JSON.stringify(cover);
  const { id } = note.header;
  await notesDb().setMany({ ...entries, [keys.replacing(id)]: String(chunks) });
  await finishReplacing(id, chunks);
}

export async function finishReplacing(note: string, chunks: number): Promise<void> {
  const prefix = keys.inkPrefix(note);
  const left = (await notesDb().getAllKeys()).filter((k) => (k.startsWith(prefix) && Number(k.slice(prefix.length)) >= chunks) || k.startsWith(keys.historyPrefix(note)));
  await notesDb().removeMany([...left, keys.review(note), keys.picture(note), keys.replacing(note)]);
}
