/** Paints typed lines, letter by letter where they are being heard. */
import { cssFont, MM_PER_PT, type Look } from '../../core/text/faces';
import { letterX, type Line } from '../../core/text/layout';
import type { Block } from '../../core/note/kinds/drawn';
import { linesOf, markOf, type Typed } from '../../core/note/kinds/typed';
import type { Context, KindPainter } from './kindPainter';
import type { PageLook } from './pageLook';
import { askForFace } from './typedFaces';

export class TypedPainter implements KindPainter<Typed> {
  constructor(private readonly look: () => PageLook) {}

  one(ctx: Context, k: number, it: Typed, alpha: number): void {
    this.part(ctx, k, it, alpha, it.text.length);
  }

  /** Its first letters only. */
  part(ctx: Context, k: number, it: Typed, alpha: number, letters: number): void {
    if (alpha === 0) return;
    const page = this.look();
    ctx.save();
    ctx.globalAlpha = alpha;
    ctx.transform(...it.m);
    this.begin(ctx);
    this.mark(ctx, k, it, page);
    this.lines(ctx, k, linesOf(it), it.pitch, letters, page);
    ctx.restore();
  }

  /** Lines of text that stand in something. */
  block(ctx: Context, k: number, { m, lines, pitch }: Block, alpha: number): void {
    ctx.save();
    ctx.globalAlpha = alpha;
    ctx.transform(...m);
    this.begin(ctx);
    this.lines(ctx, k, lines, pitch, Infinity, this.look());
    ctx.restore();
  }

  private begin(ctx: Context): void {
    ctx.textBaseline = 'alphabetic';
    // As the layout has it: no pairs drawn together, no letters joined.
    ctx.fontKerning = 'none';
    ctx.textRendering = 'optimizeSpeed';
  }

  private lines(ctx: Context, k: number, lines: readonly Line[], pitch: number, letters: number, page: PageLook): void {
    lines.forEach((line, i) => {
      const y = (i + 1) * pitch;
      for (const { text, at, x, look } of line.pieces) {
        const seen = text.slice(0, Math.max(0, letters - at));
        if (!seen) continue;
        const size = look.size * MM_PER_PT;
        if (look.marked) {
          ctx.fillStyle = page.ink(look.marked);
          ctx.fillRect(x, y - 0.82 * size, letterX(line, at + seen.length) - x, 1.08 * size);
        }
        this.letters(ctx, k, seen, look, x, y, page);
      }
    });
  }

  /** Fonts are set in device pixels and scaled back: a size in mm is too small for a browser's own rounding. */
  private letters(ctx: Context, k: number, text: string, look: Look, x: number, y: number, page: PageLook): void {
    askForFace(look, text);
    ctx.fillStyle = page.ink(look.color);
    ctx.save();
    ctx.translate(x, y);
    ctx.scale(1 / k, 1 / k);
    ctx.font = cssFont(look, look.size * MM_PER_PT * k);
    ctx.fillText(text, 0, 0);
    ctx.restore();
  }

  private mark(ctx: Context, k: number, it: Typed, page: PageLook): void {
    const mark = markOf(it);
    if (!mark) return;
    ctx.fillStyle = ctx.strokeStyle = page.ink(mark.look.color);
    if (mark.is === 'text') {
      ctx.textAlign = 'right';
      this.letters(ctx, k, mark.text, mark.look, mark.right, mark.y, page);
      ctx.textAlign = 'left';
      return;
    }
    const { x, y, r } = mark;
    ctx.beginPath();
    if (mark.is === 'dot') {
      ctx.arc(x, y, r, 0, 2 * Math.PI);
      return ctx.fill();
    }
    ctx.lineWidth = 0.08 * mark.size;
    ctx.rect(x - r, y - r, 2 * r, 2 * r);
    if (mark.done) {
      ctx.moveTo(x - 0.6 * r, y);
      ctx.lineTo(x - 0.15 * r, y + 0.5 * r);
      ctx.lineTo(x + 0.7 * r, y - 0.6 * r);
    }
    ctx.stroke();
  }

  clear(): void {
    // Its lines are remembered by themselves.
  }
}
