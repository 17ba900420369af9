/**
 * The bundle: a note as one open file (`.scrivo`), a ZIP of
 *   note.json          what the note shows, and the rows it is made of, as docs/bundle.md says
 *   ink.inkml          all ink with its stamps
 *   takes/<id>.webm    each take as a sound file any player opens
 *   contents/<hash>    pictures and files that things on the pages point to
 * Files that this version does not know are kept.
 */
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { z } from 'zod';
import { newId } from '../id';
import { placedOrder } from '../ink/stroke';
import { applyEdit, noteOfRows, type Gone, type Note } from '../note/edit';
import { areaInDisguise } from '../note/kinds/area';
import type { Placed } from '../note/kinds/kinds';
import { readRows, writeRows } from '../note/records/rowChunk';
import { headerSchema, type NoteHeader } from '../note/schema';
import { rowsOfHeader, TABLE_NAMES, type Row, type Rows } from '../note/tables';
import type { Past } from '../note/version';
import { readInkml, writeInkml } from './inkml';

export interface Bundle {
  readonly note: Note;
  /** WebM bytes by take id. */
  readonly takes: ReadonlyMap<string, Uint8Array>;
  /** Bytes by hash. */
  readonly contents: ReadonlyMap<string, Uint8Array>;
  /** Files that this version does not know, by name. */
  readonly others: ReadonlyMap<string, Uint8Array>;
}

export class BundleError extends Error {
  readonly name = 'BundleError';
}

const FORMAT = 'scrivo bundle';
const VERSION = 2;
/** No file in a bundle unpacks to more than this; a ZIP can claim anything. */
const LARGEST = 1 << 30;
const UNTOUCHED = 'Nothing was changed';

const goneSchema = z.array(z.tuple([z.string(), z.string(), z.number(), z.string(), z.number()]).rest(z.unknown()));
const unknownSchema = z.array(z.looseObject({ id: z.string(), page: z.string(), kind: z.literal('unknown'), of: z.string(), fields: z.record(z.string(), z.unknown()), wall: z.number(), stamp: z.object({ take: z.string(), at: z.number() }).nullable() }));

export function* allRows(rows: Rows): Generator<Row & { table: string; id: string }> {
  for (const [table, list] of Object.entries(rows)) for (const [id, row] of list) yield { table, id, ...row };
}

/** Rows as they are read from records, by table. */
export function rowsByTable(list: readonly (Row & { table: string; id: string })[]): Rows {
  const rows: Record<string, Map<string, Row>> = Object.fromEntries(TABLE_NAMES.map((t) => [t, new Map()]));
  for (const { table, id, ...row } of list) (rows[table] ??= new Map()).set(id, row);
  return rows;
}

export function writeBundle({ note, takes, contents = new Map(), others = new Map() }: Pick<Bundle, 'note' | 'takes'> & Partial<Bundle>): Uint8Array {
  const placed = Object.values(note.ink).flat().sort(placedOrder);
  const unknown = placed.filter((p) => p.kind === 'unknown').map(({ pts, ...p }) => ({ ...p, pts: [...pts] }));
  const gone = [...note.gone].map(([id, { page, s, past }]) => [id, page, ...s, ...(past ? [past] : [])]);
  const json = { format: FORMAT, ...note.header, v: VERSION, rows: JSON.parse(writeRows(allRows(note.rows))) as unknown, ...(gone.length ? { gone } : {}), ...(unknown.length ? { unknown } : {}) };
  const files: Record<string, Uint8Array | [Uint8Array, { level: 0 }]> = { 'note.json': strToU8(JSON.stringify(json, null, 1)), 'ink.inkml': strToU8(writeInkml(placed)) };
  // Opus is packed as tightly as it gets.
  for (const [id, bytes] of takes) files[`takes/${id}.webm`] = [bytes, { level: 0 }];
  for (const [hash, bytes] of contents) files[`contents/${hash}`] = [bytes, { level: 0 }];
  for (const [name, bytes] of others) files[name] ??= bytes;
  return zipSync(files, { level: 9, mtime: new Date(Math.max(note.header.changed, Date.UTC(1980, 0, 2))) });
}

