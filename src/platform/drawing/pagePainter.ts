/**
 * A page with its layers, from below: sheet, backdrop, ruling, and what lies on it (highlighter, areas, things, ink, what is over it). The
 * tiles on the screen, page pictures, previews and files are all painted here.
 */
import type { Box } from '../../core/ink/stroke';
import type { Placed } from '../../core/note/kinds/kinds';
import type { Page } from '../../core/note/schema';
import type { Backdrop, Context } from './kindPainter';
import { LIGHT_PAGE, type PageLook } from './pageLook';
import type { PictureSource } from './pictureOnPage';
import { rulePaper } from './paperPainter';
import { PlacedPainter } from './placedPainter';

export interface PagePainting {
  readonly page: Page;
  readonly placed: readonly Placed[];
  /** The part to paint, mm. */
  readonly part: Box;
  /** Device px per mm. */
  readonly k: number;
  readonly look?: PageLook;
  /** One that remembers paths; without it they are made anew. */
  readonly painter?: PlacedPainter;
  /** How much of each thing shows, 0..1. */
  readonly alpha?: (it: Placed) => number;
  readonly backdrop?: Backdrop | null;
  /** Where pictures on it come from, when there is no painter that knows. */
  readonly pictures?: PictureSource;
  /** The colour of the sheet is painted too; on the screen it is the page's own background, and a picture can do without. */
  readonly sheet?: boolean;
  /** Without its ruling, for a picture of the ink alone. */
  readonly bare?: boolean;
}

/** `ctx` counts in mm of the page. */
export function paintPage(ctx: Context, { page, placed, part, k, look = LIGHT_PAGE, pictures, painter = new PlacedPainter(() => look, pictures), alpha, backdrop, sheet = true, bare = false }: PagePainting): void {
  const [l, t, r, b] = part;
  if (sheet) {
    ctx.fillStyle = look.sheet(page.paper);
    ctx.fillRect(l, t, r - l, b - t);
  }
  if (!bare) {
    backdrop?.draw(ctx, part);
    rulePaper(ctx, page, part, k, look);
  }
  painter.paint(ctx, placed, alpha, part);
}
