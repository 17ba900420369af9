/** How a kind of placed thing is drawn; a new kind has one such painter, named in `placedPainter.ts`. */
import type { Box } from '../../core/ink/stroke';
import type { Placed } from '../../core/note/kinds/kinds';

export type Context = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D;

/** What a page has behind its ruling, as far as it is there: it may come later than the frame that asks for it. */
export interface Backdrop {
  /** Draws the part of it (mm) that is there. */
  draw(ctx: Context, part: Box): void;
}

export interface KindPainter<T extends Placed = Placed> {
  /** Draws one thing onto a context that counts in mm. `k`: device px per mm; `alpha`: how much of it shows, 0..1; `part`: what is drawn anew, mm of the page. */
  one(ctx: Context, k: number, it: T, alpha: number, part?: Box): void;
  /** Lets go of what it remembers. */
  clear(): void;
}
