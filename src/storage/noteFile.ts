/** A note on disk: keeps what changed, writes it soon, repairs what is damaged. Who only looks at one reads it (`noteReading.ts`). */
import { newId } from '../core/id';
import { applyEdit, type Edit, type Gone, type Note, type RowPut } from '../core/note/edit';
import type { Placed } from '../core/note/kinds/kinds';
import { orderAt } from '../core/note/order';
import { readInk, writeInk } from '../core/note/records/inkChunk';
import { noteRecord, readExtent, writeExtent, type Extent } from '../core/note/records/noteRecord';
import { readRows, writeRows, type PlacedRow } from '../core/note/records/rowChunk';
import { summaryOf, type NoteSummary } from '../core/note/schema';
import { inTheirOrder } from '../core/note/tables';
import type { By } from '../core/note/version';
import { writeCover, type Cover } from '../core/vault/vault';
import { Chunks } from './chunks';
import { alone } from './alone';
import { keepContent, letGo, storedOf } from './contentFile';
import { keys, keysStarting, notesDb, readMany } from './databases';
import { findNote, problemsOf, type Damaged, type Found } from './noteReading';
import { placeOf } from './recordKinds';
import { RetryingWriter, type SaveState } from './retryingWriter';
import { adopt, coverCame, coverLike, coverNow, knowCover } from './vaultFile';
import { RecordError } from '../core/record';

export type { SaveState } from './retryingWriter';

/** Things in a chunk: small enough to be written again for every new stroke, large enough that a note is few records. */
const CHUNK = 128;
/** How long a change waits for others before it is written, ms. */
const WAIT_MS = 350;
/** Ink alone brings the record of the note, with the time of the last change in it, to disk so often, ms. */
const HEADER_EVERY_MS = 5000;

export interface Opened {
  readonly note: Note;
  readonly file: NoteFile;
  /** What could not be read, in sentences for the user. */
  readonly problems: readonly string[];
  /** Why it may be read and not changed: it was written by a newer program; null when it may. */
  readonly newer: string | null;
}

/** That a note is held against everybody else, in this tab and others (`platform/tabs.ts`): only who has it may write the note. */
export interface Hold {
  readonly note: string;
}

type InkEntry = { readonly it: Placed } | { readonly gone: Gone };
const rowKey = (table: string, id: string): string => `${table}/${id}`;

export class NoteFile {
  private readonly ink = new Chunks<InkEntry>(CHUNK);
  private readonly rows = new Chunks<PlacedRow>(CHUNK);
  private headerDirty = false;
  /** Contents that the note has pointed to since it was opened: a step taken back may point to them again. Its record names them all. */
  private named: ReadonlySet<string>;
  /** As it is on disk. */
  private extent: Extent = { ink: 0, rows: 0 };
  /** The state that the record on disk says the note is in, empty while it says that the note is being written; and when it was written (Date.now()). */
  private writtenState = '';
  private headerAt = 0;
  private isSettling = false;
  private readonly writer = new RetryingWriter(WAIT_MS, () => this.write(), () => this.isDirty);
  onWritten: (written: readonly string[]) => void = () => undefined;

  private constructor(
    private note: Note,
    private readonly mayWrite: boolean,
    named: readonly string[] = [],
  ) {
    this.named = new Set([...named, ...(note.header.contents ?? [])]);
  }

  set onState(told: (state: SaveState, error?: unknown) => void) {
    this.writer.onState = told;
  }

  private get isDirty(): boolean {
    return this.ink.isDirty || this.rows.isDirty || this.headerDirty;
  }

