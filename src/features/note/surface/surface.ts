/**
 * The pages of the open note on the screen: layout and scrolling, ink, the pen, what is heard, the time margin.
 * It works on the document directly, since a stroke cannot wait for a render; the React side hands it the state.
 */
import { InkIndex } from '../../../core/ink/inkIndex';
import { growBox, makeStroke, unionBox, type Box, type Pen, type Stroke } from '../../../core/ink/stroke';
import type { Note } from '../../../core/note/edit';
import type { Page } from '../../../core/note/schema';
import { toTimeline } from '../../../core/time/timeline';
import { attachPointer, type Contact } from '../../../platform/pointer';
import type { Mode, PageWords } from '../../../store/noteSlice';
import { MarginView, marginLines } from './margin';
import { PageTiles, type Look } from './tiles';
import { WetInk } from './wetInk';

export const MARGIN_PX = 52;
const GAP_PX = 6;
const MAX_PAGE_PX = 860;
const MIN_ZOOM = 0.25;
const MAX_ZOOM = 10;
/** A touch this far from ink still means it, mm at fit width on a phone (about a fingertip). */
const TOUCH_MM = 3.2;
const ERASER_MM = 1.5;
/** Writing this close to the end of the last page brings the next one, mm. */
const NEAR_END_MM = 50;

export interface SurfaceState {
  readonly note: Note;
  readonly mode: Mode;
  readonly canWrite: boolean;
  readonly tool: Pen | 'eraser';
  readonly penSeen: boolean;
  readonly words: Readonly<Record<string, PageWords>>;
  readonly lit: { readonly page: string; readonly stroke: string } | null;
}

export interface SurfaceEvents {
  penSeen(): void;
  /** A finished stroke; `points` of the pen become ink with its stamp. `newPage`: the writing nears the end. */
  wrote(make: (stamp: Stroke['stamp'], id: string) => Stroke, downAt: number, newPage: boolean): void;
  erased(strokes: readonly Stroke[]): void;
  touched(stroke: Stroke | null): void;
  zoomed(percent: number): void;
}

interface PageView {
  page: Page;
  strokes: readonly Stroke[];
  index: InkIndex;
  el: HTMLElement;
  lit: HTMLElement;
  now: HTMLElement;
  tiles: PageTiles;
  /** px in the sheet. */
  x: number;
  y: number;
  /** Stroke id to its word or drawing: strokes and box. */
  wordOf: Map<string, { strokes: readonly string[]; box: Box }>;
  wordsFrom: PageWords | null;
  unheard: readonly Box[];
  near: boolean;
}

/** What a stroke covers with its width, mm. */
const inkBox = ({ box, pen }: Stroke): Box => growBox(box, pen.width);

const NONE: ReadonlySet<string> = new Set();

export class Surface {
  private readonly root: HTMLElement;
  private readonly scroller: HTMLElement;
  private readonly sheet: HTMLElement;
  private readonly pagesEl: HTMLElement;
  private readonly marginEl: HTMLElement;
  private readonly margin: MarginView;
  private readonly wet: WetInk;
  private readonly detach: () => void;
  private readonly resize: ResizeObserver;
  private pages: PageView[] = [];
  private state: SurfaceState | null = null;
  private width = 0;
  private height = 0;
  private zoom = 1;
  private scale = 1;
  private frame = 0;
  private drawingOn: PageView | null = null;
  private downAt = 0;
  private erasing: { page: PageView; at: { x: number; y: number }; gone: Map<string, Stroke> } | null = null;
  private hidden: ReadonlySet<string> = NONE;
  private marginStale = true;
  /** Strokes with sound in the order of the timeline, for what has been heard and what is heard now. */
  private order: { at: number; stroke: Stroke }[] = [];
  private orderOf: readonly unknown[] = [];
  private heardTo: number | null = null;
  private fling = { vx: 0, vy: 0, at: 0 };