/** @throws BundleError with a sentence for the user. */
export function readBundle(bytes: Uint8Array): Bundle {
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(bytes, {
      filter: (f) => {
        if (f.originalSize > LARGEST) throw new BundleError('The file holds a part too large to be a note.');
        return !f.name.endsWith('/') && !f.name.includes('..');
      },
    });
  } catch (e) {
    if (e instanceof BundleError) throw e;
    throw new BundleError(`This is not a Scrivo bundle, or it did not arrive whole. ${UNTOUCHED}; get the file again and try once more.`);
  }
  if (!files['note.json']) throw new BundleError(`The file has no note in it. ${UNTOUCHED}.`);
  const json = parsed(strFromU8(files['note.json'])) as { v?: number; rows?: unknown; gone?: unknown; unknown?: unknown };
  if ((json.v ?? 1) > VERSION) throw new BundleError(`This file was made by a newer Scrivo. ${UNTOUCHED}; update Scrivo and try once more.`);
  const read = headerSchema.safeParse(json);
  if (!read.success) throw new BundleError(`The note in this file cannot be read (${read.error.issues[0]?.path.join('.')}). ${UNTOUCHED}.`);
  const header = read.data as unknown as NoteHeader;
  const ink = files['ink.inkml'] ? readInkml(strFromU8(files['ink.inkml']), { page: header.pages[0].id, pen: { kind: 'ball', color: '#16324f', width: 0.4 }, id: newId, wall: header.made }) : [];
  const rows = json.rows ? rowsByTable(readRows(JSON.stringify(json.rows)).rows) : rowsOfHeader(header);
  const placed = [...ink.map((it) => (it.kind === 'stroke' && areaInDisguise(it)) || it), ...unknownOf(json.unknown)];
  const note = applyEdit(noteOfRows(header, rows, {}, goneOf(json.gone)), { put: placed, foreign: { changed: header.changed } }).note;
  const part = (folder: string, pick: (name: string) => string | null) => new Map(Object.entries(files).flatMap(([name, b]) => (name.startsWith(folder) && pick(name) !== null ? [[pick(name)!, b] as const] : [])));
  const known = new Set(note.header.takes.map((t) => t.id));
  const takes = part('takes/', (n) => (known.has(n.slice(6, -5)) && n.endsWith('.webm') ? n.slice(6, -5) : null));
  const contents = part('contents/', (n) => (/^contents\/[0-9a-f]{64}$/.test(n) ? n.slice(9) : null));
  const others = part('', (n) => (n === 'note.json' || n === 'ink.inkml' || /^(takes|contents)\//.test(n) ? null : n));
  return { note, takes, contents, others };
}

function parsed(text: string): object {
  try {
    const json: unknown = JSON.parse(text);
    if (typeof json === 'object' && json !== null) return json;
  } catch {
    // Told below.
  }
  throw new BundleError(`The note in this file cannot be read. ${UNTOUCHED}.`);
}

function goneOf(json: unknown): Map<string, Gone> {
  const read = goneSchema.safeParse(json ?? []);
  return new Map((read.success ? read.data : []).map(([id, page, h, d, q, past]) => [id, { page, s: [h, d, q], ...(past && typeof past === 'object' ? { past: past as Past } : {}) }]));
}

function unknownOf(json: unknown): Placed[] {
  const read = unknownSchema.safeParse(json ?? []);
  return (read.success ? read.data : []).map((u) => ({ ...u, pts: Uint8Array.from((u.pts as number[] | undefined) ?? []), box: (u.box as never) ?? [0, 0, 0, 0], ms: 0 }) as unknown as Placed);
}
