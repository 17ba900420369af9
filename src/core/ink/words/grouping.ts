/** What the strokes of a page are grouped into. */
import type { Box } from '../stroke';

/** A stroke as plain points: mm on the page, and ms on any clock common to the strokes. */
export interface PlainStroke {
  readonly id: string;
  readonly points: readonly { readonly x: number; readonly y: number; readonly t: number }[];
}

export interface Word {
  /** Ids of its strokes, in the order they were written. */
  readonly strokes: readonly string[];
  readonly box: Box;
  readonly line: number;
}

export interface Line {
  /** Indices into `words`, left to right. */
  readonly words: readonly number[];
  readonly box: Box;
  /** Height of a small letter, mm. */
  readonly body: number;
}

export interface Drawing {
  readonly strokes: readonly string[];
  readonly box: Box;
}

export interface Grouping {
  readonly words: readonly Word[];
  /** Top to bottom. */
  readonly lines: readonly Line[];
  readonly drawings: readonly Drawing[];
}
