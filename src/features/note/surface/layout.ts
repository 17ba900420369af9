/** Where the pages lie: one below the other or one at a time, how large they are shown, and which place of a page is where in the view. */
import type { Box } from '../../../core/ink/stroke';
import { PX_PER_MM } from '../../../core/ink/ruler';
import { lookOf } from '../../../platform/drawing/pageLook';
import type { Contact } from '../../../platform/pointer';
import { makePageView, type PageView } from './pageView';
import { MARGIN_PX, type SurfaceState } from './state';
import type { Shared } from './tiles';
import type { At } from './tools/tool';
import type { Turner } from './turner';

export const BETWEEN_PX = 6;
const MAX_PAGE_PX = 860;
/** Where pages lie that are not open, px. */
const CLOSED_PX = -1e7;

/** A place of a page, mm. */
export interface PagePlace {
  readonly view: PageView;
  readonly x: number;
  readonly y: number;
}

export class Layout {
  pages: PageView[] = [];
  /** Of the room for the pages, px. */
  width = 0;
  height = 0;
  /** px per mm. */
  scale = 1;
  /** Share of true size; null while the page fills the width. */
  zoom: number | null = null;
  private state: SurfaceState | null = null;

  /** `pagesEl`: what the pages lie in; `changed`: pages lie elsewhere now. */
  constructor(
    private readonly pagesEl: HTMLElement,
    private readonly scroller: HTMLElement,
    private readonly turner: Turner,
    private readonly shared: Shared,
    private readonly changed: () => void,
  ) {}

  update(state: SurfaceState): void {
    this.state = state;
  }

  get dpr(): number {
    return Math.min(3, window.devicePixelRatio || 1);
  }

  get sideways(): boolean {
    return this.state?.sideways ?? false;
  }

  /** What the time margin takes of the left side, px. */
  get inset(): number {
    return this.state?.leftHanded ? 0 : MARGIN_PX;
  }

  inMargin(x: number): boolean {
    return this.state?.leftHanded ? x > this.width - MARGIN_PX : x < MARGIN_PX;
  }

  lay(): void {
    const pages = this.state?.note.header.pages;
    if (!pages || !this.width) return;
    const widest = Math.max(...pages.map((p) => p.w));
    this.scale = this.zoom === null ? this.fitScale() : this.zoom * PX_PER_MM;
    const old = new Map(this.pages.map((v) => [v.page.id, v]));
    const inner = Math.max(widest * this.scale + 8, this.width - MARGIN_PX - 1);
    let y = BETWEEN_PX;
    this.turner.show(this.sideways, pages.length);
    this.pages = pages.map((page, i) => {
      const view = old.get(page.id) ?? makePageView(page, this.pagesEl, this.shared);
      old.delete(page.id);
      view.page = page;
      view.x = Math.max(4, (inner - page.w * this.scale) / 2);
      const open = !this.sideways || i === this.turner.index;
      // Pages that are not open lie out of all reach.
      view.y = open ? y : CLOSED_PX;
      view.el.dataset.testid = `page-${i + 1}`;
      view.el.setAttribute('aria-label', `Page ${i + 1} of ${pages.length}`);
      (view.el.querySelector('.page-number') as HTMLElement).textContent = `${i + 1} / ${pages.length}`;
      if (view.near) this.placePage(view);
      if (open) y += page.h * this.scale + BETWEEN_PX;
      return view;
    });
    for (const gone of old.values()) {
      gone.tiles.release();
      gone.el.remove();
    }
    Object.assign(this.pagesEl.style, { width: `${inner}px`, height: `${y + this.height * 0.35}px` });
    this.changed();
  }

  private fitScale(): number {
    const widest = Math.max(...(this.state?.note.header.pages.map((p) => p.w) ?? [210]));
    return Math.min(MAX_PAGE_PX, this.width - MARGIN_PX - 8) / widest;
  }

