/** A note as its records have it. Reading never writes: whoever holds a note repairs what is found here (`noteFile.ts`). */
import { placedOrder } from '../core/ink/stroke';
import { noteOfRows, type Gone, type Note } from '../core/note/edit';
import type { Placed } from '../core/note/kinds/kinds';
import { readInk, writeInk, type InkRead } from '../core/note/records/inkChunk';
import { noteRecord, oldHeader, readExtent, type Extent } from '../core/note/records/noteRecord';
import { readRows, writeRows, type PlacedRow } from '../core/note/records/rowChunk';
import type { NoteHeader, NoteSummary } from '../core/note/schema';
import { rowsOfHeader, TABLE_NAMES, type Row } from '../core/note/tables';
import { NewerError, RecordError } from '../core/record';
import { keys, keysStarting, notesDb, readMany } from './databases';

/** A record that cannot be read, or not all of it. `rest`: what of it can, as a record; null when nothing. */
export interface Damaged {
  readonly key: string;
  readonly text: string;
  readonly rest: string | null;
}

export interface Found {
  readonly note: Note;
  readonly summary: NoteSummary;
  readonly extent: Extent;
  /** Whether the extent was on record, and not looked for. */
  readonly hasExtent: boolean;
  /** Of a record of before there were rows. */
  readonly before: NoteHeader | null;
  readonly ink: readonly (InkRead | null)[];
  readonly rows: readonly { readonly rows: readonly PlacedRow[] }[];
  readonly damaged: readonly Damaged[];
  /** Strokes and entries that are lost in records that can be read otherwise. */
  readonly lost: number;
  readonly newer: boolean;
}

/** So often a note is read anew that another tab writes meanwhile; after that all at once, whatever memory that takes. */
const TRIES = 4;

/** All records of a note as they were at one moment. */
async function snapshot(id: string): Promise<{ extent: Extent; hasExtent: boolean; texts: Map<string, string> }> {
  const db = notesDb();
  const named = ({ ink, rows }: Extent) => [keys.note(id), ...Array.from({ length: rows }, (_, k) => keys.rows(id, k)), ...Array.from({ length: ink }, (_, k) => keys.ink(id, k))];
  for (let n = 0; ; n++) {
    const extentText = await db.getItem(keys.extent(id));
    const known = readExtent(extentText);
    const extent = known ?? (await foundExtent(id));
    const all = n < TRIES ? await readMany(db, named(extent)) : await readMany(db, named(extent), Infinity);
    // It is written with every change of the others, in the same step.
    if (n >= TRIES || (await db.getItem(keys.extent(id))) === extentText) return { extent, hasExtent: known !== null, texts: all };
  }
}

/** Of notes of before the extent was kept, and those whose extent is damaged, the records are looked for. */
const foundExtent = async (id: string): Promise<Extent> => extentOf(id, await keysStarting('notes', keys.inkPrefix(id), keys.rowsPrefix(id)));

function extentOf(id: string, found: readonly string[]): Extent {
  const count = (prefix: string) => Math.max(0, ...found.filter((k) => k.startsWith(prefix)).map((k) => Number(k.slice(prefix.length)) + 1));
  return { ink: count(keys.inkPrefix(id)), rows: count(keys.rowsPrefix(id)) };
}

/** @throws RecordError when there is no such note or its record is beyond reading, NewerError when a newer program wrote what this one cannot show. */
export const findNote = async (id: string): Promise<Found> => foundIn(id, await snapshot(id));

/** A note of records that are not on this device. @throws as `findNote` */
export function noteIn(id: string, texts: Map<string, string>): Found {
  const known = readExtent(texts.get(keys.extent(id)) ?? null);
  return foundIn(id, { extent: known ?? extentOf(id, [...texts.keys()]), hasExtent: known !== null, texts });
}

function foundIn(id: string, { extent, hasExtent, texts }: Awaited<ReturnType<typeof snapshot>>): Found {
  const text = texts.get(keys.note(id));
  if (text === undefined) throw new RecordError('There is no such note on this device. It may have been deleted, or belong to another browser.');
  const { value: summary, newer: isNewer } = noteRecord.peek(text);
  const before = oldHeader(text);
  const damaged: Damaged[] = [];
  let [newer, lost] = [isNewer, 0];
  const record = <T extends { readonly lost: number; readonly newer?: boolean }>(key: string, read: (text: string) => T, rest: (read: T) => string): T | null => {
    const found = texts.get(key);
    if (found === undefined) return null;
    try {
      const it = read(found);
      newer ||= it.newer === true;
      if (it.lost && !it.newer) {
        lost += it.lost;
        damaged.push({ key, text: found, rest: rest(it) });
      }
      return it;
    } catch (e) {
      if (e instanceof NewerError) newer = true;
      else if (e instanceof RecordError) damaged.push({ key, text: found, rest: null });
      else throw e;
      return null;
    }
  };
  const rowLists = Array.from({ length: extent.rows }, (_, k) => record(keys.rows(id, k), readRows, (r) => writeRows(r.rows)) ?? { rows: [] });
  const inkLists = Array.from({ length: extent.ink }, (_, k) => record(keys.ink(id, k), readInk, (r) => writeInk(r.placed, r.gone)));

  const rows: Record<string, Map<string, Row>> = before ? (rowsOfHeader(before) as Record<string, Map<string, Row>>) : Object.fromEntries(TABLE_NAMES.map((t) => [t, new Map()]));
  for (const { rows: list } of rowLists) for (const { table, id: row, ...rest } of list) (rows[table] ??= new Map()).set(row, rest);
  const gone = new Map<string, Gone>();
  const placed: Placed[] = [];
  for (const list of inkLists) {
    placed.push(...(list?.placed ?? []));
    for (const [key, trace] of list?.gone ?? []) gone.set(key, trace);
  }
  const ink: Record<string, Placed[]> = {};
  for (const it of placed.sort(placedOrder)) (ink[it.page] ??= []).push(it);
  return { note: noteOfRows(summary, rows, ink, gone, summary.first), summary, extent, hasExtent, before, ink: inkLists, rows: rowLists, damaged, lost, newer };
}

const PLURAL = (n: number) => (n === 1 ? 'stroke or entry' : 'strokes or entries');

/** What could not be read, in sentences for the user; `did`: what was done about it. */
export function problemsOf({ damaged, lost }: Pick<Found, 'damaged' | 'lost'>, did: string): string[] {
  const whole = damaged.filter((d) => d.rest === null);
  const is = (head: string) => whole.some(({ key }) => key.startsWith(head));
  return [
    ...(is('ink/') ? [`A part of the ink of this note is damaged. ${did}`] : []),
    ...(is('rows/') ? [`A part of what this note is made of (pages, takes, marks) is damaged. ${did}`] : []),
    ...(lost ? [`${lost} ${PLURAL(lost)} of this note could not be read. ${did}`] : []),
  ];
}

export interface ReadNote {
  readonly note: Note;
  /** What could not be read, in sentences for the user; nothing was done about it. */
  readonly problems: readonly string[];
  readonly damaged: readonly Damaged[];
}

/** A note as it is on disk at one moment, for whoever looks at it or hands it on. Nothing is written. @throws as `findNote` */
export async function readNote(id: string): Promise<ReadNote> {
  const found = await findNote(id);
  return { note: found.note, damaged: found.damaged, problems: problemsOf(found, 'It is left as it is, and mended when the note is next opened.') };
}
