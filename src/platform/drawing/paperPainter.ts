/** Draws what is ruled on a sheet. */
import type { Box } from '../../core/ink/stroke';
import { PRINT, rulingOf, ruleWithin } from '../../core/note/paper';
import type { Page } from '../../core/note/schema';
import type { Context } from './kindPainter';
import type { PageLook } from './pageLook';

/** Lines are this strong, mm, and never finer than a pixel. */
const HAIR_MM = 0.16;
const STRONG_MM = 0.35;
const DOT_MM = 0.28;

/** Lines of a board that are nearer to each other are not drawn, device px: it would be grey. */
const LEAST_PX = 5;

/** The ruling of a page within a part of it, mm; `k`: device px per mm. */
export function rulePaper(ctx: Context, page: Page, [l, t, r, b]: Box, k: number, look: PageLook): void {
  if ((page.board || page.ruled) && page.paper.spacing * k < LEAST_PX) return;
  const { lines, dots, words, plate } = page.board ? ruleWithin(page, [l - 1, t - 1, r + 1, b + 1]) : rulingOf(page);
  if (plate) {
    ctx.fillStyle = look.plate();
    ctx.fillRect(plate.x, plate.y, plate.w, plate.h);
    // A fine frame within the edge, as on a bound book.
    ctx.strokeStyle = look.plate();
    ctx.lineWidth = 0.5;
    ctx.strokeRect(6, 6, page.w - 12, page.h - 12);
  }
  ctx.fillStyle = ctx.strokeStyle = look.line(page.paper);
  for (const { x1, y1, x2, y2, strong } of lines) {
    if (Math.max(x1, x2) < l - 1 || Math.min(x1, x2) > r + 1 || Math.max(y1, y2) < t - 1 || Math.min(y1, y2) > b + 1) continue;
    const hair = Math.max(strong ? STRONG_MM : HAIR_MM, 1 / k);
    if (y1 === y2) ctx.fillRect(Math.max(l, x1), y1 - hair / 2, Math.min(r, x2) - Math.max(l, x1), hair);
    else if (x1 === x2) ctx.fillRect(x1 - hair / 2, Math.max(t, y1), hair, Math.min(b, y2) - Math.max(t, y1));
    else {
      ctx.lineWidth = hair;
      ctx.beginPath();
      ctx.moveTo(x1, y1);
      ctx.lineTo(x2, y2);
      ctx.stroke();
    }
  }
  const radius = Math.max(DOT_MM, 0.7 / k);
  for (const { x, y } of dots) {
    if (x < l - 1 || x > r + 1 || y < t - 1 || y > b + 1) continue;
    ctx.beginPath();
    ctx.arc(x, y, radius, 0, 7);
    ctx.fill();
  }
  ctx.fillStyle = look.ink(PRINT);
  for (const { x, y, size, text } of words) {
    if (y < t - 2 || y - size > b + 2) continue;
    ctx.font = `${size * 1.35}px "Atkinson Hyperlegible", sans-serif`;
    ctx.fillText(text, x, y);
  }
}
