/** What a kind of placed thing has to say of itself; a new kind is one file beside this one and one entry in `kinds.ts`. */
import type { z } from 'zod';
import type { Rub } from '../../ink/erase';
import type { Affine } from '../../ink/transform';
import type { Box, PlacedBase } from '../../ink/stroke';
import type { Version } from '../version';
import type { Block, Figure } from './drawn';

/**
 * Layers of a page between its sheet and what lies on top, from below: sticky notes, highlighter, areas of colour and filled loops, things, ink, and what is
 * to lie over all ink. What was lifted has all of them once more, above the rest: a sticky note and what is on it.
 */
export const LAYERS = ['slip', 'under', 'area', 'thing', 'ink', 'over'] as const;
export type Layer = (typeof LAYERS)[number];

export interface Kind<T extends PlacedBase = PlacedBase> {
  /** What is stored beside id, page, stamp, times and points. Fields that this version does not know pass. */
  readonly schema: z.ZodType;
  layer(it: T): Layer;
  /** How far it reaches beyond its box, mm. */
  reach(it: T): number;
  /** Distance of a point from what one would touch, mm; 0 or less upon it. */
  distance(it: T, x: number, y: number): number;
  /** Whether an eraser on its way touches it. */
  isCrossed(it: T, rub: Rub): boolean;
  /** What an eraser leaves of it, as drafts; null when it is not touched. The largest part keeps the id. */
  rubbed(it: T, rub: Rub, id: () => string): T[] | null;
  /** A draft as it can be kept. */
  kept(it: T): T;
  /** Share of it that lies within a loop, 0..1. */
  shareIn(it: T, isInside: (x: number, y: number) => boolean): number;
  /** The same elsewhere; its stamp and times stay. */
  map(it: T, m: Affine): T;
  /** In a copy: what it points to renumbered; `to` gives null for what was not copied. */
  copied?(it: T, to: (id: string) => string | null): T;
  /** Hashes of the pictures and files that it shows; none when absent. */
  contents?(it: T): readonly string[];
  /** What it looks like, where it is neither ink, nor a picture, nor typed lines. */
  figures?(it: T): readonly Figure[];
  /** Text that stands in it. */
  blocks?(it: T): readonly Block[];
  /** Where on the page it differs from what it was before a change, mm; null where that cannot be told, and then all of it is drawn anew. */
  changed?(before: T, after: T): readonly Box[] | null;
  /** One that was read from a record or a file; null when its fields are none of its kind. Strokes and areas are read by their points. */
  read?(base: Omit<PlacedBase, 'box' | 'ms'>, fields: Readonly<Record<string, unknown>>): T | null;
  /** With the version of each of its parts that changed, where parts have versions of their own: it takes the place of `before` as `s`. */
  versioned?(it: T, before: T, s: Version): T;
  /**
   * Two versions of it that were made without knowing each other as one; null where one has to lose. Told whether a part of the winner was unknown to who made the
   * loser, and the other way round.
   */
  together?(winner: T, loser: T, isNewToLoser: (s: Version) => boolean, isNewToWinner: (s: Version) => boolean): T | null;
  /** Says nothing by itself and is never part of a word. */
  isDecoration(it: T): boolean;
}

/** Of what is taken whole or not at all: what is written on it is rubbed out without it, and a loop holds as much of it as of its box. */
export const takenWhole = {
  isCrossed: () => false,
  rubbed: () => null,
  kept: <T extends PlacedBase>(it: T): T => it,
  shareIn({ box: [l, t, r, b] }: PlacedBase, isInside: (x: number, y: number) => boolean): number {
    let inside = 0;
    for (let i = 0; i < 25; i++) if (isInside(l + ((i % 5) / 4) * (r - l), t + (Math.floor(i / 5) / 4) * (b - t))) inside++;
    return inside / 25;
  },
} as const;
