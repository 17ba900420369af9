/**
 * The bundle: a note as one open file (`.scrivo`), a ZIP of
 *   note.json          what the note shows, and the rows it is made of, as docs/bundle.md says
 *   ink.inkml          all ink with its stamps
 *   takes/<id>.webm    each take as a sound file any player opens
 *   heard/<id>.json    where somebody speaks in it, where that was found already
 *   contents/<hash>    pictures and files that things on the pages point to
 * Files that this version does not know are kept.
 */
import { z } from 'zod';
import { newId } from '../id';
import { inkColor } from '../ink/inks';
import { placedOrder } from '../ink/stroke';
import { applyEdit, noteOfRows, type Gone, type Note } from '../note/edit';
import { areaInDisguise } from '../note/kinds/area';
import { readPlaced, type Placed } from '../note/kinds/kinds';
import type { Unknown } from '../note/kinds/unknown';
import { own } from '../note/records/inkChunk';
import { readRows, writeRows } from '../note/records/rowChunk';
import { headerSchema, type NoteHeader } from '../note/schema';
import { rowsOfHeader, TABLE_NAMES, type Row, type Rows } from '../note/tables';
import { pastSchema, versionOfJson } from '../note/version';
import { heardFile, heardOfFile, type Heard } from '../audio/heard';
import type { Packet } from '../audio/opus';
import { inkPages, type BroughtInk } from './inkml/pages';
import { readInkml } from './inkml/read';
import { InkmlError } from './inkml/traceText';
import { writeInkml } from './inkml/write';
import { sizeOf, type Content } from './blobFile';
import { opusHead, packetsOfWebm, webmFrom } from './webmFile';
import { Allowance, ZipError, ZipIn, ZipOut } from './zip';

export interface Bundle {
  readonly note: Note;
  /** WebM bytes by take id. */
  readonly takes: ReadonlyMap<string, Uint8Array>;
  /** What is known of the sound of a take, by its id. */
  readonly heard: ReadonlyMap<string, Heard>;
  /** Bytes by hash. */
  readonly contents: ReadonlyMap<string, Uint8Array>;
  /** Files that this version does not know, by name. */
  readonly others: ReadonlyMap<string, Uint8Array>;
}

export class BundleError extends Error {
  readonly name = 'BundleError';
}

const FORMAT = 'scrivo bundle';
const VERSION = 3;
/** No file in a bundle unpacks to more than this; a ZIP can claim anything. Sound is packed as it is. */
const LARGEST = 1 << 30;
/** What is text in it, bytes: 100,000 strokes are 60 MB of ink. */
const LARGEST_TEXT: Readonly<Record<string, number>> = { 'note.json': 64 << 20, 'ink.inkml': 128 << 20 };
/** Together it becomes no more than so many bytes above its own size. */
const GROWTH = 256 << 20;
const MOST_FILES = 20_000;
const UNTOUCHED = 'Nothing was changed';
const NOT_WHOLE = `This is not a Scrivo bundle, or it did not arrive whole. ${UNTOUCHED}; get the file again and try once more.`;

/** Id and page; then the version, whose clock is two numbers since version 3 and was one before; then what was known before it. */
const goneSchema = z.array(z.tuple([z.string(), z.string()]).rest(z.unknown()));
const unknownSchema = z.array(z.looseObject({ id: z.string(), page: z.string(), kind: z.literal('unknown'), of: z.string(), fields: z.record(z.string(), z.unknown()), wall: z.number(), stamp: z.object({ take: z.string(), at: z.number() }).nullable() }));

function* allRows(rows: Rows): Generator<Row & { table: string; id: string }> {
  for (const [table, list] of Object.entries(rows)) for (const [id, row] of list) yield { table, id, ...row };
}

/** Rows as they are read from records, by table. */
export function rowsByTable(list: readonly (Row & { table: string; id: string })[]): Rows {
  const rows: Record<string, Map<string, Row>> = Object.fromEntries(TABLE_NAMES.map((t) => [t, new Map()]));
  for (const { table, id, ...row } of list) (rows[table] ??= new Map()).set(id, row);
  return rows;
}

/** A bundle that is to be written: its sound may be hours. */
export type Unwritten = Pick<Bundle, 'note'> & Partial<Pick<Bundle, 'heard' | 'contents' | 'others'>> & { readonly takes: ReadonlyMap<string, Content> };

