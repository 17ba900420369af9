/** What is unfinished in a note, kept beside it so that it can be listed across notes without opening each. */
import { z } from 'zod';
import { pointsOf, type Box, type Stroke } from '../ink/stroke';
import { RecordError } from '../note/records';

const ms = z.number().finite();
const gap = z.object({ from: ms, to: ms, speech: ms });

const recordSchema = z.object({
  v: z.literal(1),
  /** `changed` of the note it was made from: another one means that it is out of date. */
  changed: z.number(),
  lag: ms.nullable(),
  /** Share of speech that was written along with, 0..1. */
  share: z.number().min(0).max(1),
  gaps: z.array(gap),
  /** Tagged moments with a picture: an SVG path in mm, and what it covers. */
  tagged: z.array(z.object({ stroke: z.string(), names: z.array(z.string()), page: z.number().int(), at: ms.nullable(), path: z.string(), box: z.tuple([z.number(), z.number(), z.number(), z.number()]) })),
});
export type ReviewRecord = z.infer<typeof recordSchema>;
export type TaggedMoment = ReviewRecord['tagged'][number];

export const writeReview = (record: ReviewRecord): string => JSON.stringify(record);

/** @throws RecordError when the record cannot be read. */
export function readReview(text: string): ReviewRecord {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw new RecordError('A record of what is unfinished is not readable.');
  }
  const parsed = recordSchema.safeParse(json);
  if (!parsed.success) throw new RecordError('A record of what is unfinished is not readable.');
  return parsed.data;
}

/** Corners nearer than this say nothing in a small picture, mm. */
const STEP_MM = 0.4;
/** A picture is a few kilobytes at most: so many corners. */
const MOST_CORNERS = 900;

/** The middle lines of some strokes as one SVG path, mm. */
export function pathOf(strokes: readonly Stroke[]): string {
  const parts: string[] = [];
  let left = MOST_CORNERS;
  for (const s of strokes) {
    const { n, xy } = pointsOf(s);
    let [x, y] = [Infinity, Infinity];
    for (let i = 0; i < n && left > 0; i++) {
      const [px, py] = [xy[2 * i] / 100, xy[2 * i + 1] / 100];
      if (i > 0 && i < n - 1 && Math.hypot(px - x, py - y) < STEP_MM) continue;
      parts.push(`${i === 0 ? 'M' : 'L'}${px.toFixed(1)} ${py.toFixed(1)}`);
      [x, y] = [px, py];
      left--;
    }
    // A dot has no way to go, and a line of no length is not drawn.
    if (n === 1) parts.push('h0.2');
  }
  return parts.join('');
}

export const boxTuple = ([l, t, r, b]: Box): [number, number, number, number] => [l, t, r, b];