  constructor(
    host: HTMLElement,
    private readonly events: SurfaceEvents,
  ) {
    const make = (className: string, parent: HTMLElement) => {
      const el = document.createElement('div');
      el.className = className;
      parent.append(el);
      return el;
    };
    this.root = make('surface', host);
    this.scroller = make('surface-scroller', this.root);
    this.scroller.tabIndex = 0;
    this.scroller.setAttribute('role', 'region');
    this.scroller.setAttribute('aria-label', 'Pages');
    this.sheet = make('surface-sheet', this.scroller);
    this.marginEl = make('margin', this.sheet);
    this.marginEl.setAttribute('role', 'group');
    this.marginEl.setAttribute('aria-label', 'Time margin');
    this.pagesEl = make('surface-pages', this.sheet);
    this.root.style.setProperty('--margin', `${MARGIN_PX}px`);
    this.margin = new MarginView(this.marginEl, (stroke) => this.events.touched(stroke));
    this.wet = new WetInk(this.root);
    this.scroller.addEventListener('scroll', this.scrolled, { passive: true });
    this.scroller.addEventListener('wheel', this.wheel, { passive: false });
    this.resize = new ResizeObserver(() => this.measure());
    this.resize.observe(this.root);
    this.detach = attachPointer(this.scroller, {
      rules: () => ({ draws: this.state?.mode === 'write' && this.state.canWrite, penSeen: this.state?.penSeen ?? false }),
      penSeen: () => this.events.penSeen(),
      begin: (at, erase) => this.begin(at, erase),
      move: (points, foretold) => this.move(points, foretold),
      end: () => this.end(),
      cancel: () => this.cancel(),
      tap: (at) => this.tap(at),
      pan: (dx, dy) => this.scroller.scrollBy(-dx, -dy),
      panStart: () => (this.fling = { vx: 0, vy: 0, at: 0 }),
      pinch: (by, x, y) => this.zoomTo(this.zoom * by, x, y),
      fling: (vx, vy) => {
        this.fling = { vx, vy, at: performance.now() };
        this.request();
      },
    });
    this.measure();
  }

  destroy(): void {
    cancelAnimationFrame(this.frame);
    this.resize.disconnect();
    this.detach();
    this.root.remove();
  }

  // State

  update(state: SurfaceState): void {
    const before = this.state;
    this.state = state;
    this.root.dataset.mode = state.mode;
    if (before?.note.header.pages !== state.note.header.pages) this.layPages();
    for (const view of this.pages) this.updatePage(view, before);
    if (this.pages.some((v) => v.near && before?.words[v.page.id] !== state.words[v.page.id]) || before?.note.header.timeline !== state.note.header.timeline || before?.mode !== state.mode || before?.note.ink !== state.note.ink) this.marginStale = true;
    if (before?.lit !== state.lit || before?.mode !== state.mode) this.showLit();
    // Marks of listening have no place where one writes; the walk shows them again in Listen.
    if (state.mode === 'write') for (const view of this.pages) view.now.hidden = true;
    else if (before?.mode === 'write') this.showCurrent();
    this.request();
  }

  private updatePage(view: PageView, before: SurfaceState | null): void {
    const state = this.state!;
    const next = state.note.ink[view.page.id] ?? [];
    if (next !== view.strokes) {
      const had = view.strokes;
      view.strokes = next;
      view.index.update(next);
      if (next.length === had.length + 1 && next[next.length - 2] === had[had.length - 1]) view.tiles.add(next[next.length - 1]);
      else this.invalidateChanged(view, had, next);
    }
    const words = state.words[view.page.id] ?? null;
    if (words !== view.wordsFrom) {
      view.wordsFrom = words;
      view.wordOf = new Map();
      for (const w of [...(words?.grouping.words ?? []), ...(words?.grouping.drawings ?? [])]) for (const id of w.strokes) view.wordOf.set(id, w);
    }
    const timeline = state.note.header.timeline;
    if (before?.words !== state.words || before?.mode !== state.mode || before?.note.header.timeline !== timeline) {
      const was = view.unheard;
      view.unheard = state.mode === 'listen' && words ? unheardWords(words, view.strokes, (s) => toTimeline(timeline, s.stamp) !== null) : [];
      if (was.length || view.unheard.length) view.tiles.invalidate();
      if (before?.mode !== state.mode && this.heardTo !== null) view.tiles.invalidate();
    }
  }

  private invalidateChanged(view: PageView, had: readonly Stroke[], next: readonly Stroke[]): void {
    const old = new Set(had);
    const now = new Set(next);
    for (const s of had) if (!now.has(s)) view.tiles.invalidate(inkBox(s));
    for (const s of next) if (!old.has(s)) view.tiles.invalidate(inkBox(s));
  }