/** What packs and unpacks bundles: this file, or a worker that does it away from the thread that draws. */
export interface Packer {
  writeBundle(bundle: Unwritten): Promise<Blob>;
  /** @throws BundleError with a sentence for the user. */
  readBundle(content: Content): Promise<Bundle>;
  /** The sound of a take, which comes in portions (null after the last), as a file that any player opens; null when there is none. And back. */
  packSound(next: () => Promise<readonly Packet[] | null>): Promise<Blob | null>;
  unpackSound(webm: Uint8Array): Promise<Packet[]>;
  /** The ink of an InkML file, laid onto pages; see `inkPages`. @throws InkmlError */
  readInk(...of: Parameters<typeof inkPages>): Promise<BroughtInk>;
  /** Files as one ZIP; `packed`: already as tight as they get. */
  zip(files: readonly Zipped[]): Promise<Blob>;
}

export interface Zipped {
  readonly name: string;
  readonly content: Content;
  readonly packed: boolean;
  /** ms since the epoch. */
  readonly wall: number;
}

/** The files of a bundle. */
function bundleFiles({ note, takes, heard = new Map(), contents = new Map(), others = new Map() }: Unwritten): Map<string, Content> {
  const placed = Object.values(note.ink).flat().sort(placedOrder);
  const unknown = placed.flatMap((p) => asFields(p) ?? []).map(({ pts, ...p }) => ({ ...p, pts: [...pts] }));
  const gone = [...note.gone].map(([id, { page, s, past }]) => [id, page, ...s, ...(past ? [past] : [])]);
  const json = { format: FORMAT, ...note.header, v: VERSION, rows: JSON.parse(writeRows(allRows(note.rows))) as unknown, ...(gone.length ? { gone } : {}), ...(unknown.length ? { unknown } : {}) };
  const text = new TextEncoder();
  const files = new Map([['note.json', text.encode(JSON.stringify(json, null, 1))], ['ink.inkml', text.encode(writeInkml(placed))]] as [string, Content][]);
  for (const [id, bytes] of takes) files.set(`takes/${id}.webm`, bytes);
  for (const [id, what] of heard) files.set(`heard/${id}.json`, text.encode(heardFile(what)));
  for (const [hash, bytes] of contents) files.set(`contents/${hash}`, bytes);
  for (const [name, bytes] of others) if (!files.has(name)) files.set(name, bytes);
  return files;
}

