/** What the worker that reads and draws PDF can be asked for. Places are mm of the page as it is shown, from its upper left corner. */
import type { Box } from '../../core/ink/stroke';

/** Gives bytes `from` up to and without `to`. */
export type ReadRange = (from: number, to: number) => Promise<Uint8Array>;

export interface LeafText {
  readonly text: string;
  readonly box: Box;
  /** Degrees clockwise by which it is turned. */
  readonly turn: number;
  /** A line ends after it. */
  readonly ends: boolean;
}

export interface LeafLink {
  readonly box: Box;
  /** Index of the page it leads to. */
  readonly leaf?: number;
  readonly url?: string;
}

export interface OutlineItem {
  readonly title: string;
  /** From 1. */
  readonly depth: number;
  /** Index of the page. */
  readonly leaf: number;
  /** How far down, mm. */
  readonly y: number;
}

export interface PdfWork {
  /** Opens a document and gives the number of its pages. Fails with a PasswordException when it needs another password. */
  open(doc: number, length: number, read: ReadRange, password: string | null): Promise<number>;
  /** Width and height of some pages, points, turned as they are shown. */
  sizes(doc: number, from: number, to: number): Promise<{ w: number; h: number }[]>;
  /** A part of a page at `k` px per mm. */
  draw(doc: number, leaf: number, k: number, part: Box): Promise<ImageBitmap>;
  text(doc: number, leaf: number): Promise<LeafText[]>;
  links(doc: number, leaf: number): Promise<LeafLink[]>;
  outline(doc: number): Promise<OutlineItem[]>;
  close(doc: number): Promise<void>;
}
