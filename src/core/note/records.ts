/**
 * How a note is laid down in records of text: a header, and its ink in chunks.
 *
 * A chunk record is one line of JSON about its strokes, a line feed, and the packed points of all of them as characters
 * 0..255. Text of such characters is kept by browsers at a byte a character, which base64 in JSON would exceed by a third.
 */
import { z } from 'zod';
import { headerSchema, strokeSchema, type NoteHeader } from './schema';
import type { Stroke } from '../ink/stroke';
import { unpackPoints } from '../ink/points';
import { binaryOf, textOf } from './binaryText';

const chunkHead = z.object({ v: z.literal(1), strokes: z.array(z.unknown()) });
const storedStroke = strokeSchema.extend({ size: z.number().int().min(1).max(10_000_000) });

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
  const heads: unknown[] = [];
  const parts: string[] = [];
  for (const s of strokes) {
    const { pts, ...rest } = s;
    heads.push({ ...rest, size: pts.length });
    parts.push(textOf(pts));
  }
  return `${JSON.stringify({ v: 1, strokes: heads })}\n${parts.join('')}`;
}

/** Strokes that cannot be read are left out and counted in `lost`. @throws RecordError when the record as a whole cannot be read. */
export function readChunk(text: string): { strokes: Stroke[]; lost: number } {
  const end = text.indexOf('\n');
  const head = chunkHead.safeParse(parseJson(end < 0 ? text : text.slice(0, end)));
  if (!head.success) throw new RecordError(`A record of ink cannot be read (${firstIssue(head.error)}).`);
  const strokes: Stroke[] = [];
  let lost = 0;
  let pos = end + 1;
  for (const raw of head.data.strokes) {
    const parsed = storedStroke.safeParse(raw);
    if (!parsed.success) {
      // Without its size the points of all that follow cannot be found.
      const size = (raw as { size?: unknown } | null)?.size;
      if (typeof size !== 'number') throw new RecordError('A record of ink cannot be read (a stroke without its size).');
      pos += size;
      lost++;
      continue;
    }
    const { size, ...rest } = parsed.data;
    const pts = binaryOf(text.slice(pos, pos + size));
    pos += size;
    try {
      if (pts.length !== size || unpackPoints(pts).n === 0) throw new RangeError('Points are missing.');
      strokes.push(Object.freeze({ ...rest, pts }));
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