export const writeBundle: Packer['writeBundle'] = async (bundle) => {
  const zip = new ZipOut();
  // Opus and most contents are packed as tightly as they get.
  for (const [name, bytes] of bundleFiles(bundle)) await zip.add(name, bytes, /^(takes|contents)\//.test(name) ? 0 : 9, bundle.note.header.changed);
  return zip.close();
};

export const readBundle: Packer['readBundle'] = async (content) => {
  let zip: ZipIn;
  try {
    zip = await ZipIn.open(content instanceof Blob ? content : new Blob([content as Uint8Array<ArrayBuffer>]));
  } catch (e) {
    if (!(e instanceof ZipError)) throw e;
    throw new BundleError(NOT_WHOLE);
  }
  try {
    const files = new Map<string, Uint8Array>();
    if (zip.names.length > MOST_FILES) throw new BundleError(`This file has ${zip.names.length} files in it, and a note has no more than ${MOST_FILES}. ${UNTOUCHED}.`);
    const allowance = new Allowance(sizeOf(content) + GROWTH);
    for (const name of zip.names) if (!name.includes('..')) files.set(name, await zip.read(name, LARGEST_TEXT[name] ?? LARGEST, allowance));
    return bundleOfFiles(files);
  } catch (e) {
    if (e instanceof ZipError) throw new BundleError(NOT_WHOLE);
    throw e;
  } finally {
    await zip.close();
  }
};

/** @throws BundleError with a sentence for the user. */
export function bundleOfFiles(files: ReadonlyMap<string, Uint8Array>): Bundle {
  const text = (name: string) => (files.has(name) ? new TextDecoder().decode(files.get(name)) : null);
  const noteText = text('note.json');
  if (noteText === null) throw new BundleError(`The file has no note in it. ${UNTOUCHED}.`);
  const json = parsed(noteText) as { v?: number; rows?: unknown; gone?: unknown; unknown?: unknown };
  if ((json.v ?? 1) > VERSION) throw new BundleError(`This file was made by a newer Scrivo. ${UNTOUCHED}; update Scrivo and try once more.`);
  const read = headerSchema.safeParse(json);
  if (!read.success) throw new BundleError(`The note in this file is not as Scrivo writes it, and cannot be read. ${UNTOUCHED}.`, { cause: read.error });
  const header = read.data as unknown as NoteHeader;
  const inkText = text('ink.inkml');
  const ink = inkText === null ? [] : inkOf(inkText, header);
  const rows = json.rows ? rowsByTable(readRows(JSON.stringify(json.rows)).rows) : rowsOfHeader(header);
  const placed = [...ink.map((it) => (it.kind === 'stroke' && areaInDisguise(it)) || it), ...unknownOf(json.unknown)];
  const note = applyEdit(noteOfRows(header, rows, {}, goneOf(json.gone)), { put: placed, foreign: { changed: header.changed } }).note;
  const part = (pick: (name: string) => string | null | undefined) => new Map([...files].flatMap(([name, b]) => (pick(name) ? [[pick(name)!, b] as const] : [])));
  const known = new Set(note.header.takes.map((t) => t.id));
  const takeOf = (name: string) => /^takes\/([\w-]+)\.webm$/.exec(name)?.[1];
  return {
    note,
    takes: part((n) => (known.has(takeOf(n) ?? '') ? takeOf(n) : null)),
    heard: new Map(
      note.header.takes.flatMap(({ id, ms }): [string, Heard][] => {
        const file = text(`heard/${id}.json`);
        const heard = file === null ? null : heardOfFile(file, ms);
        return heard ? [[id, heard]] : [];
      }),
    ),
    contents: part((n) => /^contents\/([0-9a-f]{64})$/.exec(n)?.[1]),
    others: part((n) => (n === 'note.json' || n === 'ink.inkml' || /^(takes|heard|contents)\//.test(n) ? null : n)),
  };
}

function inkOf(text: string, header: NoteHeader): Placed[] {
  try {
    return readInkml(text, { page: header.pages[0].id, pen: { kind: 'ball', color: inkColor('Navy'), width: 0.4 }, id: newId, wall: header.made });
  } catch (e) {
    if (e instanceof InkmlError) throw new BundleError(`The ink in this file cannot be read (${e.message}) ${UNTOUCHED}.`);
    throw e;
  }
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
  return new Map(
    (read.success ? read.data : []).flatMap(([id, page, ...rest]): [string, Gone][] => {
      const long = typeof rest[1] === 'number' ? 4 : 3;
      const [s, past] = [versionOfJson(rest.slice(0, long)), pastSchema.safeParse(rest[long])];
      return s ? [[id, { page, s, ...(past.success ? { past: past.data } : {}) }]] : [];
    }),
  );
}

/** What InkML has no words for, by its fields: things, and what a later version made. Null for ink. */
function asFields(it: Placed): Unknown | null {
  if (it.kind === 'unknown') return it;
  if (it.kind === 'stroke' || it.kind === 'area') return null;
  const { id, page, box, stamp, wall, ms, group, second, s, past, pts } = it;
  return { id, page, box, stamp, wall, ms, ...(group ? { group } : {}), ...(second ? { second } : {}), ...(s ? { s } : {}), ...(past ? { past } : {}), pts, kind: 'unknown', of: it.kind, fields: own(it) ?? {} };
}

function unknownOf(json: unknown): Placed[] {
  const read = unknownSchema.safeParse(json ?? []);
  return (read.success ? read.data : []).map((u) => {
    const { s: _s, past: _past, ...rest } = u;
    const [s, past] = [versionOfJson(_s), pastSchema.safeParse(_past)];
    const thing = { ...rest, ...(s ? { s } : {}), ...(s && past.success ? { past: past.data } : {}), pts: Uint8Array.from((u.pts as number[] | undefined) ?? []), box: (u.box as never) ?? [0, 0, 0, 0], ms: 0 } as unknown as Unknown;
    const { kind: _, of, fields, box: ___, ms: ____, ...base } = thing;
    return readPlaced(of, base, fields) ?? thing;
  });
}

const packSound: Packer['packSound'] = (next) => webmFrom(next, opusHead(2));

/** Packs where it is called: in tests, in the worker, and where there is none. */
const zip: Packer['zip'] = async (files) => {
  const out = new ZipOut();
  for (const { name, content, packed, wall } of files) await out.add(name, content, packed ? 0 : 9, wall);
  return out.close();
};

const readInk: Packer['readInk'] = async (...of) => inkPages(...of);

export const hereAndNow: Packer = { writeBundle, readBundle, packSound, unpackSound: packetsOfWebm, readInk, zip };
