/** A small map of the board: where something lies on it, and what of it is in sight. A touch goes there, arrow keys move the view. */
import { extentOf } from '../../../core/note/board';
import type { Box } from '../../../core/ink/stroke';
import { coveredBy, type Placed } from '../../../core/note/kinds/kinds';
import { PRINT } from '../../../core/note/paper';
import { lookOf } from '../../../platform/drawing/pageLook';
import { onArrows } from './arrowKeys';
import type { PageView } from './pageView';
import './boardMap.css';

/** Largest sides, px. */
const [WIDE, HIGH] = [112, 84] as const;
/** What is written has come to rest for so long before the map is drawn anew, ms. */
const REST_MS = 300;
/** Things smaller than this stand for a word or a part of one, and are so large at least, px. */
const LEAST_PX = 1.2;
/** What is larger than this in both directions is drawn as a frame: filled it would hide what lies in it, px. */
const LARGE_PX = 10;
/** With more than this share of it in sight, across and down, the whole board is. */
const SEEN = 0.8;
/** An arrow key moves the view by this share of it. */
const KEY = 0.25;

export interface BoardMapHost {
  /** Brings a place (mm) into the middle of the view. */
  go(x: number, y: number): void;
  /** What of the board is in sight, mm. */
  sight(): Box;
  /** The board as it was written, without the air around it and what was only moved over, mm. */
  whole(): Box;
}

export class BoardMap {
  private readonly el: HTMLElement;
  private readonly map: HTMLElement;
  private readonly canvas: HTMLCanvasElement;
  private readonly sight: HTMLElement;
  private readonly fold: HTMLButtonElement;
  private folded = false;
  private view: PageView | null = null;
  private drawn: readonly [readonly Placed[], string] | null = null;
  private rest: ReturnType<typeof setTimeout> | undefined;
  /** What the map shows, mm, and px per mm. */
  private part: Box = [0, 0, 1, 1];
  private k = 1;

  constructor(
    root: HTMLElement,
    private readonly host: BoardMapHost,
  ) {
    const make = <T extends keyof HTMLElementTagNameMap>(tag: T, className: string, parent: HTMLElement) => {
      const el = document.createElement(tag);
      el.className = className;
      parent.append(el);
      return el;
    };
    this.el = make('div', 'board-map', root);
    this.el.dataset.testid = 'board-map';
    this.el.hidden = true;
    this.map = make('div', 'board-map-sheet', this.el);
    this.map.tabIndex = 0;
    this.map.setAttribute('role', 'application');
    this.map.setAttribute('aria-roledescription', 'map');
    this.canvas = make('canvas', '', this.map);
    this.sight = make('div', 'board-map-sight', this.map);
    this.fold = make('button', 'board-map-fold', this.el);
    this.fold.type = 'button';
    this.fold.addEventListener('click', () => {
      this.folded = !this.folded;
      this.showFolded();
      this.show(this.view);
    });
    this.showFolded();
    onArrows(this.map, (dx, dy) => {
      const [l, t, r, b] = this.host.sight();
      this.host.go((l + r) / 2 + dx * KEY * (r - l), (t + b) / 2 + dy * KEY * (b - t));
    });
    this.map.addEventListener('pointerdown', (e) => {
      this.map.setPointerCapture(e.pointerId);
      this.goTo(e);
    });
    this.map.addEventListener('pointermove', (e) => this.map.hasPointerCapture(e.pointerId) && this.goTo(e));
  }

  private showFolded(): void {
    this.map.hidden = this.folded;
    this.fold.textContent = this.folded ? 'Map' : '–';
    this.fold.setAttribute('aria-label', this.folded ? 'Show the map' : 'Fold the map');
    this.fold.title = this.folded ? 'Show the map' : 'Fold the map';
  }

  private goTo(e: PointerEvent): void {
    e.preventDefault();
    const box = this.map.getBoundingClientRect();
    this.host.go(this.part[0] + (e.clientX - box.left) / this.k, this.part[1] + (e.clientY - box.top) / this.k);
  }

  /** The board that is open; null where there is none. Nothing is shown while all of it is in sight. */
  show(view: PageView | null): void {
    this.view = view;
    const [l, t, r, b] = view ? this.host.sight() : [0, 0, 0, 0];
    const [pl, pt, pr, pb] = view ? extentOf(view.page) : [0, 0, 0, 0];
    const [wl, wt, wr, wb] = view ? this.host.whole() : [0, 0, 0, 0];
    const isWhole = Math.min(r, wr) - Math.max(l, wl) > SEEN * (wr - wl) && Math.min(b, wb) - Math.max(t, wt) > SEEN * (wb - wt);
    this.el.hidden = !view || isWhole;
    if (!view || isWhole || this.folded) return;
    this.part = [pl, pt, pr, pb];
    const k = Math.min(WIDE / (pr - pl), HIGH / (pb - pt));
    const [w, h] = [Math.round((pr - pl) * k), Math.round((pb - pt) * k)];
    if (k !== this.k || this.map.style.width !== `${w}px` || this.map.style.height !== `${h}px`) {
      this.k = k;
      Object.assign(this.map.style, { width: `${w}px`, height: `${h}px` });
    }
    const [x, y] = [Math.max(0, (l - pl) * k), Math.max(0, (t - pt) * k)];
    Object.assign(this.sight.style, { left: `${x}px`, top: `${y}px`, width: `${Math.min(w, (r - pl) * k) - x}px`, height: `${Math.min(h, (b - pt) * k) - y}px` });
    const key = `${view.page.id} ${this.part.join()} ${w} ${lookOf(view.page).sheet(view.page.paper)}`;
    if (this.drawn?.[0] === view.placed && this.drawn[1] === key) return;
    // At once where there is nothing of it to see yet; a board that grows under the fingers waits until they rest.
    clearTimeout(this.rest);
    if (this.drawn?.[1].split(' ')[0] !== view.page.id) return this.draw(view, key);
    this.rest = setTimeout(() => this.view === view && this.draw(view, key), REST_MS);
  }

  private draw(view: PageView, key: string): void {
    const { placed, page } = view;
    this.drawn = [placed, key];
    const dpr = Math.min(3, window.devicePixelRatio || 1);
    const [w, h] = [parseFloat(this.map.style.width), parseFloat(this.map.style.height)];
    [this.canvas.width, this.canvas.height] = [Math.round(w * dpr), Math.round(h * dpr)];
    const ctx = this.canvas.getContext('2d')!;
    const look = lookOf(page);
    ctx.scale(dpr, dpr);
    ctx.fillStyle = look.sheet(page.paper);
    ctx.fillRect(0, 0, w, h);
    ctx.fillStyle = ctx.strokeStyle = look.ink(PRINT);
    const [l, t] = this.part;
    for (const it of placed) {
      const [x0, y0, x1, y1] = coveredBy(it);
      const [x, y, dx, dy] = [(x0 - l) * this.k, (y0 - t) * this.k, (x1 - x0) * this.k, (y1 - y0) * this.k];
      if (dx > LARGE_PX && dy > LARGE_PX) ctx.strokeRect(x, y, dx, dy);
      else ctx.fillRect(x, y, Math.max(LEAST_PX, dx), Math.max(LEAST_PX, dy));
    }
    this.map.setAttribute('aria-label', placed.length ? `Map of the board, ${Math.round(page.w / 10)} by ${Math.round(page.h / 10)} cm. Arrow keys move the view.` : 'Map of the board; nothing is written on it yet');
  }

  destroy(): void {
    clearTimeout(this.rest);
    this.el.remove();
  }
}
