/** The stroke that is being written, drawn the moment the pen moves. */
import { Sampler, tracePen } from '../../../core/ink/outline';
import type { Pen } from '../../../core/ink/pen';
import { PointBuffer, type Points } from '../../../core/ink/points';
import type { Solid } from '../../../core/note/kinds/solid';
import type { Stroke } from '../../../core/ink/stroke';
import { PlacedPainter } from '../../../platform/drawing/placedPainter';
import { inkOf } from '../../../platform/drawing/strokePainter';
import { LIGHT_PAGE, type PageLook } from '../../../platform/drawing/pageLook';

export class WetInk {
  private readonly firm: CanvasRenderingContext2D;
  private readonly tail: CanvasRenderingContext2D;
  private sampler: Sampler | null = null;
  private drawn = 0;
  private tailBox: [number, number, number, number] | null = null;
  private frame = 0;
  private foretold: readonly { x: number; y: number }[] = [];
  private place = { x: 0, y: 0, k: 1, dpr: 1 };
  private pen: Pen | null = null;
  private size: { width: number; height: number; dpr: number } | null = null;
  points = new PointBuffer();
  private started = 0;
  private look: PageLook = LIGHT_PAGE;

  constructor(host: HTMLElement) {
    const make = () => {
      const canvas = document.createElement('canvas');
      canvas.className = 'surface-wet';
      host.append(canvas);
      return canvas.getContext('2d', { desynchronized: true })!;
    };
    this.firm = make();
    this.tail = make();
  }

  /** Takes effect when no stroke is under way, since a canvas that changes its size forgets what is on it. */
  resize(width: number, height: number, dpr: number): void {
    this.size = { width, height, dpr };
    if (!this.active) this.applySize();
  }

  private applySize(): void {
    if (!this.size) return;
    const { width, height, dpr } = this.size;
    this.size = null;
    for (const { canvas } of [this.firm, this.tail]) {
      canvas.width = Math.round(width * dpr);
      canvas.height = Math.round(height * dpr);
      Object.assign(canvas.style, { width: `${width}px`, height: `${height}px` });
    }
    this.place.dpr = dpr;
  }

  get active(): boolean {
    return this.sampler !== null;
  }

  /** `look`: of the page; `x`, `y`: where the page's corner lies in the view, px; `scale`: px per mm; `time`: pen-down, ms. */
  begin(pen: Pen, look: PageLook, x: number, y: number, scale: number, time: number): void {
    this.clear();
    this.sampler = new Sampler(pen);
    this.points = new PointBuffer();
    this.drawn = 0;
    this.started = time;
    this.pen = pen;
    this.look = look;
    this.place = { ...this.place, x, y, k: scale };
    const k = scale * this.place.dpr;
    for (const ctx of [this.firm, this.tail]) {
      ctx.setTransform(k, 0, 0, k, x * this.place.dpr, y * this.place.dpr);
      ctx.fillStyle = inkOf(ctx, pen, look);
      // Pieces overlap, so ink that lets the page through is thinned as a whole; highlighter lies under what is written.
      ctx.canvas.style.opacity = String(pen.opacity ?? 1);
      ctx.canvas.style.mixBlendMode = pen.kind === 'highlighter' ? (look === LIGHT_PAGE ? 'multiply' : 'screen') : 'normal';
    }
  }

  /** mm on the page, pressure 0..1, event time in ms. */
  add(x: number, y: number, pressure: number, time: number): void {
    if (this.points.add(x, y, pressure, time - this.started)) this.sampler?.add(x, y, pressure, time - this.started);
  }

  show(foretold: readonly { x: number; y: number }[]): void {
    if (!this.sampler || !this.pen) return;
    const firm = this.sampler.samples(false);
    const n = firm.length / 3;
    if (n > this.drawn) {
      this.firm.beginPath();
      tracePen(this.pen, firm, this.firm, Math.max(0, this.drawn - 1));
      this.firm.fill('nonzero');
      this.drawn = n;
    }
    this.foretold = foretold;
    if (!this.frame) this.frame = requestAnimationFrame(this.drawTail);
  }

  /** The end of the line, not final yet, and where the pen is foretold to go: drawn apart, so that it can be taken back. */
  private drawTail = (): void => {
    this.frame = 0;
    this.wipeTail();
    if (!this.sampler || !this.pen) return;
    const all = this.sampler.samples(true);
    const n = all.length / 3;
    if (n < 1) return;
    const from = Math.max(0, Math.min(n - 2, this.drawn - 1));
    const r = all[3 * n - 1];
    const line: number[] = [];
    for (let i = from; i < n; i++) line.push(all[3 * i], all[3 * i + 1], all[3 * i + 2]);
    for (const p of this.foretold) line.push(p.x, p.y, r);
    let [l, t, rt, b] = [Infinity, Infinity, -Infinity, -Infinity];
    for (let i = 0; i < line.length; i += 3) {
      const m = Math.max(line[i + 2], this.pen.width / 2) + 0.5;
      [l, t, rt, b] = [Math.min(l, line[i] - m), Math.min(t, line[i + 1] - m), Math.max(rt, line[i] + m), Math.max(b, line[i + 1] + m)];
    }
    this.tailBox = [l, t, rt - l, b - t];
    this.tail.beginPath();
    // A broken line begins its dashes anew in the tail; for the moment it is whole.
    tracePen({ ...this.pen, line: undefined }, Float32Array.from(line), this.tail);
    this.tail.fill('nonzero');
  };

  /** Shows something as a whole instead of what was written: a clean shape, a straightened line, a solid. */
  showWhole(it: Stroke | Solid): void {
    if (this.frame) cancelAnimationFrame(this.frame);
    this.frame = 0;
    this.wipe();
    const ctx = this.tail;
    const k = this.place.k * this.place.dpr;
    ctx.setTransform(k, 0, 0, k, this.place.x * this.place.dpr, this.place.y * this.place.dpr);
    // The thinning is the canvas's already.
    new PlacedPainter(() => this.look).one(ctx, it.kind === 'solid' ? it : { ...it, pen: { ...it.pen, opacity: 1 } });
  }

  /** The points as they were written. */
  written(): Points {
    return this.points.points();
  }

  private wipeTail(): void {
    if (this.tailBox) this.tail.clearRect(...this.tailBox);
    this.tailBox = null;
  }

  private wipe(): void {
    this.tailBox = null;
    for (const ctx of [this.firm, this.tail]) {
      ctx.setTransform(1, 0, 0, 1, 0, 0);
      ctx.clearRect(0, 0, ctx.canvas.width, ctx.canvas.height);
    }
  }

  /** Takes the wet line off the view; the page has it now, or it was none. */
  clear(): void {
    if (this.frame) cancelAnimationFrame(this.frame);
    this.frame = 0;
    this.sampler = null;
    this.wipe();
    this.applySize();
  }
}
