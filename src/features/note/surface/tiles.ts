/** The ink of one page on canvases no larger than the view needs, drawn anew only where something changed. */
import type { InkIndex } from '../../../core/ink/inkIndex';
import { boxesMeet, growBox, unionBox, type Box } from '../../../core/ink/stroke';
import { coveredBy, liesOnTop, type Placed } from '../../../core/note/kinds/kinds';
import { PRINT } from '../../../core/note/paper';
import { extentOf } from '../../../core/note/board';
import type { Page } from '../../../core/note/schema';
import { lookOf } from '../../../platform/drawing/pageLook';
import type { BackdropSource } from '../../../platform/drawing/leaves';
import { paintPage } from '../../../platform/drawing/pagePainter';
import { bytesOfPixels, type PixelRoom } from '../../../platform/drawing/pixelRoom';
import { sheetOfPicture } from '../../../platform/drawing/pictureOnPage';
import type { Backdrop } from '../../../platform/drawing/kindPainter';
import { PlacedPainter } from '../../../platform/drawing/placedPainter';
import { movesHere } from './movingPictures';

/** Edge of a tile in CSS px: a redraw stays small, the number of canvases too. */
const TILE = 384;
/** A tile is drawn in bands of this height, CSS px, so that a frame can stop in between. */
const BAND = 96;
const [BAND_LEAST, BAND_STROKES] = [6, 400] as const;
/** Ink reaches at most so far beyond its points, mm. */
const REACH_MM = 4;

/** How each thing looks at the moment. */
export interface Look {
  /** How much of it shows, 0..1: less where its sound lies ahead of the playing position. */
  alpha(it: Placed): number;
  /** Boxes of words without sound, which get a dotted line; empty in Write. */
  readonly unheard: readonly Box[];
}

/**
 * What may be drawn in one frame: until a time (performance.now(), ms), and so many strokes, since the browser turns what is drawn into
 * pixels only afterwards, in the same frame.
 */
export interface Budget {
  readonly until: number;
  strokes: number;
}

/** What the tiles of all pages share: the room for pixels, and the pictures behind pages. */
export interface Shared {
  readonly room: PixelRoom;
  readonly backdrops: BackdropSource;
  /** The bytes of a content; null where it is not here. */
  content(hash: string): Promise<Uint8Array | null>;
}

export const isSpent = ({ until, strokes }: Budget): boolean => strokes <= 0 || performance.now() > until;

interface Tile {
  readonly canvas: HTMLCanvasElement;
  readonly ctx: CanvasRenderingContext2D;
  readonly box: Box;
  /** What is to be drawn anew, mm; null when nothing. */
  dirty: Box | null;
}

/** The same board, larger. */
const isGrown = (a: Page, b: Page): boolean => a.id === b.id && a.board !== undefined && b.board !== undefined && a.paper === b.paper;

/** What moves is shown below: its place is left free. */
const FREE: Backdrop = { draw: () => undefined };

export class PageTiles {
  private tiles = new Map<string, Tile>();
  /** Tiles of the scale before: they stand in, scaled, until the new ones are there. */
  private old: { canvas: HTMLCanvasElement; box: Box }[] = [];
  readonly painter = new PlacedPainter(() => lookOf(this.page), (it, k) => (movesHere(it, this.page) ? FREE : this.shared.backdrops.of(this, sheetOfPicture(it) as Page, k)));
  private scale = 0;
  private dpr = 1;

  constructor(
    private readonly host: HTMLElement,
    private page: Page,
    private readonly shared: Shared,
  ) {}

  /** px per mm. */
  setScale(scale: number, dpr: number, page: Page): void {
    if (scale === this.scale && dpr === this.dpr && page === this.page) return;
    const samePage = page === this.page;
    if (page.backdrop !== this.page.backdrop && (page.backdrop?.content !== this.page.backdrop?.content || page.backdrop?.leaf !== this.page.backdrop?.leaf)) this.shared.backdrops.letGo(this);
    const hasGrown = !samePage && scale === this.scale && dpr === this.dpr && isGrown(this.page, page);
    [this.scale, this.dpr, this.page] = [scale, dpr, page];
    if (hasGrown) return this.keepWhole();
    const drawn = [...this.tiles.values()].filter((t) => t.canvas.isConnected || this.remove(t));
    this.tiles.clear();
    // Tiles of a scale that never got drawn whole give way to those from before it.
    if (drawn.length && samePage) {
      this.old.forEach(this.remove);
      this.old = drawn;
    } else drawn.forEach(this.remove);
    for (const { canvas, box } of this.old) this.put(canvas, box);
  }

