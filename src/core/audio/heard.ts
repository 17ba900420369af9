/**
 * What is known of the sound of a take: how loud it is and where somebody speaks. Kept in one record: a line of JSON, a line feed, and
 * the levels as characters 0..255.
 */
import { z } from 'zod';
import { binaryOf, textOf } from '../note/binaryText';
import { RecordError } from '../record';
import type { Span } from './speech';

export interface Heard {
  /** Length of the sound that was looked at, ms. */
  readonly ms: number;
  /** By levels alone, or by the speech model as well. */
  readonly by: 'levels' | 'model';
  /** Runs of speech, take time in ms, ascending. */
  readonly speech: readonly Span[];
  /** One byte for every 20 ms, see `levelByte`. */
  readonly levels: Uint8Array;
}

const head = z.object({
  v: z.literal(1),
  ms: z.number().min(0),
  by: z.enum(['levels', 'model']),
  /** Steps from edge to edge, ms: silence, speech, silence, speech. */
  edges: z.array(z.number().int().min(0)),
});

export function writeHeard({ ms, by, speech, levels }: Heard): string {
  const edges: number[] = [];
  let last = 0;
  for (const s of speech) {
    for (const edge of [Math.round(s.from), Math.round(s.to)]) {
      edges.push(edge - last);
      last = edge;
    }
  }
  return `${JSON.stringify({ v: 1, ms, by, edges })}\n${textOf(levels)}`;
}

const shared = z.looseObject({
  v: z.literal(1),
  ms: z.number().min(0).max(3.6e9),
  by: z.enum(['levels', 'model']),
  speech: z.array(z.tuple([z.number().int().min(0), z.number().int().min(0)])),
  levels: z.array(z.number().int().min(0).max(255)),
});
/** One level byte for so much sound, ms. */
const LEVEL_MS = 20;

/** As a file that goes along with the sound: plain JSON. */
export const heardFile = ({ ms, by, speech, levels }: Heard): string => JSON.stringify({ v: 1, ms, by, speech: speech.map((s) => [Math.round(s.from), Math.round(s.to)]), levels: [...levels] });

/** Back from such a file, for a take of `length` ms; null where it does not fit the take, or cannot be read: it can be found out anew. */
export function heardOfFile(text: string, length: number): Heard | null {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return null;
  }
  const read = shared.safeParse(json);
  if (!read.success) return null;
  const { ms, by, speech, levels } = read.data;
  const fits = Math.abs(ms - length) < 1000 && Math.abs(levels.length * LEVEL_MS - ms) < 2000;
  const inOrder = speech.every(([from, to], i) => from < to && to <= ms + 1000 && (i === 0 || from >= speech[i - 1][1]));
  return fits && inOrder ? { ms, by, speech: speech.map(([from, to]) => ({ from, to })), levels: Uint8Array.from(levels) } : null;
}

/** @throws RecordError when the record cannot be read. */
export function readHeard(text: string): Heard {
  const end = text.indexOf('\n');
  let json: unknown;
  try {
    json = JSON.parse(text.slice(0, Math.max(0, end)));
  } catch {
    throw new RecordError('A record of levels is not readable.');
  }
  const parsed = head.safeParse(json);
  if (!parsed.success) throw new RecordError('A record of levels is not readable.');
  const { ms, by, edges } = parsed.data;
  const speech: { from: number; to: number }[] = [];
  let at = 0;
  for (let i = 0; i + 1 < edges.length; i += 2) {
    const from = (at += edges[i]);
    const to = (at += edges[i + 1]);
    speech.push({ from, to });
  }
  return { ms, by, speech, levels: binaryOf(text.slice(end + 1)) };
}