  /**
   * A note to be written, by whoever holds it. What is damaged is set aside and what is missing is put right.
   * @throws RecordError when there is no such note or its record is beyond reading, NewerError when a newer program wrote what this one cannot show.
   */
  static async openToWrite({ note: id }: Hold, by?: By): Promise<Opened> {
    await knowCover(id);
    const found = await findNote(id);
    // What a newer program wrote stays as it is.
    const file = NoteFile.of(found, !found.newer);
    if (!found.newer) await setAside(found.damaged);
    if (found.before) file.adopt();
    if (!found.hasExtent && !found.newer) await notesDb().setMany({ [keys.extent(id)]: writeExtent(found.extent) });
    const mend = repair(file.note, found.summary);
    if (mend) {
      const mended = applyEdit(file.note, mend, by).note;
      // It is shown whole.
      if (found.newer) file.note = mended;
      else file.record(mend, mended);
    }
    const problems = problemsOf(found, 'It was set aside and the rest was opened. Settings shows what was set aside.');
    return { note: file.note, file, problems, newer: found.newer ? 'This note was written by a newer Scrivo. It can be read here and not changed, so that nothing of it is lost. Update Scrivo to write in it.' : null };
  }

  /** A note that another tab holds: it is shown, and never written here. */
  static async openToFollow(id: string): Promise<Opened> {
    const found = await findNote(id);
    return { note: found.note, file: NoteFile.of(found, false), problems: problemsOf(found, 'The tab that writes it says more.'), newer: null };
  }

  private static of({ note, summary, extent, ink, rows }: Found, mayWrite: boolean): NoteFile {
    const file = new NoteFile(note, mayWrite, summary.contents);
    [file.extent, file.writtenState, file.headerAt] = [extent, summary.state ?? '', Date.now()];
    ink.forEach((list, k) => file.ink.load(k, [...(list?.placed ?? []).map((it) => [it.id, { it }] as const), ...(list?.gone ?? []).map(([key, trace]) => [key, { gone: trace }] as const)]));
    rows.forEach((list, k) => file.rows.load(k, list.rows.map((r) => [rowKey(r.table, r.id), r] as const)));
    return file;
  }

  /** All rows have yet to be written: they come from a record of before there were rows. */
  private adopt(): void {
    for (const [table, list] of Object.entries(this.note.rows)) for (const [id, row] of list) if (!this.rows.has(rowKey(table, id))) this.rows.put(rowKey(table, id), { table, id, ...row });
    this.rows.clean();
    this.rowsPending = true;
  }

  private rowsPending = false;

  /** The note with all that is not on disk yet. */
  get current(): Note {
    return this.note;
  }

  /** Takes over the changed note; it is on disk within a second. */
  record(edit: Edit, note: Note): void {
    if (!this.mayWrite) throw new Error('This note is held by another tab, or a newer program wrote it: it is not written here.');
    this.note = note;
    const found = finder(note, edit);
    for (const { id } of edit.cut ?? []) {
      const trace = note.gone.get(id);
      if (trace) this.ink.put(id, { gone: trace });
      else if (!found(id)) this.ink.drop(id);
    }
    for (const { id } of edit.put ?? []) {
      const it = found(id);
      if (it) this.ink.put(id, { it });
    }
    for (const { table, id } of edit.rows ?? []) {
      const row = note.rows[table]?.get(id);
      if (row) this.rows.put(rowKey(table, id), { table, id, ...row });
      else this.rows.drop(rowKey(table, id));
      this.headerDirty = true;
    }
    this.name(note.header.contents ?? []);
    if (this.isDirty) this.writer.schedule();
  }

  private name(contents: readonly string[]): void {
    if (contents.every((hash) => this.named.has(hash))) return;
    this.named = new Set([...this.named, ...contents]);
    this.headerDirty = true;
  }

  /** Stores a picture or file that the note is about to point to, and gives its hash. @throws what storage throws. */
  keep(bytes: Uint8Array): Promise<string> {
    return keepContent(bytes, async (hash) => {
      this.name([hash]);
      adopt({ ...this.note.header, contents: [hash] });
      await this.flush();
    });
  }

  /** Whether the note may point to this content: it was stored for it, or the note has pointed to it since it was opened. What it does not hold can be gone at any moment. */
  holds(hash: string): boolean {
    return this.named.has(hash);
  }