  // Layout

  private measure(): void {
    const { clientWidth, clientHeight } = this.root;
    if (!clientWidth || !clientHeight) return;
    const keep = this.anchor();
    [this.width, this.height] = [clientWidth, clientHeight];
    this.wet.resize(clientWidth, clientHeight, this.dpr);
    this.layPages();
    if (keep) this.scroller.scrollTop = keep * this.scale;
    this.request();
  }

  /** The place at the top of the view in mm of sheet, to return to after a change of scale. */
  private anchor(): number {
    return this.scroller.scrollTop / this.scale;
  }

  private get dpr(): number {
    return Math.min(3, window.devicePixelRatio || 1);
  }

  private layPages(): void {
    const pages = this.state?.note.header.pages;
    if (!pages || !this.width) return;
    const widest = Math.max(...pages.map((p) => p.w));
    this.scale = (Math.min(MAX_PAGE_PX, this.width - MARGIN_PX - 8) / widest) * this.zoom;
    const old = new Map(this.pages.map((v) => [v.page.id, v]));
    const inner = Math.max(widest * this.scale + 8, this.width - MARGIN_PX - 1);
    let y = GAP_PX;
    this.pages = pages.map((page, i) => {
      const view = old.get(page.id) ?? this.makePage(page);
      old.delete(page.id);
      view.page = page;
      view.x = Math.max(4, (inner - page.w * this.scale) / 2);
      view.y = y;
      view.el.dataset.testid = `page-${i + 1}`;
      view.el.setAttribute('aria-label', `Page ${i + 1} of ${pages.length}`);
      (view.el.querySelector('.page-number') as HTMLElement).textContent = `${i + 1}`;
      const [w, h] = [page.w * this.scale, page.h * this.scale];
      Object.assign(view.el.style, { left: `${view.x}px`, top: `${y}px`, width: `${w}px`, height: `${h}px` });
      view.tiles.setScale(this.scale, this.dpr, page);
      y += h + GAP_PX;
      return view;
    });
    for (const gone of old.values()) {
      gone.tiles.release();
      gone.el.remove();
    }
    Object.assign(this.pagesEl.style, { width: `${inner}px`, height: `${y + this.height * 0.35}px` });
    this.marginStale = true;
    this.showLit();
  }

  private makePage(page: Page): PageView {
    const el = document.createElement('div');
    el.className = 'page';
    el.setAttribute('role', 'img');
    const child = (className: string) => {
      const d = document.createElement('div');
      d.className = className;
      d.hidden = true;
      el.append(d);
      return d;
    };
    const number = child('page-number');
    number.hidden = false;
    const lit = child('word-lit');
    const now = child('word-now');
    this.pagesEl.append(el);
    return { page, strokes: [], index: new InkIndex(), el, lit, now, tiles: new PageTiles(el, page), x: 0, y: 0, wordOf: new Map(), wordsFrom: null, unheard: [], near: false };
  }

  zoomTo(zoom: number, x = this.width / 2, y = this.height / 2): void {
    const next = Math.min(MAX_ZOOM, Math.max(MIN_ZOOM, zoom));
    if (next === this.zoom) return;
    const by = next / this.zoom;
    const [left, top] = [this.scroller.scrollLeft + x - MARGIN_PX, this.scroller.scrollTop + y];
    this.zoom = next;
    this.layPages();
    this.scroller.scrollLeft = left * by - x + MARGIN_PX;
    this.scroller.scrollTop = top * by - y;
    this.events.zoomed(Math.round(next * 100));
    this.request();
  }

  private wheel = (e: WheelEvent): void => {
    if (!e.ctrlKey) return;
    e.preventDefault();
    const box = this.root.getBoundingClientRect();
    this.zoomTo(this.zoom * Math.exp(-e.deltaY / 300), e.clientX - box.left, e.clientY - box.top);
  };

  private scrolled = (): void => this.request();

  goToPage(index: number): void {
    const view = this.pages[index];
    if (view) this.scroller.scrollTop = view.y - GAP_PX;
  }

  // Drawing

