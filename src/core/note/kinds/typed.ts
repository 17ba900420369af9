/**
 * A typed line: what stands between two line feeds. It wraps where its width ends, and each of its letters has its moment, so that it replays as it was typed.
 * Lines that follow each other share a flow, in which they are edited together (`core/text/flow.ts`).
 */
import { z } from 'zod';
import { insidePolygon } from '../../ink/polygon';
import { apply } from '../../ink/transform';
import { distanceToBox, type Box, type PlacedBase } from '../../ink/stroke';
import { FACES, MM_PER_PT, type Look } from '../../text/faces';
import { laidOut, letterAt, letterX, type Line, type Run } from '../../text/layout';
import type { Stamp } from '../../time/timeline';
import { affineOf, matrixBy, within, type Matrix } from './drawn';
import type { Kind } from './kind';

/** Letters that were typed on end: the moment of the first, and of each its distance from it, ms. */
export interface Burst {
  /** Take and take time, ms; null without sound. */
  readonly stamp: Stamp | null;
  /** Wall clock, ms since the epoch. */
  readonly wall: number;
  readonly t: readonly number[];
}

export const LISTS = ['dot', 'number', 'open', 'done'] as const;

export interface Typed extends PlacedBase {
  readonly kind: 'typed';
  readonly flow: string;
  /** Where it stands in its flow. */
  readonly n: number;
  /** From its own place (mm; the left edge, a line's distance above the first foot line) to the page. */
  readonly m: Matrix;
  /** Its longest line and the distance of its lines, mm. */
  readonly width: number;
  readonly pitch: number;
  readonly text: string;
  readonly looks: readonly Run[];
  readonly list?: (typeof LISTS)[number];
  /** Which one it is of a numbered list. */
  readonly nth?: number;
  readonly align?: 'middle' | 'right';
  readonly times: readonly Burst[];
  /** No points. */
  readonly pts: Uint8Array;
}

const NO_POINTS = new Uint8Array(0);
/** How far in the lines of a list begin, mm. */
export const LIST_INDENT = 6;
/** How far letters hang below their foot line, in their size (common practice, no source). */
export const HANG = 0.3;
/** Of a line with nothing on it, mm: something to touch. */
const LEAST_W = 2;

