/**
 * How large the pages are shown. While fingers or the wheel are at it the pages are scaled as they are, by one transform, and laid out anew
 * when it rests.
 */
import { PX_PER_MM } from '../../../core/ink/ruler';
import type { Layout } from './layout';

/** Share of true size (96 px to the inch). */
const MAX_ZOOM = 10;
/** Fingers or wheel that rest so long have done zooming, ms. */
const REST_MS = 130;
/** Scaled beyond this the pages are laid out and drawn anew in the middle of a zoom. */
const SCALED = { least: 0.55, most: 2.2 };

/** `left`, `top`: where the scroller stood; `x`, `y`: the place of the view that stays, px. */
interface Scaling {
  readonly zoom: number;
  readonly f: number;
  readonly tx: number;
  readonly ty: number;
  readonly left: number;
  readonly top: number;
  readonly x: number;
  readonly y: number;
}

export class Zoom {
  private scaling: Scaling | null = null;
  private rest: ReturnType<typeof setTimeout> | undefined;

  /** `sheet`: what the scroller holds; `tell`: the percent in sight, and whether the page fills the width; `request`: a frame. */
  constructor(
    private readonly layout: Layout,
    private readonly scroller: HTMLElement,
    private readonly sheet: HTMLElement,
    private readonly pagesEl: HTMLElement,
    private readonly told: (percent: number, fit: boolean) => void,
    private readonly request: () => void,
  ) {}

  private within(zoom: number): number {
    return Math.min(MAX_ZOOM, Math.max(this.layout.least, zoom));
  }

  /** Share of true size that is in sight. */
  get shown(): number {
    return this.scaling?.zoom ?? this.layout.scale / PX_PER_MM;
  }

  /** `zoom`: share of true size, or null to fill the width; x, y: the place of the view that stays, px. */
  to(zoom: number | null, x = this.layout.width / 2, y = this.layout.height / 2): void {
    this.settle();
    const next = zoom === null ? null : this.within(zoom);
    if (next === this.layout.zoom) return;
    this.layout.relay(next, this.scroller.scrollLeft + x - this.layout.inset, this.scroller.scrollTop + y, x, y);
    if (next === null) this.layout.toMiddle();
    this.request();
    this.tell();
  }

  /** One step of a pinch or of the wheel, around a place of the view, px. */
  by(factor: number, x: number, y: number): void {
    const { layout, scroller } = this;
    const before = this.scaling ?? { f: 1, tx: 0, ty: 0, left: scroller.scrollLeft, top: scroller.scrollTop };
    const { left, top } = before;
    const zoom = this.within(this.shown * factor);
    const f = (zoom * PX_PER_MM) / layout.scale;
    const [sx, sy] = [left + x - layout.inset, top + y];
    this.scaling = { zoom, f, left, top, x, y, tx: sx - ((sx - before.tx) / before.f) * f, ty: sy - ((sy - before.ty) / before.f) * f };
    clearTimeout(this.rest);
    if (f < SCALED.least || f > SCALED.most) return this.settle();
    this.rest = setTimeout(() => this.settle(), REST_MS);
    this.request();
  }

  /** Fingers that zoom move the page as well; true when it was taken for that. */
  pan(dx: number, dy: number): boolean {
    if (!this.scaling) return false;
    this.scaling = { ...this.scaling, tx: this.scaling.tx + dx, ty: this.scaling.ty + dy };
    this.request();
    return true;
  }

  /** Lays the pages out as they are scaled now. */
  settle(): void {
    const { scaling } = this;
    if (!scaling) return;
    this.end();
    const { zoom, f, tx, ty, left, top, x, y } = scaling;
    this.sheet.dataset.zooming = 'false';
    this.pagesEl.style.transform = '';
    this.layout.relay(zoom, (left + x - this.layout.inset - tx) / f, (top + y - ty) / f, x, y);
    this.request();
    this.tell();
  }

  end(): void {
    clearTimeout(this.rest);
    this.scaling = null;
  }

  /** Shows the pages scaled; false when there is nothing to scale. */
  paint(): boolean {
    if (!this.scaling) return false;
    const { f, tx, ty } = this.scaling;
    this.sheet.dataset.zooming = 'true';
    this.pagesEl.style.transform = `translate(${tx}px, ${ty}px) scale(${f})`;
    this.tell();
    return true;
  }

  tell(): void {
    this.told(Math.round(100 * this.shown), this.layout.zoom === null && !this.scaling);
  }
}