  private request(): void {
    if (!this.frame) this.frame = requestAnimationFrame(this.paint);
  }

  private paint = (): void => {
    this.frame = 0;
    this.runFling();
    const { scrollTop, scrollLeft } = this.scroller;
    const look = this.look();
    for (const view of this.pages) {
      const [top, bottom] = [view.y - scrollTop, view.y - scrollTop + view.page.h * this.scale];
      const inReach = bottom > -this.height && top < 2 * this.height;
      if (!inReach) {
        if (view.near) view.tiles.release();
        view.near = false;
        continue;
      }
      if (!view.near) this.marginStale = true;
      view.near = true;
      if (bottom < 0 || top > this.height) continue;
      const box: Box = [(scrollLeft - view.x) / this.scale, -top / this.scale, (scrollLeft + this.width - view.x) / this.scale, (this.height - top) / this.scale];
      view.tiles.draw(box, view.index, { ...look, unheard: view.unheard });
    }
    if (this.marginStale && !this.wet.active) this.showMargin();
  };

  private runFling(): void {
    const { vx, vy, at } = this.fling;
    if (Math.hypot(vx, vy) < 0.02) return;
    const now = performance.now();
    const dt = Math.min(40, now - at);
    this.scroller.scrollBy(-vx * dt, -vy * dt);
    const slow = Math.exp(-dt / 325);
    this.fling = { vx: vx * slow, vy: vy * slow, at: now };
    this.request();
  }

  private look(): Omit<Look, 'unheard'> {
    const { heardTo } = this;
    if (heardTo === null || this.state?.mode !== 'listen') return { heard: () => true, hidden: this.hidden };
    const timeline = this.state.note.header.timeline;
    return {
      heard: (s) => {
        const at = toTimeline(timeline, s.stamp);
        return at === null || at <= heardTo;
      },
      hidden: this.hidden,
    };
  }

  private showMargin(): void {
    this.marginStale = false;
    const { note, mode, words } = this.state!;
    this.margin.clear();
    const shown = this.pages.filter((v) => v.near);
    const strips: { lines: ReturnType<typeof marginLines>; y: number }[] = [];
    for (const view of shown) {
      const found = words[view.page.id];
      if (found) strips.push({ lines: marginLines(note, view.page, found.grouping), y: view.y });
    }
    // One list for all pages in reach, in sheet px, so that times at a page's edge keep clear of each other.
    const lines = strips.flatMap((s) => s.lines.map((l) => ({ ...l, y: l.y + s.y / this.scale, top: l.top + s.y / this.scale, bottom: l.bottom + s.y / this.scale })));
    this.margin.show(lines, 0, this.scale, mode === 'listen');
    this.margin.mark(mode === 'listen' ? this.heardTo : null);
  }

  // What is heard

  private timed(): { at: number; stroke: Stroke }[] {
    const { note } = this.state!;
    if (this.orderOf[0] === note.ink && this.orderOf[1] === note.header.timeline) return this.order;
    this.orderOf = [note.ink, note.header.timeline];
    const order: { at: number; stroke: Stroke }[] = [];
    for (const list of Object.values(note.ink)) {
      for (const stroke of list) {
        const at = toTimeline(note.header.timeline, stroke.stamp);
        if (at !== null) order.push({ at, stroke });
      }
    }
    return (this.order = order.sort((a, b) => a.at - b.at));
  }

  /** The playing position in ms of the timeline, or null while nothing has been played: then all ink is full. */
  showPosition(position: number | null): void {
    if (!this.state || position === this.heardTo) return;
    const before = this.heardTo;
    this.heardTo = position;
    if (this.state.mode !== 'listen') return;
    if (position === null || before === null || position < before) {
      for (const view of this.pages) view.tiles.invalidate();
      this.request();
    }
    if (position === null) {
      for (const view of this.pages) view.now.hidden = true;
      this.margin.mark(null);
      return;
    }
    if (before !== null && position > before) {
      const order = this.timed();
      for (let i = lastAt(order, before) + 1, to = lastAt(order, position); i <= to; i++) this.pages.find((v) => v.page.id === order[i].stroke.page)?.tiles.add(order[i].stroke);
    }
    this.showCurrent();
  }

