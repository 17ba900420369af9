/** What is unfinished in a note, kept beside it so that it can be listed across notes without opening each. */
import { z } from 'zod';
import { pointsOf, type Box } from '../ink/stroke';
import { strokesOf, type Placed } from '../note/kinds/kinds';
import { boxOfLine, linesOf } from '../note/kinds/typed';
import { JsonRecord } from '../record';

const ms = z.number().finite();
const gap = z.object({ from: ms, to: ms, speech: ms });

const recordSchema = z.looseObject({
  /** Of the note it was made from: another one means that it is out of date (`isOf`). */
  state: z.string().max(64).optional(),
  changed: z.number(),
  lag: ms.nullable(),
  /** Share of speech that was written along with, 0..1. */
  share: z.number().min(0).max(1),
  gaps: z.array(gap),
  /** Tagged moments with a picture: an SVG path in mm, and what it covers. */
  tagged: z.array(z.object({ stroke: z.string(), names: z.array(z.string()), page: z.number().int(), at: ms.nullable(), path: z.string(), box: z.tuple([z.number(), z.number(), z.number(), z.number()]) })),
});
type Known<T> = { readonly [K in keyof T as string extends K ? never : K]: T[K] };
export type ReviewRecord = Known<z.infer<typeof recordSchema>>;
export type TaggedMoment = ReviewRecord['tagged'][number];

export const reviewRecord = new JsonRecord<ReviewRecord>({ what: 'what is unfinished', version: 1, schema: recordSchema });

/** Corners nearer than this say nothing in a small picture, mm. */
const STEP_MM = 0.4;
/** A picture is a few kilobytes at most: so many corners. */
const MOST_CORNERS = 900;

/** The middle lines of ink as one SVG path, mm. */
export function pathOf(placed: readonly Placed[]): string {
  const parts: string[] = [];
  let left = MOST_CORNERS;
  for (const s of strokesOf(placed)) {
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
  // Of typed lines a dash each: what they say is no picture.
  for (const it of placed) {
    if (it.kind !== 'typed') continue;
    linesOf(it).forEach((_, i) => {
      const [l, t, r, b] = boxOfLine(it, i);
      parts.push(`M${l.toFixed(1)} ${((t + b) / 2).toFixed(1)}L${r.toFixed(1)} ${((t + b) / 2).toFixed(1)}`);
    });
  }
  return parts.join('');
}

export const boxTuple = ([l, t, r, b]: Box): [number, number, number, number] => [l, t, r, b];