  /** Of a board that grew only what ended at its edges is drawn anew. */
  private keepWhole(): void {
    for (const [key, tile] of this.tiles) {
      const [c, r] = key.split(',').map(Number);
      const { box } = this.placeOf(c, r);
      if (box.every((v, i) => v === tile.box[i])) continue;
      this.remove(tile);
      this.tiles.delete(key);
    }
  }

  /** A canvas gives its room back; always false. */
  private remove = ({ canvas }: { canvas: HTMLCanvasElement }): boolean => {
    this.shared.room.free(bytesOfPixels(canvas.width, canvas.height));
    canvas.remove();
    // Its pixels go at once, and not when the browser next tidies up.
    canvas.width = canvas.height = 0;
    return false;
  };

  private put(canvas: HTMLCanvasElement, [l, t, r, b]: Box): void {
    const k = this.scale;
    Object.assign(canvas.style, { left: `${l * k}px`, top: `${t * k}px`, width: `${(r - l) * k}px`, height: `${(b - t) * k}px` });
  }

  /**
   * Draws what is missing or out of date within `view` (mm), the middle first, within `budget`, and lets go of
   * tiles far from it. True when nothing is left to draw.
   */
  draw(view: Box, index: InkIndex, look: Look, budget: Budget): boolean {
    const step = TILE / this.scale;
    const keep = growBox(view, step);
    for (const [key, tile] of this.tiles) {
      if (boxesMeet(tile.box, keep)) continue;
      this.remove(tile);
      this.tiles.delete(key);
    }
    const wanted: Tile[] = [];
    const [l, t, right, foot] = extentOf(this.page);
    const [c0, c1] = [Math.floor(Math.max(l, view[0]) / step), Math.ceil(Math.min(right, view[2]) / step)];
    const [r0, r1] = [Math.floor(Math.max(t, view[1]) / step), Math.ceil(Math.min(foot, view[3]) / step)];
    for (let r = r0; r < r1; r++) {
      for (let c = c0; c < c1; c++) {
        const key = `${c},${r}`;
        let tile = this.tiles.get(key);
        if (!tile) this.tiles.set(key, (tile = this.make(c, r)));
        if (tile.dirty) wanted.push(tile);
      }
    }
    const [mx, my] = [(view[0] + view[2]) / 2, (view[1] + view[3]) / 2];
    const off = ({ box }: Tile) => Math.hypot((box[0] + box[2]) / 2 - mx, (box[1] + box[3]) / 2 - my);
    if (wanted.length > 1) wanted.sort((a, b) => off(a) - off(b));
    let painted = 0;
    for (const tile of wanted) {
      while (tile.dirty) {
        if (painted++ > 0 && isSpent(budget)) return false;
        budget.strokes -= this.paintBand(tile, index, look);
      }
    }
    this.old.forEach(this.remove);
    this.old = [];
    return true;
  }

  /** Where a tile lies and how large it is: px, and mm. A tile of a board can begin before the board does. */
  private placeOf(c: number, r: number): { w: number; h: number; box: Box } {
    const k = this.scale;
    const [left, top, right, foot] = extentOf(this.page);
    const [x, y] = [Math.max(c * TILE, Math.floor(left * k)), Math.max(r * TILE, Math.floor(top * k))];
    const [w, h] = [Math.min((c + 1) * TILE, Math.ceil(right * k)) - x, Math.min((r + 1) * TILE, Math.ceil(foot * k)) - y];
    return { w, h, box: [x / k, y / k, (x + w) / k, (y + h) / k] };
  }

  private make(c: number, r: number): Tile {
    const canvas = document.createElement('canvas');
    const { w, h, box } = this.placeOf(c, r);
    canvas.width = Math.round(w * this.dpr);
    canvas.height = Math.round(h * this.dpr);
    this.shared.room.occupy(bytesOfPixels(canvas.width, canvas.height));
    this.put(canvas, box);
    const ctx = canvas.getContext('2d')!;
    const k = this.scale * this.dpr;
    ctx.setTransform(k, 0, 0, k, -box[0] * k, -box[1] * k);
    return { canvas, ctx, box, dirty: box };
  }