  /** Marks the word that was being written at the playing position, and its line in the margin. */
  private showCurrent(): void {
    if (this.heardTo === null) return;
    const order = this.timed();
    const current = order[lastAt(order, this.heardTo)]?.stroke ?? null;
    for (const view of this.pages) {
      const word = current && view.page.id === current.page ? (view.wordOf.get(current.id)?.box ?? current.box) : null;
      this.place(view.now, word);
    }
    this.margin.mark(this.heardTo);
  }

  private place(el: HTMLElement, box: Box | null): void {
    el.hidden = !box;
    if (!box) return;
    const [l, t, r, b] = growBox(box, 1.2);
    Object.assign(el.style, { left: `${l * this.scale}px`, top: `${t * this.scale}px`, width: `${(r - l) * this.scale}px`, height: `${(b - t) * this.scale}px` });
  }

  private showLit(): void {
    const lit = this.state?.mode === 'listen' ? this.state.lit : null;
    for (const view of this.pages) {
      if (lit?.page !== view.page.id) {
        this.place(view.lit, null);
        continue;
      }
      const stroke = view.strokes.find((s) => s.id === lit.stroke);
      this.place(view.lit, view.wordOf.get(lit.stroke)?.box ?? stroke?.box ?? null);
    }
  }

  /** The first stroke of what was touched: a word, a drawing, or loose ink. */
  private tap(at: Contact): void {
    if (this.state?.mode !== 'listen') return;
    if (at.x < MARGIN_PX) {
      const line = this.margin.nearest(at.y + this.scroller.scrollTop, 0, this.scale);
      if (line) this.events.touched(line.stroke);
      return;
    }
    const hit = this.pageAt(at, false);
    if (!hit) return this.events.touched(null);
    const { view, x, y } = hit;
    const reach = Math.max(TOUCH_MM, 12 / this.scale);
    let found: Stroke | null = view.index.at(x, y, reach)[0] ?? null;
    if (!found) {
      // Between the letters of a word is on the word.
      const words = view.wordsFrom?.grouping;
      const inside = [...(words?.words ?? []), ...(words?.drawings ?? [])].find((w) => x >= w.box[0] && x <= w.box[2] && y >= w.box[1] && y <= w.box[3]);
      found = inside ? (view.strokes.find((s) => s.id === inside.strokes[0]) ?? null) : null;
    }
    if (!found) return this.events.touched(null);
    const ids = view.wordOf.get(found.id)?.strokes ?? [found.id];
    const members = view.strokes.filter((s) => ids.includes(s.id));
    // A word is dated by its first stroke that has sound; later dots and repairs do not move it.
    this.events.touched(members.find((s) => s.stamp) ?? members[0] ?? found);
  }

  // The pen

  private pageAt(at: { x: number; y: number }, nearest: boolean): { view: PageView; x: number; y: number } | null {
    const [sx, sy] = [at.x + this.scroller.scrollLeft - MARGIN_PX, at.y + this.scroller.scrollTop];
    let best: PageView | null = null;
    for (const v of this.pages) {
      if (sy >= v.y - GAP_PX / 2 && sy <= v.y + v.page.h * this.scale + GAP_PX / 2) best = v;
    }
    if (!best && nearest) best = this.pages.at(-1) ?? null;
    if (!best) return null;
    return { view: best, x: (sx - best.x) / this.scale, y: (sy - best.y) / this.scale };
  }

  private onPage(view: PageView, at: { x: number; y: number }): { x: number; y: number } {
    const x = (at.x + this.scroller.scrollLeft - MARGIN_PX - view.x) / this.scale;
    const y = (at.y + this.scroller.scrollTop - view.y) / this.scale;
    return { x: Math.min(view.page.w, Math.max(0, x)), y: Math.min(view.page.h, Math.max(0, y)) };
  }

  private begin(at: Contact, erase: boolean): void {
    const hit = this.pageAt(at, false);
    if (!hit || !this.state || at.x < MARGIN_PX) return;
    const tool = erase ? 'eraser' : this.state.tool;
    if (tool === 'eraser') {
      this.erasing = { page: hit.view, at: hit, gone: new Map() };
      this.eraseTo(hit);
      return;
    }
    this.drawingOn = hit.view;
    this.downAt = at.time;
    this.wet.begin(tool, hit.view.x - this.scroller.scrollLeft + MARGIN_PX, hit.view.y - this.scroller.scrollTop, this.scale, at.time);
    this.add(at);
    this.wet.show([]);
  }