  /**
   * Contents and takes that lie on this device for something else become the note's too. Nothing is let go of while they are looked for, and until its record on disk names
   * them. `put` is told which are there, and changes the note. @throws what storage throws; nothing was put then.
   */
  share(contents: readonly string[], takes: readonly string[], put: (there: ReadonlySet<string>) => void): Promise<void> {
    return alone('contents', async () => {
      const there = await storedOf(contents, takes);
      const found = contents.filter((hash) => there.has(hash));
      if (found.length) {
        this.name(found);
        adopt({ ...this.note.header, contents: found });
        await this.flush();
      }
      put(there);
      // Takes are named by what was put; a failure is told and tried again as that of every change.
      if (takes.length) await this.flush().catch(() => undefined);
    });
  }

  /** Writes everything that waits; `whole`: the state of the note in its record too, which else says that it is being written. @throws what storage throws; the changes are kept and tried again. */
  flush(whole = false): Promise<void> {
    if (whole && this.mayWrite && this.note.header.state !== this.writtenState) this.headerDirty = this.isSettling = true;
    return this.writer.flush();
  }

  private async write(): Promise<void> {
    const { id, state = '' } = this.note.header;
    const now = Date.now();
    const settles = this.isSettling;
    let written: string[] = [];
    // A record that says what state the note is in says it of all that is on disk.
    const header = this.headerDirty || now - this.headerAt > HEADER_EVERY_MS || this.writtenState !== '';
    // A record of today must not stand without the rows that were in the one of before.
    if (header && this.rowsPending) this.rows.soil();
    const [ink, rows] = [this.ink.drain(), this.rows.drain()];
    // In the same step as what it stands for.
    const extent: Extent = { ink: Math.max(this.extent.ink, this.ink.count), rows: this.rowsPending && !header ? this.extent.rows : Math.max(this.extent.rows, this.rows.count), state };
    const summary = this.summary(settles ? state : '');
    this.headerDirty = this.isSettling = false;
    /** Ink and rows do not wait for a record that cannot be written: that is told, and tried again. */
    let refused: unknown = null;
    try {
      const entries: Record<string, string> = {};
      for (const [k, list] of ink) entries[keys.ink(id, k)] = writeInk(list.flatMap(([, e]) => ('it' in e ? [e.it] : [])), list.flatMap(([key, e]) => ('gone' in e ? [[key, e.gone] as const] : [])));
      for (const [k, list] of rows) entries[keys.rows(id, k)] = writeRows(list.map(([, row]) => row));
      try {
        if (header) entries[keys.note(id)] = noteRecord.write(summary);
        const cover = header ? await coverNow(summary) : null;
        if (cover) entries[keys.cover(id)] = writeCover(cover);
      } catch (e) {
        if (!(e instanceof RecordError)) throw e;
        refused = e;
      }
      if (Object.keys(entries).length) await notesDb().setMany({ ...entries, [keys.extent(id)]: writeExtent(extent) });
      written = [...Object.keys(entries), keys.extent(id)];
    } catch (e) {
      this.ink.soil(ink.map(([k]) => k));
      this.rows.soil(rows.map(([k]) => k));
      this.headerDirty ||= header;
      this.isSettling ||= settles;
      throw e;
    }
    this.extent = extent;
    if (refused) {
      this.headerDirty ||= header;
      this.isSettling ||= settles;
    } else if (header) [this.writtenState, this.headerAt, this.rowsPending] = [settles ? state : '', now, false];
    this.onWritten(written);
    if (refused) throw refused;
  }

  private summary(state: string): NoteSummary {
    const { contents: _, ...rest } = summaryOf(this.note.header);
    return { ...rest, state, ...(this.named.size ? { contents: [...this.named].sort() } : {}) };
  }

