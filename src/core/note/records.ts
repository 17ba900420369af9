/**
 * How a note is laid down in records of text: a header, and its ink in chunks.
 *
 * A chunk record is one line of JSON about its strokes, a line feed, and the packed points of all of them as characters
 * 0..255. Text of such characters is kept by browsers at a byte a character, which base64 in JSON would exceed by a third.
 * Pens, pages and takes are named once and pointed to by number; bounds and length of a stroke follow from its points.
 */
import { z } from 'zod';
import { extrasSchema, headerSchema, penSchema, type NoteHeader } from './schema';
import { penKey, type Pen } from '../ink/pen';
import { boxOf, extrasOf, pointsOf, type Stroke } from '../ink/stroke';
import { binaryOf, textOf } from './binaryText';

const index = z.number().int().min(0);
const chunkHead = z.object({
  v: z.literal(1),
  /** Wall clock that the strokes count from, ms since the epoch. */
  wall: z.number(),
  pages: z.array(z.string().min(1)),
  pens: z.array(penSchema),
  takes: z.array(z.string().min(1)),
  strokes: z.array(z.unknown()),
});
const id = z.string().min(1).max(64);
const at = z.number().min(0);
const size = z.number().int().min(1);
/** Id, page, pen, wall clock, bytes of points; then take and take time in ms where it has a stamp; then its extras where it has any. */
const storedStroke = z.union([
  z.tuple([id, index, index, z.number(), size]),
  z.tuple([id, index, index, z.number(), size, extrasSchema]),
  z.tuple([id, index, index, z.number(), size, index, at]),
  z.tuple([id, index, index, z.number(), size, index, at, extrasSchema]),
]);
const SIZE = 4;

export class RecordError extends Error {
  readonly name = 'RecordError';
}

export const writeHeader = (header: NoteHeader): string => JSON.stringify(header);

/** @throws RecordError when the text is not a note header. */
export function readHeader(text: string): NoteHeader {
  const parsed = headerSchema.safeParse(parseJson(text));
  if (!parsed.success) throw new RecordError(`The note's header cannot be read (${firstIssue(parsed.error)}).`);
  return parsed.data;
}

export function writeChunk(strokes: Iterable<Stroke>): string {
  const [pages, pens, takes] = [new Names<string>(), new Names<Pen>(), new Names<string>()];
  const list = [...strokes];
  const wall = list[0]?.wall ?? 0;
  const rows = list.map((stroke) => {
    const { id, page, pen, stamp, wall: made, pts } = stroke;
    const row: unknown[] = [id, pages.at(page, page), pens.at(penKey(pen), pen), made - wall, pts.length];
    if (stamp) row.push(takes.at(stamp.take, stamp.take), stamp.at);
    const extras = extrasOf(stroke);
    if (extras) row.push(extras);
    return row;
  });
  const head = { v: 1, wall, pages: pages.list, pens: pens.list, takes: takes.list, strokes: rows };
  return `${JSON.stringify(head)}\n${list.map((s) => textOf(s.pts)).join('')}`;
}

class Names<T> {
  readonly list: T[] = [];
  private readonly known = new Map<string, number>();
  at(key: string, value: T): number {
    let i = this.known.get(key);
    if (i === undefined) this.known.set(key, (i = this.list.push(value) - 1));
    return i;
  }
}

/** Strokes that cannot be read are left out and counted in `lost`. @throws RecordError when the record as a whole cannot be read. */
export function readChunk(text: string): { strokes: Stroke[]; lost: number } {
  const end = text.indexOf('\n');
  const head = chunkHead.safeParse(parseJson(end < 0 ? text : text.slice(0, end)));
  if (!head.success) throw new RecordError(`A record of ink cannot be read (${firstIssue(head.error)}).`);
  const { wall, pages, pens, takes } = head.data;
  const strokes: Stroke[] = [];
  let lost = 0;
  let pos = end + 1;
  for (const raw of head.data.strokes) {
    const parsed = storedStroke.safeParse(raw);
    const size = parsed.success ? parsed.data[SIZE] : Array.isArray(raw) ? (raw as unknown[])[SIZE] : null;
    // Without its size the points of all that follow cannot be found.
    if (typeof size !== 'number') throw new RecordError('A record of ink cannot be read (a stroke without its size).');
    const from = pos;
    pos += size;
    if (!parsed.success) {
      lost++;
      continue;
    }
    const [id, page, pen, since, , ...rest] = parsed.data;
    const take = typeof rest[0] === 'number' ? rest[0] : undefined;
    const at = typeof rest[1] === 'number' ? rest[1] : undefined;
    const last = rest[rest.length - 1];
    const extras = typeof last === 'object' ? last : {};
    const pts = binaryOf(text.slice(from, pos));
    try {
      const points = pointsOf({ pts });
      const known = pages[page] !== undefined && pens[pen] !== undefined && (take === undefined || takes[take] !== undefined);
      if (pts.length !== size || points.n === 0 || !known) throw new RangeError('The stroke is not whole.');
      const stamp = take === undefined || at === undefined ? null : { take: takes[take], at };
      strokes.push(Object.freeze({ id, page: pages[page], pen: pens[pen], stamp, wall: wall + since, pts, box: boxOf(points), ms: points.t[points.n - 1], ...extras }));
    } catch (e) {
      if (!(e instanceof RangeError)) throw e;
      lost++;
    }
  }
  return { strokes, lost };
}

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw new RecordError('A record is not JSON.');
  }
}

const firstIssue = (error: z.ZodError): string => {
  const issue = error.issues[0];
  return `${issue?.path.join('.') || 'record'}: ${issue?.message ?? 'invalid'}`;
};
