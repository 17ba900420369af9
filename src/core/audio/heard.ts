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