/** Letters of one line: a book that was pasted without a line feed still opens. */
const MOST = 2_000_000;
const finite = z.number().min(-1e6).max(1e6);
const color = z.string().regex(/^#[0-9a-f]{6}$/i);
const lookSchema = z.object({ face: z.enum(FACES), size: z.number().min(3).max(400), color, bold: z.literal(true).optional(), slant: z.literal(true).optional(), marked: color.optional(), link: z.string().min(1).max(64).optional() });
const schema = z.looseObject({
  flow: z.string().min(1).max(64),
  n: z.number().int().min(0).max(1e6),
  m: z.tuple([finite, finite, finite, finite, finite, finite]),
  width: z.number().min(1).max(10_000),
  pitch: z.number().min(1).max(500),
  text: z.string().max(MOST).refine((t) => !t.includes('\n')),
  looks: z.array(z.tuple([z.number().int().min(0).max(MOST), lookSchema])).min(1).max(MOST),
  list: z.enum(LISTS).optional(),
  nth: z.number().int().min(1).max(1e6).optional(),
  align: z.enum(['middle', 'right']).optional(),
  times: z.array(z.object({ stamp: z.object({ take: z.string().min(1).max(64), at: z.number().min(0) }).nullable(), wall: z.number(), t: z.array(z.number()) })).max(MOST),
});

const laid = new WeakMap<Typed, readonly Line[]>();

/** Its lines as they wrap. */
export function linesOf(it: Typed): readonly Line[] {
  let lines = laid.get(it);
  if (!lines) laid.set(it, (lines = laidOut({ text: it.text, looks: it.looks, width: it.width, indent: it.list ? LIST_INDENT : 0, align: it.align ?? 'left' })));
  return lines;
}

/** The largest look of a line, mm: how high it reaches. */
const heightOf = (it: Pick<Typed, 'looks'>): number => Math.max(...it.looks.map(([, look]) => look.size)) * MM_PER_PT;

/** Corners of its line `i` on the page, mm, from the upper left one clockwise; of all lines without. */
export function cornersOf(it: Typed, i?: number): [number, number][] {
  const lines = linesOf(it);
  const [first, last] = i === undefined ? [0, lines.length - 1] : [i, i];
  const some = lines.slice(first, last + 1);
  const left = Math.min(...some.map((l) => (it.list ? 0 : l.x)));
  const right = Math.max(left + LEAST_W, ...some.map((l) => l.x + l.w));
  const high = heightOf(it);
  const [top, bottom] = [(first + 1) * it.pitch - high, (last + 1) * it.pitch + HANG * high];
  const to = affineOf(it.m);
  return [[left, top], [right, top], [right, bottom], [left, bottom]].map(([x, y]) => apply(to, x, y));
}

const around = (corners: readonly (readonly [number, number])[]): Box => {
  const [xs, ys] = [corners.map((c) => c[0]), corners.map((c) => c[1])];
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
};

export const boxOfLine = (it: Typed, i: number): Box => around(cornersOf(it, i));

/** Its first letter dates it; without one, when it was begun. */
export function makeTyped(it: Omit<Typed, 'kind' | 'pts' | 'box' | 'ms'>): Typed {
  const last = it.times.reduce((most, { wall, t }) => Math.max(most, wall + (t.at(-1) ?? 0)), it.wall);
  const draft: Typed = { ...it, kind: 'typed', pts: NO_POINTS, box: [0, 0, 0, 0], ms: 0 };
  // What is added to a line days later is no part of the moment in which it was begun.
  const together = it.times.filter((b) => (b.stamp?.take ?? null) === (it.stamp?.take ?? null) && b.wall >= it.wall && b.wall + (b.t.at(-1) ?? 0) - it.wall < LONGEST_MS);
  const ms = together.length ? Math.max(...together.map(({ wall, t }) => wall + (t.at(-1) ?? 0))) - it.wall : Math.min(last - it.wall, 0);
  return Object.freeze({ ...draft, box: around(cornersOf(draft)), ms: Math.max(0, ms) });
}
/** Longer than this nobody is at one line, ms. */
const LONGEST_MS = 600_000;

export interface Moment {
  readonly stamp: Stamp | null;
  readonly wall: number;
}

/** When a letter was typed; of an empty line when it was begun. */
export function momentOf(it: Typed, index: number): Moment {
  let i = index;
  for (const { stamp, wall, t } of it.times) {
    if (i < t.length) return { stamp: stamp && { take: stamp.take, at: stamp.at + t[i] }, wall: wall + t[i] };
    i -= t.length;
  }
  return { stamp: it.stamp, wall: it.wall };
}

/** The line and letter at a place of the page, mm; the nearest. */
export function letterOn(it: Typed, x: number, y: number): { line: number; index: number } {
  const [u, v] = within(it.m, x, y);
  const lines = linesOf(it);
  const line = Math.min(lines.length - 1, Math.max(0, Math.floor(v / it.pitch - HANG / 2)));
  return { line, index: letterAt(lines[line], u) };
}

/** Where a caret goes that is put there: before the letter or after it, whichever is nearer. */
export function caretOn(it: Typed, x: number, y: number): number {
  const { line, index } = letterOn(it, x, y);
  const l = linesOf(it)[line];
  if (index >= l.to) return index;
  return within(it.m, x, y)[0] > (letterX(l, index) + letterX(l, index + 1)) / 2 ? index + 1 : index;
}

/** The word around a letter: its first letter. */
export function wordStart(text: string, index: number): number {
  let i = Math.min(index, Math.max(0, text.length - 1));
  while (i > 0 && !/\s/.test(text[i - 1])) i--;
  return i;
}

/** What stands before it in a list, from its own place, mm. */
export type ListMark = { readonly look: Look; readonly size: number; readonly y: number } & ({ readonly is: 'text'; readonly text: string; readonly right: number } | { readonly is: 'dot'; readonly x: number; readonly r: number } | { readonly is: 'box'; readonly x: number; readonly r: number; readonly done: boolean });

export function markOf(it: Typed): ListMark | null {
  if (!it.list) return null;
  const [, look] = it.looks[0];
  const size = look.size * MM_PER_PT;
  if (it.list === 'number') return { is: 'text', look, size, y: it.pitch, text: `${it.nth ?? 1}.`, right: LIST_INDENT - 1.2 };
  const y = it.pitch - 0.33 * size;
  return it.list === 'dot' ? { is: 'dot', look, size, y, x: LIST_INDENT - 2.6, r: 0.13 * size } : { is: 'box', look, size, y, x: LIST_INDENT - 3, r: 0.34 * size, done: it.list === 'done' };
}

export const typedKind: Kind<Typed> = {
  schema,
  layer: () => 'ink',
  reach: () => 0.5,
  distance: (it, x, y) => (insidePolygon(cornersOf(it), x, y) ? 0 : Math.max(0.01, distanceToBox(it.box, x, y))),
  // What is written over it is rubbed out without it: letters go by the key that takes them back.
  isCrossed: () => false,
  rubbed: () => null,
  kept: (it) => it,
  shareIn(it, isInside) {
    const [l, t, r, b] = it.box;
    let inside = 0;
    for (let i = 0; i < 27; i++) if (isInside(l + ((i % 9) / 8) * (r - l), t + ((Math.floor(i / 9) + 0.5) / 3) * (b - t))) inside++;
    return inside / 27;
  },
  map: (it, m) => makeTyped({ ...it, m: matrixBy(it.m, m) }),
  read(base, fields) {
    const known = schema.safeParse(fields);
    if (!known.success) return null;
    const { text, looks, times } = known.data;
    const letters = looks.reduce((n, [k]) => n + k, 0);
    const timed = times.reduce((n, { t }) => n + t.length, 0);
    return letters === text.length && timed === text.length ? makeTyped({ ...base, ...(known.data as unknown as Omit<Typed, keyof PlacedBase | 'kind' | 'pts'>) }) : null;
  },
  isDecoration: () => false,
};