  /** Puts a page in reach where it belongs; those far away are not part of the layout at all. */
  placePage({ el, x, y, page, tiles }: PageView): void {
    Object.assign(el.style, { left: `${x}px`, top: `${y}px`, width: `${page.w * this.scale}px`, height: `${page.h * this.scale}px` });
    el.style.background = lookOf(page).sheet(page.paper);
    tiles.setScale(this.scale, this.dpr, page);
  }

  /** Lays the pages out at another zoom; what is at `sx`, `sy` of the sheet (px, before) comes to `x`, `y` of the view. */
  relay(zoom: number | null, sx: number, sy: number, x: number, y: number): void {
    const page = this.pages.findLast((v) => v.y <= sy) ?? this.pages[0];
    const [mx, my] = page ? [(sx - page.x) / this.scale, (sy - page.y) / this.scale] : [0, 0];
    this.zoom = zoom;
    this.lay();
    if (!page) return;
    this.scroller.scrollLeft = page.x + mx * this.scale - x + this.inset;
    this.scroller.scrollTop = page.y + my * this.scale - y;
  }

  /** Scrolls sideways until a place of a page (mm) is the first that is seen, clear of the time margin. */
  toLeft(view: PageView, mm: number): void {
    this.scroller.scrollLeft = view.x + mm * this.scale;
  }

  /** Where the page's corner lies in the view, px. */
  cornerOf(view: PageView): { x: number; y: number } {
    return { x: view.x - this.scroller.scrollLeft + this.inset, y: view.y - this.scroller.scrollTop };
  }

  /** The page at a place of the view, px; `nearest`: one at all events. */
  pageAt(at: { x: number; y: number }, nearest: boolean): PagePlace | null {
    const [sx, sy] = [at.x + this.scroller.scrollLeft - this.inset, at.y + this.scroller.scrollTop];
    let best: PageView | null = null;
    for (const v of this.pages) {
      if (sy >= v.y - BETWEEN_PX / 2 && sy <= v.y + v.page.h * this.scale + BETWEEN_PX / 2) best = v;
    }
    if (!best && nearest) best = (this.sideways ? this.pages[this.turner.index] : this.pages.at(-1)) ?? null;
    if (!best) return null;
    return { view: best, x: (sx - best.x) / this.scale, y: (sy - best.y) / this.scale };
  }

  /** A contact as the tools take it: on the page, and kept there. */
  onPage(view: PageView, c: Contact): At {
    const x = (c.x + this.scroller.scrollLeft - this.inset - view.x) / this.scale;
    const y = (c.y + this.scroller.scrollTop - view.y) / this.scale;
    return { x: Math.min(view.page.w, Math.max(0, x)), y: Math.min(view.page.h, Math.max(0, y)), pressure: c.pressure, time: c.time };
  }

  /** In the sideways way a page has to be open before a place of it can be seen. True when another one was opened. */
  openPage(index: number): boolean {
    if (!this.sideways || index < 0 || index === this.turner.index) return false;
    this.turner.index = index;
    this.lay();
    return true;
  }

  /** Brings a part of a page into sight. `gently`: the page glides, unless motion is unwelcome or the way is long. */
  reveal(view: PageView, [l, t, r, b]: Box, gently = false): void {
    this.openPage(this.pages.indexOf(view));
    const k = this.scale;
    const [top, bottom] = [view.y + t * k, view.y + b * k];
    const { scrollTop, scrollLeft } = this.scroller;
    if (top < scrollTop + 20 || bottom > scrollTop + this.height - 20) {
      const to = top - this.height * 0.4;
      const glides = gently && Math.abs(to - scrollTop) < 1.5 * this.height && !matchMedia('(prefers-reduced-motion: reduce)').matches;
      this.scroller.scrollTo({ top: to, behavior: glides ? 'smooth' : 'instant' });
    }
    const [left, right] = [view.x + l * k, view.x + r * k];
    if (left < scrollLeft || right > scrollLeft + this.width - MARGIN_PX) this.scroller.scrollLeft = left - 20;
  }
}
