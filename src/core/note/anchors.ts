/**
 * What is tied to ink: tags, headings, the ends of lines that hold on to a shape, words. Each names ink by its ids; this is the one place that
 * says how it is found again. After rubbing out, the largest part of a stroke keeps the id, so what is tied to it stays.
 */
import { boxAround, type Box } from '../ink/stroke';
import type { Ink } from './edit';
import type { Placed } from './kinds/kinds';

/** Ink of one page. */
export interface Anchor {
  readonly page: string;
  readonly strokes: readonly string[];
}

/** What is left of it on its page, with what it covers; null when nothing is. */
export function anchored(ink: Ink, { page, strokes }: Anchor): { placed: readonly Placed[]; box: Box } | null {
  const ids = new Set(strokes);
  const placed = (ink[page] ?? []).filter((s) => ids.has(s.id));
  const box = boxAround(placed);
  return box && { placed, box };
}

/** Whether two anchors have ink in common. */
export const meets = (a: Pick<Anchor, 'strokes'>, ids: ReadonlySet<string>): boolean => a.strokes.some((s) => ids.has(s));
