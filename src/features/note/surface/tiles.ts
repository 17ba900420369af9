/** The ink of one page on canvases no larger than the view needs, drawn anew only where something changed. */
import type { InkIndex } from '../../../core/ink/inkIndex';
import { sampleStroke, traceOutline } from '../../../core/ink/outline';
import { boxesMeet, growBox, pointsOf, strokeOrder, type Box, type Stroke } from '../../../core/ink/stroke';
import type { Page } from '../../../core/note/schema';

/** Edge of a tile in CSS px: a redraw stays small, the number of canvases too. */
const TILE = 448;
const AHEAD_ALPHA = 0.3;

/** How each stroke looks at the moment. */
export interface Look {
  /** False where the sound of the stroke lies ahead of the playing position. */
  heard(stroke: Stroke): boolean;
  readonly hidden: ReadonlySet<string>;
  /** Boxes of words without sound, which get a dotted line; empty in Write. */
  readonly unheard: readonly Box[];
}

interface Tile {
  readonly canvas: HTMLCanvasElement;
  readonly box: Box;
  dirty: boolean;
}

export class PageTiles {
  private tiles = new Map<string, Tile>();
  private paths = new Map<string, { stroke: Stroke; path: Path2D }>();
  private scale = 0;
  private dpr = 1;

  constructor(
    private readonly host: HTMLElement,
    private page: Page,
  ) {}

  /** px per mm. A new scale means new tiles; the old ones stand in, stretched, until `draw` has replaced them. */
  setScale(scale: number, dpr: number, page: Page): void {
    if (scale === this.scale && dpr === this.dpr && page === this.page) return;
    [this.scale, this.dpr, this.page] = [scale, dpr, page];
    for (const t of this.tiles.values()) t.canvas.remove();
    this.tiles.clear();
  }

  /** Draws what is missing or out of date within `view` (mm) and lets go of tiles far from it. Returns the number of tiles drawn. */
  draw(view: Box, index: InkIndex, look: Look): number {
    const step = TILE / this.scale;
    const keep = growBox(view, step);
    for (const [key, tile] of this.tiles) {
      if (boxesMeet(tile.box, keep)) continue;
      tile.canvas.remove();
      this.tiles.delete(key);
    }
    let drawn = 0;
    const [c0, c1] = [Math.max(0, Math.floor(view[0] / step)), Math.min(Math.ceil(this.page.w / step), Math.ceil(view[2] / step))];
    const [r0, r1] = [Math.max(0, Math.floor(view[1] / step)), Math.min(Math.ceil(this.page.h / step), Math.ceil(view[3] / step))];
    for (let r = r0; r < r1; r++) {
      for (let c = c0; c < c1; c++) {
        const key = `${c},${r}`;
        let tile = this.tiles.get(key);
        if (!tile) this.tiles.set(key, (tile = this.make(c, r, step)));
        if (!tile.dirty) continue;
        this.paint(tile, index, look);
        drawn++;
      }
    }
    return drawn;
  }

  private make(c: number, r: number, step: number): Tile {
    const canvas = document.createElement('canvas');
    const [x, y] = [c * TILE, r * TILE];
    const w = Math.min(TILE, Math.ceil(this.page.w * this.scale) - x);
    const h = Math.min(TILE, Math.ceil(this.page.h * this.scale) - y);
    canvas.width = Math.round(w * this.dpr);
    canvas.height = Math.round(h * this.dpr);
    Object.assign(canvas.style, { left: `${x}px`, top: `${y}px`, width: `${w}px`, height: `${h}px` });
    this.host.prepend(canvas);
    return { canvas, box: [c * step, r * step, c * step + w / this.scale, r * step + h / this.scale], dirty: true };
  }

  private context(tile: Tile): CanvasRenderingContext2D {
    const ctx = tile.canvas.getContext('2d')!;
    const k = this.scale * this.dpr;
    ctx.setTransform(k, 0, 0, k, -tile.box[0] * k, -tile.box[1] * k);
    return ctx;
  }

  private paint(tile: Tile, index: InkIndex, look: Look): void {
    tile.dirty = false;
    const ctx = this.context(tile);
    const [l, t, r, b] = tile.box;
    ctx.globalAlpha = 1;
    ctx.clearRect(l, t, r - l, b - t);
    this.paper(ctx, tile.box);
    for (const stroke of index.inBox(growBox(tile.box, 2)).sort(strokeOrder)) {
      if (look.hidden.has(stroke.id)) continue;
      ctx.globalAlpha = look.heard(stroke) ? 1 : AHEAD_ALPHA;
      this.fill(ctx, stroke);
    }
    ctx.globalAlpha = 1;
    ctx.fillStyle = '#5d6b78';
    for (const w of look.unheard) {
      if (!boxesMeet(growBox(w, 2), tile.box)) continue;
      for (let x = w[0]; x <= w[2]; x += 1.6) {
        ctx.beginPath();
        ctx.arc(x, w[3] + 0.9, 0.33, 0, 7);
        ctx.fill();
      }
    }
  }

  private paper(ctx: CanvasRenderingContext2D, [l, t, r, b]: Box): void {
    const { spacing, top } = this.page.paper;
    ctx.fillStyle = '#cfd9e2';
    const hair = Math.max(0.16, 1 / (this.scale * this.dpr));
    for (let y = top; y <= this.page.h - 8; y += spacing) if (y > t - 1 && y < b + 1) ctx.fillRect(l, y - hair / 2, r - l, hair);
  }

  private fill(ctx: CanvasRenderingContext2D, stroke: Stroke): void {
    let entry = this.paths.get(stroke.id);
    if (entry?.stroke !== stroke) {
      const path = new Path2D();
      traceOutline(sampleStroke(pointsOf(stroke), stroke.pen), path);
      this.paths.set(stroke.id, (entry = { stroke, path }));
    }
    ctx.fillStyle = stroke.pen.color;
    ctx.fill(entry.path, 'nonzero');
  }

  /** Puts a stroke on top of what is drawn, for one that is the newest or has just been heard. */
  add(stroke: Stroke): void {
    const box = growBox(stroke.box, stroke.pen.width);
    for (const tile of this.tiles.values()) {
      if (tile.dirty || !boxesMeet(tile.box, box)) continue;
      const ctx = this.context(tile);
      ctx.globalAlpha = 1;
      this.fill(ctx, stroke);
    }
  }

  invalidate(box?: Box): void {
    for (const tile of this.tiles.values()) if (!box || boxesMeet(tile.box, growBox(box, 2))) tile.dirty = true;
  }

  /** The page is far away: its canvases and outlines are let go. */
  release(): void {
    for (const t of this.tiles.values()) t.canvas.remove();
    this.tiles.clear();
    this.paths.clear();
  }
}