  /** Draws the uppermost band of what is out of date; gives the number of strokes in it. */
  private paintBand(tile: Tile, index: InkIndex, look: Look): number {
    const [l, t, r, b] = tile.dirty!;
    let foot = t + BAND / this.scale;
    // Where much lies close together, as on a board seen as a whole, a band is lower.
    for (let high = BAND; high > BAND_LEAST && index.inBox([l, t, r, foot]).length > BAND_STROKES; foot = t + high / this.scale) high /= 2;
    // A rest too thin to be worth a turn of its own goes along.
    if (b - foot < BAND / this.scale / 3) return this.paint(tile, index, look);
    tile.dirty = [l, t, r, foot];
    return this.paint(tile, index, look, [l, foot, r, b]);
  }

  /** Draws what is out of date; `rest` is left for later. Gives the number of strokes in it. */
  private paint(tile: Tile, index: InkIndex, look: Look, rest: Box | null = null): number {
    const { ctx } = tile;
    const px = 2 / (this.scale * this.dpr);
    const whole = tile.dirty === tile.box;
    // Only the part that changed is drawn anew; its edge lies on whole pixels, so that no seam shows.
    const snap = (v: number, from: number, up: boolean) => from + ((up ? Math.ceil : Math.floor)(((v - from) * 2) / px) * px) / 2;
    const [l, t, r, b] = whole ? tile.box : growBox(tile.dirty!, px);
    const part: Box = whole ? tile.box : [snap(Math.max(l, tile.box[0]), tile.box[0], false), snap(Math.max(t, tile.box[1]), tile.box[1], false), snap(Math.min(r, tile.box[2]), tile.box[0], true), snap(Math.min(b, tile.box[3]), tile.box[1], true)];
    tile.dirty = rest;
    ctx.save();
    if (!whole) {
      ctx.beginPath();
      ctx.rect(part[0], part[1], part[2] - part[0], part[3] - part[1]);
      ctx.clip();
    }
    ctx.globalAlpha = 1;
    ctx.clearRect(part[0], part[1], part[2] - part[0], part[3] - part[1]);
    const placed = index.inBox(growBox(part, REACH_MM));
    const k = this.scale * this.dpr;
    paintPage(ctx, { page: this.page, placed, part, k, look: lookOf(this.page), painter: this.painter, alpha: look.alpha, backdrop: this.shared.backdrops.of(this, this.page, k), sheet: false });
    ctx.fillStyle = lookOf(this.page).ink(PRINT);
    for (const w of look.unheard) {
      if (!boxesMeet(growBox(w, 2), part)) continue;
      for (let x = w[0]; x <= w[2]; x += 1.6) {
        ctx.beginPath();
        ctx.arc(x, w[3] + 0.9, 0.33, 0, 7);
        ctx.fill();
      }
    }
    ctx.restore();
    // A new tile comes into sight when it is whole; until then the scaled one stands in.
    if (!tile.dirty) {
      if (!tile.canvas.isConnected) this.host.prepend(tile.canvas);
      // A stand-in lies under the tile that takes its place.
      for (const o of this.old) this.host.prepend(o.canvas);
    }
    return placed.length;
  }

  /** Puts something on top of what is drawn, when it is the newest or has just been heard. What goes under the ink has its place drawn anew. */
  add(it: Placed, index: InkIndex, look: Look): void {
    const box = coveredBy(it);
    const under = !liesOnTop(it, index.inBox(box));
    for (const tile of this.tiles.values()) {
      if (!boxesMeet(tile.box, box)) continue;
      if (under) {
        tile.dirty = tile.dirty ? unionBox(tile.dirty, box) : box;
        if (tile.canvas.isConnected) this.paint(tile, index, look);
      } else if (!tile.dirty) this.painter.one(tile.ctx, it);
      // Half drawn: the band it lies in may be done already.
      else if (tile.dirty !== tile.box) tile.dirty = unionBox(tile.dirty, box);
    }
  }

  invalidate(box?: Box): void {
    for (const tile of this.tiles.values()) {
      if (!box) tile.dirty = tile.box;
      else if (boxesMeet(tile.box, box) && tile.dirty !== tile.box) tile.dirty = tile.dirty ? unionBox(tile.dirty, box) : box;
    }
  }

  /** The page is far away: its canvases and outlines are let go. */
  release(): void {
    [...this.tiles.values(), ...this.old].forEach(this.remove);
    this.shared.backdrops.letGo(this);
    this.tiles.clear();
    this.old = [];
    this.painter.clear();
  }
}