  private add(at: Contact): void {
    const { x, y } = this.onPage(this.drawingOn!, at);
    this.wet.add(x, y, at.pressure, at.time);
  }

  private move(points: readonly Contact[], foretold: readonly Contact[]): void {
    if (this.erasing) {
      for (const p of points) this.eraseTo(this.onPage(this.erasing.page, p));
      return;
    }
    const view = this.drawingOn;
    if (!view) return;
    for (const p of points) this.add(p);
    this.wet.show(foretold.map((p) => this.onPage(view, p)));
  }

  private end(): void {
    if (this.erasing) {
      const gone = [...this.erasing.gone.values()];
      this.erasing = null;
      this.hidden = NONE;
      if (gone.length) this.events.erased(gone);
      return;
    }
    const view = this.drawingOn;
    this.drawingOn = null;
    if (!view || !this.state || this.state.tool === 'eraser' || !this.wet.points.n) return this.wet.clear();
    const points = this.wet.points.points();
    const pen = this.state.tool;
    const wall = Math.round(performance.timeOrigin + this.downAt);
    const last = this.pages.at(-1) === view;
    let bottom = 0;
    for (let i = 0; i < points.n; i++) bottom = Math.max(bottom, points.xy[2 * i + 1] / 100);
    this.events.wrote((stamp, id) => makeStroke(points, { id, page: view.page.id, pen, stamp, wall }), this.downAt, last && bottom > view.page.h - NEAR_END_MM);
    // The page has drawn it by now, in the same turn, so nothing flickers.
    this.wet.clear();
    if (this.marginStale) this.request();
  }

  private cancel(): void {
    this.drawingOn = null;
    this.wet.clear();
    if (!this.erasing) return;
    this.erasing = null;
    this.hidden = NONE;
    for (const v of this.pages) v.tiles.invalidate();
    this.request();
  }

  private eraseTo(to: { x: number; y: number }): void {
    const e = this.erasing!;
    const hits = e.page.index.along(e.at.x, e.at.y, to.x, to.y, ERASER_MM).filter((s) => !e.gone.has(s.id));
    e.at = to;
    if (!hits.length) return;
    for (const s of hits) {
      e.gone.set(s.id, s);
      e.page.tiles.invalidate(inkBox(s));
    }
    this.hidden = new Set(e.gone.keys());
    this.request();
  }

  /** Brings a stroke into view, a third from the top. */
  reveal(stroke: Stroke): void {
    const view = this.pages.find((v) => v.page.id === stroke.page);
    if (!view) return;
    const y = view.y + stroke.box[1] * this.scale;
    const top = this.scroller.scrollTop;
    if (y > top + 20 && y < top + this.height - 40) return;
    this.scroller.scrollTop = y - this.height / 3;
  }
}

/** Index of the last entry at or before `position`, -1 for none. */
function lastAt(order: readonly { at: number }[], position: number): number {
  let [lo, hi] = [0, order.length];
  while (lo < hi) {
    const mid = (lo + hi) >> 1;
    if (order[mid].at <= position) lo = mid + 1;
    else hi = mid;
  }
  return lo - 1;
}

/** Words of which no stroke is heard anywhere, as boxes; ink that is in no word yet counts by itself. */
function unheardWords(words: PageWords, strokes: readonly Stroke[], isHeard: (s: Stroke) => boolean): Box[] {
  const heard = new Map(strokes.map((s) => [s.id, isHeard(s)]));
  const boxes: Box[] = [];
  for (const w of [...words.grouping.words, ...words.grouping.drawings]) if (!w.strokes.some((id) => heard.get(id))) boxes.push(w.box);
  // Neighbours share a line of dots.
  boxes.sort((a, b) => a[1] - b[1] || a[0] - b[0]);
  const joined: Box[] = [];
  for (const b of boxes) {
    const last = joined.at(-1);
    if (last && Math.abs(last[3] - b[3]) < 1 && b[0] - last[2] < 4 && b[0] >= last[0]) joined[joined.length - 1] = unionBox(last, b);
    else joined.push(b);
  }
  return joined;
}
