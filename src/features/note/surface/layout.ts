/** Where the pages lie: one below the other or one at a time, how large they are shown, and which place of a page is where in the view. */
import { growBox, unionBox, type Box } from '../../../core/ink/stroke';
import { PX_PER_MM } from '../../../core/ink/ruler';
import { areaOf, extentOf } from '../../../core/note/board';
import type { Page } from '../../../core/note/schema';
import { lookOf } from '../../../platform/drawing/pageLook';
import type { Contact } from '../../../platform/pointer';
import { makePageView, type PageView } from './pageView';
import { MARGIN_PX, type SurfaceState } from './state';
import type { Shared } from './tiles';
import type { At } from './tools/tool';
import type { Turner } from './turner';

export const BETWEEN_PX = 6;
const MAX_PAGE_PX = 860;
/** Share of true size. */
const LEAST_ZOOM = 0.25;
/** Where pages lie that are not open, px. */
const CLOSED_PX = -1e7;
/** A board has so much air around it, and grows so much further where one moves towards its edge, mm. */
const [AIR_MM, FURTHER_MM] = [60, 100] as const;

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
  /** What stands above the board, px, and whether that is to be worked out anew. */
  private above = BETWEEN_PX;
  private anew = true;
  /** How far one has moved on each board, mm. */
  private readonly reached = new Map<string, Box>();
  /** Boards with the air around them, as long as neither changes. */
  private readonly wide = new Map<string, { readonly of: Page; readonly reached: Box | undefined; readonly around: Box | null; readonly page: Page }>();

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

  /** One page at a time: where the writer wants it, and where there is a board, which has no end that another page could begin after. */
  get sideways(): boolean {
    return this.state !== null && (this.state.sideways || this.state.note.header.pages.some((p) => p.board));
  }

  /** The board that is open; null while none is. */
  get board(): PageView | null {
    const view = this.pages[this.turner.index];
    return this.sideways && view?.page.board ? view : null;
  }

  /** A board as it is shown: with air around it, and as far as one has moved. */
  private widened(page: Page): Page {
    if (!page.board) return page;
    const reached = this.reached.get(page.id);
    const known = this.wide.get(page.id);
    // Where it grew on two devices, one of them may lie beyond what the other says.
    const around = this.pages.find((v) => v.page.id === page.id)?.around ?? null;
    if (known?.of === page && known.reached === reached && known.around === around) return known.page;
    const air = growBox(around ? unionBox(extentOf(page), around) : extentOf(page), AIR_MM);
    const [l, t, r, b] = reached ? unionBox(air, reached) : air;
    const [al, at, ar, ab] = areaOf(page);
    const [x, y] = [Math.max(l, al), Math.max(t, at)];
    const shown = { ...page, w: Math.min(r, ar) - x, h: Math.min(b, ab) - y, board: { x, y } };
    this.wide.set(page.id, { of: page, reached, around, page: shown });
    return shown;
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
    const before = this.board;
    this.turner.show(this.state!.sideways || (this.sideways && pages.length > 1), pages.length);
    const open = this.sideways ? pages[this.turner.index] : null;
    const hasGrown = open?.board !== undefined && before?.page.id === open.id && before.page !== this.widened(open);
    const corner = hasGrown ? this.cornerOf(before) : null;
    // A board that grows while one writes on it does not change its size in sight.
    if (hasGrown && this.zoom === null) this.zoom = this.scale / PX_PER_MM;
    this.scale = this.zoom === null ? this.fitScale() : this.zoom * PX_PER_MM;
    const widest = open ? this.widened(open).w : Math.max(...pages.map((p) => p.w));
    const old = new Map(this.pages.map((v) => [v.page.id, v]));
    const inner = Math.max(widest * this.scale + 8, this.width - MARGIN_PX - 1);
    // A board that is smaller than the view stands in its middle when it is opened or zoomed; what comes and goes below the page does not move it under the pen.
    if (this.anew) this.above = open?.board ? Math.max(BETWEEN_PX, (this.height - this.widened(open).h * this.scale) / 2) : BETWEEN_PX;
    this.anew = false;
    let y = open?.board ? this.above : BETWEEN_PX;
    this.pages = pages.map((given, i) => {
      const page = this.widened(given);
      const [left, top] = extentOf(page);
      const view = old.get(page.id) ?? makePageView(page, this.pagesEl, this.shared);
      old.delete(page.id);
      view.page = page;
      view.x = Math.max(4, (inner - page.w * this.scale) / 2) - left * this.scale;
      const isOpen = !open || i === this.turner.index;
      // Pages that are not open lie out of all reach.
      view.y = isOpen ? y - top * this.scale : CLOSED_PX;
      view.el.dataset.testid = `page-${i + 1}`;
      view.el.dataset.board = String(page.board !== undefined);
      view.el.setAttribute('aria-label', `Page ${i + 1} of ${pages.length}`);
      (view.el.querySelector('.page-number') as HTMLElement).textContent = `${i + 1} / ${pages.length}`;
      if (view.near) this.placePage(view);
      if (isOpen) y += page.h * this.scale + BETWEEN_PX;
      return view;
    });
    for (const gone of old.values()) {
      gone.tiles.release();
      gone.el.remove();
    }
    Object.assign(this.pagesEl.style, { width: `${inner}px`, height: `${open?.board ? y : y + this.height * 0.35}px` });
    // What is in sight of a board stays where it is when it grows to the left or up.
    if (corner) {
      const now = this.cornerOf(this.board!);
      this.scroller.scrollLeft += Math.round(now.x - corner.x);
      this.scroller.scrollTop += Math.round(now.y - corner.y);
    }
    this.changed();
  }

  /** The board goes on where one moves towards an edge of what is shown of it: `dx`, `dy` px of the way there. */
  goFurther(dx: number, dy: number): void {
    const { board, scroller } = this;
    if (!board) return;
    // In steps of half the view: each has the board laid out anew.
    const further = Math.max(FURTHER_MM, (0.5 * Math.max(this.width, this.height)) / this.scale);
    const near = 0.4 * FURTHER_MM * this.scale;
    const { scrollLeft, scrollTop, scrollWidth, scrollHeight, clientWidth, clientHeight } = scroller;
    const [l, t, r, b] = extentOf(board.page);
    const to: Box = [
      dx < 0 && scrollLeft + dx < near ? l - further : l,
      dy < 0 && scrollTop + dy < near ? t - further : t,
      dx > 0 && scrollLeft + dx + clientWidth > scrollWidth - near ? r + further : r,
      dy > 0 && scrollTop + dy + clientHeight > scrollHeight - near ? b + further : b,
    ];
    // It is written down nowhere: only what is written makes the board larger.
    if (to.every((v, i) => v === [l, t, r, b][i])) return;
    const given = this.state!.note.header.pages[this.turner.index];
    const [al, at, ar, ab] = areaOf(given);
    const reached: Box = [Math.max(al, to[0]), Math.max(at, to[1]), Math.min(ar, to[2]), Math.min(ab, to[3])];
    const known = this.reached.get(given.id);
    if (known && reached.every((v, i) => v === known[i])) return;
    this.reached.set(given.id, reached);
    this.lay();
  }

  private fitScale(): number {
    const pages = this.state?.note.header.pages ?? [];
    const open = this.sideways ? pages[this.turner.index] : null;
    const wide = this.width - MARGIN_PX - 8;
    // The whole board, and no larger than true.
    if (open?.board) return Math.min(wide / open.w, (this.height - 2 * BETWEEN_PX) / open.h, PX_PER_MM);
    return Math.min(MAX_PAGE_PX, wide) / (open ? open.w : Math.max(...pages.map((p) => p.w)));
  }

  /** The least zoom: a quarter of true size, or what shows a whole board. */
  get least(): number {
    const open = this.sideways ? this.state?.note.header.pages[this.turner.index] : undefined;
    return open?.board ? Math.min(LEAST_ZOOM, this.fitScale() / PX_PER_MM) : LEAST_ZOOM;
  }

  /** What of a page is in sight, mm. */
  sightOf(view: PageView): Box {
    const [x, y] = [this.scroller.scrollLeft - view.x, this.scroller.scrollTop - view.y];
    return [x / this.scale, y / this.scale, (x + this.width - MARGIN_PX) / this.scale, (y + this.height) / this.scale];
  }

  /** Brings a place of a page (mm) into the middle of the view. */
  toPlace(view: PageView, x: number, y: number): void {
    this.scroller.scrollLeft = view.x + this.scale * x - (this.width - MARGIN_PX) / 2;
    this.scroller.scrollTop = view.y + this.scale * y - this.height / 2;
  }

  /** The board that is open as it was written, mm, without the air it is shown with; nothing where none is. */
  get whole(): Box {
    return this.board ? extentOf(this.state!.note.header.pages[this.turner.index]) : [0, 0, 0, 0];
  }

  /** Brings the middle of a whole board into the middle of the view. */
  toMiddle(): void {
    if (!this.board) return;
    const [l, t, r, b] = this.whole;
    this.toPlace(this.board, (l + r) / 2, (t + b) / 2);
  }

  /** Puts a page in reach where it belongs; those far away are not part of the layout at all. */
  placePage({ el, ground, x, y, page, tiles }: PageView): void {
    const [left, top] = extentOf(page).map((v) => v * this.scale);
    Object.assign(el.style, { left: `${x + left}px`, top: `${y + top}px`, width: `${page.w * this.scale}px`, height: `${page.h * this.scale}px` });
    Object.assign(ground.style, { left: `${-left}px`, top: `${-top}px` });
    el.style.background = lookOf(page).sheet(page.paper);
    tiles.setScale(this.scale, this.dpr, page);
  }

  /** Lays the pages out at another zoom; what is at `sx`, `sy` of the sheet (px, before) comes to `x`, `y` of the view. */
  relay(zoom: number | null, sx: number, sy: number, x: number, y: number): void {
    const page = this.board ?? this.pages.findLast((v) => v.y <= sy) ?? this.pages[0];
    const [mx, my] = page ? [(sx - page.x) / this.scale, (sy - page.y) / this.scale] : [0, 0];
    this.zoom = zoom;
    this.anew = true;
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
      const [, t, , b] = extentOf(v.page);
      if (sy >= v.y + t * this.scale - BETWEEN_PX / 2 && sy <= v.y + b * this.scale + BETWEEN_PX / 2) best = v;
    }
    if (!best && nearest) best = (this.sideways ? this.pages[this.turner.index] : this.pages.at(-1)) ?? null;
    if (!best) return null;
    return { view: best, x: (sx - best.x) / this.scale, y: (sy - best.y) / this.scale };
  }

  /** A contact as the tools take it: on the page, and kept there. */
  onPage(view: PageView, c: Contact): At {
    const x = (c.x + this.scroller.scrollLeft - this.inset - view.x) / this.scale;
    const y = (c.y + this.scroller.scrollTop - view.y) / this.scale;
    const [l, t, r, b] = extentOf(view.page);
    return { x: Math.min(r, Math.max(l, x)), y: Math.min(b, Math.max(t, y)), pressure: c.pressure, time: c.time };
  }

  /** In the sideways way a page has to be open before a place of it can be seen. True when another one was opened. */
  openPage(index: number): boolean {
    if (!this.sideways || index < 0 || index === this.turner.index) return false;
    this.turnTo(index);
    return true;
  }

  /** Another page is open. A board and a page are seen from different distances. */
  turnTo(index: number): void {
    const was = this.board !== null;
    this.turner.index = index;
    if (was || this.board) this.zoom = null;
    this.anew = true;
    this.lay();
    this.toMiddle();
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