  /** Another tab wrote these records: reads them and returns the edit that brings this copy to them. */
  async follow(written: readonly string[]): Promise<Edit> {
    const { id } = this.note.header;
    const texts = await readMany(notesDb(), written);
    const put: Placed[] = [];
    const cut: { id: string; page: string; s?: Gone['s']; past?: Gone['past'] }[] = [];
    const rows: RowPut[] = [];
    let { changed } = this.note.header;
    for (const key of written) {
      const text = texts.get(key);
      if (text === undefined) continue;
      if (key === keys.note(id)) changed = noteRecord.peek(text).value.changed;
      else if (key.startsWith(keys.inkPrefix(id))) {
        const read = readInk(text);
        const before = this.ink.load(Number(key.slice(keys.inkPrefix(id).length)), [...read.placed.map((it) => [it.id, { it }] as const), ...read.gone.map(([k, gone]) => [k, { gone }] as const)]);
        put.push(...read.placed);
        const now = new Set(read.placed.map((s) => s.id));
        for (const [k, gone] of read.gone) cut.push({ id: k, page: gone.page, s: gone.s, ...(gone.past ? { past: gone.past } : {}) });
        for (const [k, e] of before) if ('it' in e && !now.has(k)) cut.push({ id: k, page: e.it.page });
      } else if (key.startsWith(keys.rowsPrefix(id))) {
        const read = readRows(text);
        this.rows.load(Number(key.slice(keys.rowsPrefix(id).length)), read.rows.map((r) => [rowKey(r.table, r.id), r] as const));
        rows.push(...read.rows);
      }
    }
    const edit: Edit = { put, cut: moved(cut, put, this.note), rows, foreign: { changed } };
    this.note = applyEdit(this.note, edit).note;
    return edit;
  }

  /** Writes no more of what waits: the note is gone. */
  giveUp(): void {
    this.writer.stop();
  }

  /** Writes what waits and writes no more after it. Steps cannot be taken back from here on: contents that the note no longer points to are let go, unless something else does. */
  async close(): Promise<void> {
    if (!this.mayWrite) return this.writer.stop();
    await this.flush(true);
    const needed = new Set(this.note.header.contents);
    const left = [...this.named].filter((hash) => !needed.has(hash));
    if (left.length) {
      await letGo(left, keys.note(this.note.header.id));
      // The record names them until they are gone, so that a program that ends in between goes on with it.
      [this.named, this.headerDirty] = [needed, true];
      await this.flush();
    }
    this.writer.stop();
  }
}

/** Things that are on another page now leave the one they were on. */
function moved(cut: readonly { id: string; page: string }[], put: readonly Placed[], note: Note): { id: string; page: string }[] {
  const pages = new Map(put.map((p) => [p.id, p.page]));
  const out = [...cut];
  for (const [page, list] of Object.entries(note.ink)) for (const { id } of list) if (pages.has(id) && pages.get(id) !== page) out.push({ id, page });
  return out;
}

/** Finds what an edit put, as it is in the note. */
function finder(note: Note, edit: Edit): (id: string) => Placed | undefined {
  const pages = new Set([...(edit.put ?? []).map((p) => p.page), ...(edit.cut ?? []).map((c) => c.page)]);
  if ((edit.put?.length ?? 0) + (edit.cut?.length ?? 0) < 4) {
    return (id) => {
      for (const page of pages) {
        const it = note.ink[page]?.findLast((p) => p.id === id);
        if (it) return it;
      }
      return undefined;
    };
  }
  const all = new Map<string, Placed>();
  for (const page of pages) for (const it of note.ink[page] ?? []) all.set(it.id, it);
  return (id) => all.get(id);
}

/** First the copy, then the removal: a crash between the two leaves the record twice, never nowhere. */
async function setAside(damaged: readonly Damaged[]): Promise<void> {
  if (!damaged.length) return;
  await notesDb().setMany(Object.fromEntries(damaged.flatMap(({ key, text, rest }) => [[keys.aside(key), text], ...(rest === null ? [] : [[key, rest]])])));
  const broken = damaged.filter((d) => d.rest === null).map((d) => d.key);
  if (broken.length) await notesDb().removeMany(broken);
}

/** What a note needs that lost some of its rows: the pages that had to be guessed become its own, and so do the takes that its small record still names. Null when nothing. */
function repair(note: Note, summary: NoteSummary): Edit | null {
  const rows: RowPut[] = [...(note.rows.pages ?? [])].flatMap(([id, { guessed, v }]) => (guessed ? [{ table: 'pages', id, v }] : []));
  const takes = inTheirOrder(note.rows, 'takes');
  const lost = summary.takes.filter((t) => !note.rows.takes?.has(t.id));
  const keysOf = orderAt(takes, takes.length, lost.length);
  lost.forEach(({ id, ...v }, i) => rows.push({ table: 'takes', id, v: { ...v, order: keysOf[i] } }));
  if (lost.length) {
    const stretches = inTheirOrder(note.rows, 'stretches');
    const missing = summary.timeline.filter((s) => lost.some((t) => t.id === s.take) && !stretches.some((x) => x.take === s.take));
    const at = orderAt(stretches, stretches.length, missing.length);
    missing.forEach(({ take, from, to }, i) => rows.push({ table: 'stretches', id: newId(), v: { take, from, to, order: at[i] } }));
  }
  if (!note.rows.note?.has('title') && summary.title) rows.push({ table: 'note', id: 'title', v: { value: summary.title } });
  return rows.length ? { rows } : null;
}

