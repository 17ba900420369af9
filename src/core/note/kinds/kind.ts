/** What a kind of placed thing has to say of itself; a new kind is one file beside this one and one entry in `kinds.ts`. */
import type { z } from 'zod';
import type { Rub } from '../../ink/erase';
import type { Affine } from '../../ink/transform';
import type { PlacedBase } from '../../ink/stroke';

/**
 * Layers of a page between its sheet and what lies on top, from below: highlighter, areas of colour and filled loops, things, ink, and what is
 * to lie over all ink.
 */
export const LAYERS = ['under', 'area', 'thing', 'ink', 'over'] as const;
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
  /** Says nothing by itself and is never part of a word. */
  isDecoration(it: T): boolean;
}