/** All records of a note that is new or takes another's place. */
export function recordsOf({ header, rows, ink, gone }: Note): { entries: Record<string, string>; extent: Extent } {
  const { id } = header;
  const entries: Record<string, string> = { [keys.note(id)]: noteRecord.write(summaryOf(header)) };
  const all = Object.entries(rows).flatMap(([table, list]) => [...list].flatMap(([row, v]) => (v.guessed ? [] : [{ table, id: row, ...v }])));
  const things = [...Object.values(ink).flat().map((it) => ({ it })), ...[...gone].map((trace) => ({ trace }))];
  const extent = { ink: Math.ceil(things.length / CHUNK), rows: Math.ceil(all.length / CHUNK), state: header.state ?? '' };
  for (let k = 0; k < extent.ink; k++) {
    const part = things.slice(k * CHUNK, (k + 1) * CHUNK);
    entries[keys.ink(id, k)] = writeInk(part.flatMap((t) => ('it' in t ? [t.it] : [])), part.flatMap((t) => ('trace' in t ? [t.trace] : [])));
  }
  for (let k = 0; k < extent.rows; k++) entries[keys.rows(id, k)] = writeRows(all.slice(k * CHUNK, (k + 1) * CHUNK));
  entries[keys.extent(id)] = writeExtent(extent);
  return { entries, extent };
}

/** Stores a note that is not there yet, in one step. A copy is locked when the note it was made of (`of`) is. */
export async function writeNewNote(note: Note, of?: string): Promise<void> {
  const cover = of === undefined ? null : await coverLike(of, note.header);
  try {
    await notesDb().setMany({ ...recordsOf(note).entries, ...(cover ? { [keys.cover(cover.id)]: writeCover(cover) } : {}) });
  } finally {
    coverCame(note.header.id);
  }
}

/**
 * Puts a note in the place of one with the same id, or where there was none. What the old one had more records of goes in a second step, which
 * is written down in the first: a program that ends in between goes on with it (`finishReplacing`). `cover`: it is locked.
 */
export async function replaceNote(hold: Hold, note: Note, cover?: Cover): Promise<void> {
  if (hold.note !== note.header.id) throw new Error('Another note is held than the one to be replaced.');
  await knowCover(note.header.id);
  const { entries } = recordsOf(note);
  if (cover) entries[keys.cover(cover.id)] = writeCover(cover);
  const { id } = note.header;
  await notesDb().setMany({ ...entries, [keys.replacing(id)]: JSON.stringify({ v: 2 }) });
  await finishReplacing(hold);
}

/** Takes away what a note that was replaced has no use for: records beyond its extent, and what can be taken back or made anew. */
export async function finishReplacing({ note }: Hold): Promise<void> {
  const db = notesDb();
  const extent = readExtent(await db.getItem(keys.extent(note)));
  // Somebody else may have brought it to its end, and written on.
  if (!extent || (await db.getItem(keys.replacing(note))) === null) return;
  const beyond = (key: string): boolean => {
    const { kind } = placeOf('notes', key);
    const k = Number(key.split('/')[2]);
    return kind === 'ink' ? k >= extent.ink : kind === 'rows' ? k >= extent.rows : true;
  };
  const mine = await keysStarting('notes', keys.inkPrefix(note), keys.rowsPrefix(note), keys.historyPrefix(note));
  await db.removeMany([...mine.filter(beyond), keys.review(note), keys.picture(note), keys.textOf(note), keys.replacing(note)]);
}
