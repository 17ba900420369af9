/**
 * The pages of the open note on the screen: layout and scrolling, ink, the pen, what is heard, the time margin.
 * It works on the document directly, since a stroke cannot wait for a render; the React side hands it the state.
 */
import { onlyPenWrites, type Settings } from '../../../storage/settingsFile';
import type { PenSetting } from '../../../core/ink/pen';
import { PX_PER_MM } from '../../../core/ink/ruler';
import type { StripSetting } from '../../../core/ink/strip';
import { growBox, unionBox, type Box } from '../../../core/ink/stroke';
import { coveredBy, distanceTo, layerOf, type Placed } from '../../../core/note/kinds/kinds';
import type { Gap } from '../../../core/review/gaps';
import type { Note } from '../../../core/note/edit';
import { NEW_PAPER } from '../../../core/note/schema';
import { toTimeline } from '../../../core/time/timeline';
import { attachPointer, type Contact } from '../../../platform/pointer';
import type { Mode, PageWords } from '../../../store/noteSlice';
import type { Lit, ToolName } from '../../../store/slices';
import { DARK_PAGE, LIGHT_PAGE, onScreen } from '../../../platform/drawing/pageLook';
import { MarginView, marginLines, type MarginLine, type ReviewMark } from './margin';
import { makePageView, type PageView } from './pageView';
import { ReplayView } from './replayView';
import { RulerView } from './rulerView';
import { SelectionBox } from './selectionBox';
import { StripView, type StripHost } from './stripView';
import { isSpent, type Budget, type Look } from './tiles';
import { Turner } from './turner';
import { EraserTool } from './tools/eraserTool';
import { FillTool } from './tools/fillTool';
import { LassoTool } from './tools/lassoTool';
import { PenTool } from './tools/penTool';
import { RoomTool } from './tools/roomTool';
import { ShapesTool } from './tools/shapesTool';
import type { At, Tool, ToolEvents } from './tools/tool';
import { WetInk } from './wetInk';

export const MARGIN_PX = 52;
const GAP_PX = 6;
const MAX_PAGE_PX = 860;
/** Share of true size (96 px to the inch). */
const MIN_ZOOM = 0.25;
const MAX_ZOOM = 10;
/** A touch this far from ink still means it, mm at fit width on a phone (about a fingertip). */
const TOUCH_MM = 3.2;
/** Drawing may take this much of a frame; the rest waits for the next one, ms. */
const FRAME_MS = 5;
const FRAME_STROKES = 250;
/** After a jump the page is shown as it stood then, at once where that is possible. */
const JUMP_MS = 60;
const JUMP_STROKES = 4000;
/** A change of position larger than this is a jump, ms. */
const JUMP_LEAST_MS = 400;
/** More changed strokes than this are drawn anew as one area. */
const MANY = 60;
/** Fingers or wheel that rest so long have done zooming, ms. */
const ZOOM_REST_MS = 130;
/** Stretched beyond this the pages are laid out and drawn anew in the middle of a zoom. */
const STRETCH = { least: 0.55, most: 2.2 };
const STRIP_PX = { phone: 168, wide: 190 };
const STRIP_BAR_PX = 44;

/** What the writing strip takes of the view with its bar, px. */
export const stripHeight = (wide: boolean): number => (wide ? STRIP_PX.wide : STRIP_PX.phone) + STRIP_BAR_PX;

export interface SurfaceState {
  readonly note: Note;
  readonly mode: Mode;
  readonly canWrite: boolean;
  readonly tool: ToolName;
  readonly pen: PenSetting;
  readonly eraser: Settings['eraser'];
  readonly onlyPen: boolean;
  readonly fingerUndo: boolean;
  readonly holdShapes: boolean;
  readonly snap: boolean;
  readonly scratchOut: boolean;
  readonly zoomLocked: boolean;
  readonly leftHanded: boolean;
  readonly handRest: number;
  readonly ruler: boolean;
  readonly stripOn: boolean;
  readonly strip: StripSetting;
  readonly selection: { readonly page: string; readonly ids: readonly string[] } | null;
  readonly words: Readonly<Record<string, PageWords>>;
  readonly lit: Lit | null;
  readonly playing: boolean;
  /** The pen writes while one listens. */
  readonly second: boolean;
  readonly secondShown: boolean;
  readonly unheardShown: boolean;
  readonly ahead: Settings['ahead'];
  readonly gaps: readonly Gap[];
  /** How late the writer writes, ms. */
  readonly late: number;
  /** Pages look as on dark paper. */
  readonly dark: boolean;
  /** Page by page, turned sideways, instead of one below the other. */
  readonly sideways: boolean;
}

/** Where pages lie that are not open, px. */
const CLOSED_PX = -1e7;

/** The settings that the surface works by. */
export const surfaceSettings = (settings: Settings) => {
  const { cup, pen, eraser, fingerUndo, holdShapes, snap, scratchOut, zoomLocked, leftHanded, handRest, strip, ahead, secondShown, unheardShown, sideways } = settings;
  return { pen: cup[Math.min(pen, cup.length - 1)], onlyPen: onlyPenWrites(settings), eraser, fingerUndo, holdShapes, snap, scratchOut, zoomLocked, leftHanded, handRest, strip, ahead, secondShown, unheardShown, sideways };
};

export interface SurfaceEvents extends ToolEvents {
  penSeen(): void;
  /** A finger is down on what it will likely touch: its sound can be made ready. */
  aimed(it: Placed): void;
  /** `line`: by its line in the time margin. */
  touched(it: Placed | null, line?: boolean): void;
  /** Plays from a moment of the timeline, ms. */
  playAt(ms: number): void;
  /** `fit`: the page fills the width. */
  zoomed(percent: number, fit: boolean): void;
  undo(): void;
  redo(): void;
  nudge(dx: number, dy: number): void;
  setStrip(setting: StripSetting): void;
  setHandRest(px: number): void;
}

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
  private readonly host: StripHost;
  private readonly tools: Record<Exclude<ToolName, 'pan'>, Tool>;
  private readonly selection: SelectionBox;
  private readonly ruler: RulerView;
  private readonly labelEl: HTMLElement;
  private readonly handRest: HTMLElement;
  private strip: StripView | null = null;
  /** Share of true size; null while the page fills the width. */
  private zoom: number | null = null;
  private scale = 1;
  /**
   * A pinch or the wheel at work: the pages are shown stretched as they are, by one transform, and laid out anew when it rests.
   * `left`, `top`: where the scroller stood; `x`, `y`: the place of the view that stays, px.
   */
  private stretch: { zoom: number; f: number; tx: number; ty: number; left: number; top: number; x: number; y: number } | null = null;
  private zoomRest: ReturnType<typeof setTimeout> | undefined;
  private frame = 0;
  /** The tool that has the pen, and its page. */
  private using: { tool: Tool; view: PageView } | null = null;
  private marginStale = true;
  private readonly replay: ReplayView;
  /** The next drawing may take longer than a frame has. */
  private hurry = false;
  private litShown: Lit | null = null;
  private fling = { vx: 0, vy: 0, at: 0 };
  private readonly turner: Turner;

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
    this.margin = new MarginView(this.marginEl, (first) => this.events.touched(first, true), (ms) => this.events.playAt(ms));
    this.wet = new WetInk(this.root);
    this.replay = this.makeReplay();
    this.labelEl = make('tool-label', this.root);
    this.labelEl.hidden = true;
    this.labelEl.setAttribute('role', 'status');
    this.handRest = make('hand-rest', this.root);
    this.makeHandRest();
    this.turner = new Turner(this.root, (by) => this.turned(by));
    this.host = this.makeHost();
    const { host: tools } = this;
    this.tools = { pen: new PenTool(tools), eraser: new EraserTool(tools), lasso: new LassoTool(tools), room: new RoomTool(tools), shapes: new ShapesTool(tools), fill: new FillTool(tools) };
    this.selection = new SelectionBox(tools, (dx, dy) => this.events.nudge(dx, dy), (view, x, y) => this.touchWithTool(view, x, y));
    this.ruler = new RulerView(() => this.scale);
    this.scroller.addEventListener('scroll', this.scrolled, { passive: true });
    this.scroller.addEventListener('wheel', this.wheel, { passive: false });
    this.resize = new ResizeObserver(() => this.measure());
    this.resize.observe(this.root);
    this.detach = attachPointer(this.scroller, {
      rules: () => ({ draws: this.writes && this.state?.tool !== 'pan', onlyPen: this.state?.onlyPen ?? false }),
      penSeen: () => this.events.penSeen(),
      begin: (at, erase) => this.begin(at, erase),
      move: (points, foretold) => this.move(points, foretold),
      end: () => this.end(),
      cancel: () => this.cancel(),
      tap: (at) => this.tap(at),
      pan: (dx, dy) => this.pan(dx, dy),
      pressed: (at) => {
        this.settleZoom();
        this.fling = { vx: 0, vy: 0, at: 0 };
        this.turner.begin();
        const aim = this.state?.mode === 'listen' && !this.state.second ? this.meant(at) : null;
        if (aim) this.events.aimed(aim);
      },
      pinch: (by, x, y) => {
        if (!this.state?.zoomLocked) this.stretchTo(this.shownZoom * by, x, y);
      },
      fingersTapped: (count) => {
        if (!this.state?.fingerUndo || !this.writes) return;
        if (count === 2) this.events.undo();
        if (count === 3) this.events.redo();
      },
      fling: (vx, vy) => {
        this.settleZoom();
        if (this.turner.end()) return;
        this.fling = { vx, vy, at: performance.now() };
        this.request();
      },
    });
    this.measure();
  }

  destroy(): void {
    cancelAnimationFrame(this.frame);
    clearTimeout(this.zoomRest);
    this.resize.disconnect();
    this.detach();
    this.strip?.destroy();
    this.root.remove();
  }

  private makeHost(): StripHost {
    const current = () => this.state!;
    const scale = () => this.scale;
    return {
      get state() {
        return current();
      },
      get scale() {
        return scale();
      },
      events: this.events,
      wet: this.wet,
      rulerOn: (view) => this.ruler.on(view),
      cornerOf: (view) => ({ x: view.x - this.scroller.scrollLeft + this.inset, y: view.y - this.scroller.scrollTop }),
      isLast: (view) => this.pages.at(-1) === view,
      standIn: (view, id, by, box) => {
        view.index.replace(id, by);
        view.standing = view.standing ? unionBox(view.standing, box) : box;
        this.invalidate(view, box);
      },
      takeOff: (view, placed, box) => {
        const off = new Set(placed);
        view.index.update(view.placed.filter((s) => !off.has(s)));
        view.standing = view.standing ? unionBox(view.standing, box) : box;
        this.invalidate(view, box);
      },
      settle: (view) => {
        if (!view.standing) return;
        view.index.update(view.placed);
        this.invalidate(view, view.standing);
        view.standing = null;
      },
      label: (view, text, x = 0, y = 0) => this.label(view, text, x, y),
      request: () => this.request(),
      pageViews: () => this.pages,
      reveal: (view, box) => this.revealBox(view, box),
      setStrip: (setting) => this.events.setStrip(setting),
      penSeen: () => this.events.penSeen(),
    };
  }

  private makeReplay(): ReplayView {
    const surface = this;
    return new ReplayView(this.root, {
      get state() {
        return surface.state;
      },
      get scale() {
        return surface.scale;
      },
      get dpr() {
        return surface.dpr;
      },
      pages: () => this.pages,
      cornerOf: (view) => this.host.cornerOf(view),
      added: (view, it) => this.added(view, it),
      invalidate: (view, box) => this.invalidate(view, box),
      place: (el, box) => this.place(el, box),
      follow: (view, box) => this.revealBox(view, box, true),
    });
  }

  /** The pen may write: in Write, and in a second pass while listening. */
  private get writes(): boolean {
    return this.state !== null && this.state.canWrite && (this.state.mode === 'write' || this.state.second);
  }

  private invalidate(view: PageView, box?: Box): void {
    view.tiles.invalidate(box);
    this.strip?.changed(view, box);
    this.root.dataset.drawn = 'false';
    this.request();
  }

  private label(view: PageView, text: string | null, x: number, y: number): void {
    this.labelEl.hidden = text === null;
    if (text === null) return;
    this.labelEl.textContent = text;
    const corner = this.host.cornerOf(view);
    const [px, py] = [corner.x + x * this.scale, corner.y + y * this.scale];
    // Above the pen and clear of the hand; kept in the view.
    Object.assign(this.labelEl.style, { left: `${Math.min(this.width - 130, Math.max(8, px - 50))}px`, top: `${Math.min(this.height - 40, Math.max(8, py - 64))}px` });
  }

  /** A strip at the bottom that takes no notice of the hand lying on it. */
  private makeHandRest(): void {
    const { handRest } = this;
    handRest.hidden = true;
    handRest.dataset.testid = 'hand-rest';
    const grip = document.createElement('button');
    grip.type = 'button';
    grip.setAttribute('aria-label', 'Height of the hand rest');
    handRest.append(grip);
    const words = document.createElement('span');
    words.textContent = 'Hand rest';
    handRest.append(words);
    for (const type of ['pointerdown', 'pointermove', 'pointerup', 'touchstart'] as const) handRest.addEventListener(type, (e) => e.stopPropagation());
    const set = (px: number) => this.events.setHandRest(Math.round(Math.min(this.height * 0.7, Math.max(40, px))));
    grip.addEventListener('pointerdown', (e) => {
      grip.setPointerCapture(e.pointerId);
      const [y, from] = [e.clientY, this.state?.handRest ?? 0];
      const on = (m: PointerEvent) => set(from + y - m.clientY);
      grip.addEventListener('pointermove', on);
      for (const type of ['pointerup', 'pointercancel'] as const) grip.addEventListener(type, () => grip.removeEventListener('pointermove', on), { once: true });
    });
    grip.addEventListener('keydown', (e) => {
      if (e.key === 'ArrowUp') set((this.state?.handRest ?? 0) + 10);
      if (e.key === 'ArrowDown') set((this.state?.handRest ?? 0) - 10);
    });
  }

  // State

  update(state: SurfaceState): void {
    const before = this.state;
    this.state = state;
    if (before?.dark !== state.dark) this.showLook();
    this.root.dataset.mode = state.mode;
    this.root.dataset.tool = state.tool;
    this.root.dataset.hand = state.leftHanded ? 'left' : 'right';
    this.handRest.hidden = state.handRest === 0 || state.mode !== 'write' || state.stripOn;
    this.handRest.style.height = `${state.handRest}px`;
    if (before?.note.header.pages !== state.note.header.pages || before?.leftHanded !== state.leftHanded || before.sideways !== state.sideways) this.layPages();
    for (const view of this.pages) this.updatePage(view, before);
    if (this.pages.some((v) => v.near && before?.words[v.page.id] !== state.words[v.page.id]) || before?.note.header.timeline !== state.note.header.timeline || before?.mode !== state.mode || before?.note.ink !== state.note.ink) this.marginStale = true;
    if (before?.lit !== state.lit || before?.mode !== state.mode) this.showLit();
    // Marks of listening have no place where one writes.
    if (before?.mode !== state.mode) this.replay.showCurrent();
    if (before?.ahead !== state.ahead || before.secondShown !== state.secondShown || before.second !== state.second) for (const view of this.pages) this.invalidate(view);
    if (before?.gaps !== state.gaps || before.note.header.marks !== state.note.header.marks) this.marginStale = true;
    if (before && before.playing !== state.playing && !state.playing) this.replay.resume();
    this.root.dataset.second = String(state.second);
    this.replay.draw();
    // A tool that was taken away in the middle of a stroke lets go of it.
    if (this.using && (!this.writes || before?.tool !== state.tool)) this.cancel();
    this.showTools(before);
    this.request();
  }

  /** The colours of the pages; everything is drawn anew in them. */
  private showLook(): void {
    onScreen.look = this.state!.dark ? DARK_PAGE : LIGHT_PAGE;
    this.root.dataset.page = this.state!.dark ? 'dark' : 'light';
    this.root.style.setProperty('--paper', onScreen.look.sheet(NEW_PAPER));
    for (const view of this.pages) {
      this.placePage(view);
      this.invalidate(view);
    }
  }

  private showTools(before: SurfaceState | null): void {
    const state = this.state!;
    const writing = state.mode === 'write' && state.canWrite;
    const chosen = writing && state.selection ? this.pages.find((v) => v.page.id === state.selection!.page) : undefined;
    if (!chosen) this.selection.hide();
    else if (before?.selection !== state.selection || before?.note.ink !== state.note.ink || before?.mode !== state.mode) {
      const ids = new Set(state.selection!.ids);
      this.selection.show(chosen, chosen.placed.filter((s) => ids.has(s.id)));
    }
    if (!writing || !state.ruler) this.ruler.hide();
    else if (!this.ruler.shown) {
      const at = this.pageAt({ x: this.width / 2, y: this.height * 0.4 }, true);
      if (at) this.ruler.show(at.view, at.view.page.w / 2, Math.min(at.view.page.h - 12, Math.max(12, at.y)));
    }
    const strip = writing && state.stripOn;
    if (strip && !this.strip) {
      this.strip = new StripView(this.root, this.host);
      this.laySize();
      const top = this.pageAt({ x: this.width / 2, y: this.height * 0.25 }, true);
      if (top) this.strip.start(this.pages.indexOf(top.view), top.y);
    } else if (!strip && this.strip) {
      this.strip.destroy();
      this.strip = null;
      this.laySize();
    } else if (before?.strip !== state.strip) this.strip?.lay();
  }

  private updatePage(view: PageView, before: SurfaceState | null): void {
    const state = this.state!;
    const next = state.note.ink[view.page.id] ?? [];
    if (next !== view.placed) {
      const had = view.placed;
      view.placed = next;
      view.index.update(next);
      view.standing = null;
      if (next.length === had.length + 1 && next[next.length - 2] === had[had.length - 1]) this.added(view, next[next.length - 1]);
      else this.invalidateChanged(view, had, next);
    }
    const words = state.words[view.page.id] ?? null;
    if (words !== view.wordsFrom) {
      view.wordsFrom = words;
      view.wordOf = new Map();
      for (const w of [...(words?.grouping.words ?? []), ...(words?.grouping.drawings ?? [])]) for (const id of w.strokes) view.wordOf.set(id, w);
    }
    const timeline = state.note.header.timeline;
    if (before?.words !== state.words || before?.mode !== state.mode || before?.note.header.timeline !== timeline || before?.unheardShown !== state.unheardShown) {
      const was = view.unheard;
      view.unheard = state.mode === 'listen' && state.unheardShown && words ? unheardWords(words, view.placed, (s) => toTimeline(timeline, s.stamp) !== null) : [];
      if (was.length || view.unheard.length) view.tiles.invalidate();
      if (before?.mode !== state.mode && this.replay.position !== null) view.tiles.invalidate();
    }
  }

  private added(view: PageView, it: Placed): void {
    view.tiles.add(it, view.index, { ...this.look(), unheard: view.unheard });
    this.strip?.changed(view, coveredBy(it));
  }

  private invalidateChanged(view: PageView, had: readonly Placed[], next: readonly Placed[]): void {
    const old = new Set(had);
    const now = new Set(next);
    const boxes = [...had.filter((s) => !now.has(s)), ...next.filter((s) => !old.has(s))].map(coveredBy);
    // Many changes together are one area: to tell them apart would cost more than it spares.
    if (boxes.length > MANY) this.invalidate(view, boxes.reduce(unionBox));
    else for (const box of boxes) this.invalidate(view, box);
  }

  // Layout

  private measure(): void {
    const { clientWidth, clientHeight } = this.root;
    if (!clientWidth || !clientHeight) return;
    const keep = this.anchor();
    this.laySize();
    this.layPages();
    if (keep) this.scroller.scrollTop = keep * this.scale;
    this.request();
  }

  /** The room for the pages: all, less the writing strip. */
  private laySize(): void {
    const { clientWidth, clientHeight } = this.root;
    const strip = this.strip ? stripHeight(clientWidth > 700) - STRIP_BAR_PX : 0;
    [this.width, this.height] = [clientWidth, clientHeight - (strip ? strip + STRIP_BAR_PX : 0)];
    this.scroller.style.bottom = `${clientHeight - this.height}px`;
    this.wet.resize(clientWidth, this.height, this.dpr);
    this.replay.resize(clientWidth, this.height);
    this.strip?.resize(clientWidth, strip, this.dpr);
  }

  /** The place at the top of the view in mm of sheet, to return to after a change of scale. */
  private anchor(): number {
    return this.scroller.scrollTop / this.scale;
  }

  private get dpr(): number {
    return Math.min(3, window.devicePixelRatio || 1);
  }

  /** What the time margin takes of the left side, px. */
  private get inset(): number {
    return this.state?.leftHanded ? 0 : MARGIN_PX;
  }

  private inMargin(x: number): boolean {
    return this.state?.leftHanded ? x > this.width - MARGIN_PX : x < MARGIN_PX;
  }

  private layPages(): void {
    this.settleZoom();
    const pages = this.state?.note.header.pages;
    if (!pages || !this.width) return;
    const widest = Math.max(...pages.map((p) => p.w));
    this.scale = this.zoom === null ? this.fitScale() : this.zoom * PX_PER_MM;
    const old = new Map(this.pages.map((v) => [v.page.id, v]));
    const inner = Math.max(widest * this.scale + 8, this.width - MARGIN_PX - 1);
    let y = GAP_PX;
    this.turner.show(this.sideways, pages.length);
    this.pages = pages.map((page, i) => {
      const view = old.get(page.id) ?? makePageView(page, this.pagesEl);
      old.delete(page.id);
      view.page = page;
      view.x = Math.max(4, (inner - page.w * this.scale) / 2);
      const open = !this.sideways || i === this.turner.index;
      // Pages that are not open lie out of all reach.
      view.y = open ? y : CLOSED_PX;
      view.el.dataset.testid = `page-${i + 1}`;
      view.el.setAttribute('aria-label', `Page ${i + 1} of ${pages.length}`);
      (view.el.querySelector('.page-number') as HTMLElement).textContent = `${i + 1}`;
      if (view.near) this.placePage(view);
      if (open) y += page.h * this.scale + GAP_PX;
      return view;
    });
    for (const gone of old.values()) {
      gone.tiles.release();
      gone.el.remove();
    }
    Object.assign(this.pagesEl.style, { width: `${inner}px`, height: `${y + this.height * 0.35}px` });
    this.marginStale = true;
    this.showLit();
    this.replay.showCurrent();
    this.selection.lay();
    this.ruler.lay();
    this.strip?.lay();
    if (this.zoom === null) this.tellZoom();
  }

  /** Puts a page in reach where it belongs; those far away are not part of the layout at all. */
  private placePage({ el, x, y, page, tiles }: PageView): void {
    Object.assign(el.style, { left: `${x}px`, top: `${y}px`, width: `${page.w * this.scale}px`, height: `${page.h * this.scale}px` });
    el.style.background = onScreen.look.sheet(page.paper);
    tiles.setScale(this.scale, this.dpr, page);
  }

  private fitScale(): number {
    const widest = Math.max(...(this.state?.note.header.pages.map((p) => p.w) ?? [210]));
    return Math.min(MAX_PAGE_PX, this.width - MARGIN_PX - 8) / widest;
  }

  /** `zoom`: share of true size, or null to fill the width; x, y: the place of the view that stays, px. */
  zoomTo(zoom: number | null, x = this.width / 2, y = this.height / 2): void {
    this.settleZoom();
    const next = zoom === null ? null : Math.min(MAX_ZOOM, Math.max(MIN_ZOOM, zoom));
    if (next === this.zoom) return;
    this.relay(next, this.scroller.scrollLeft + x - this.inset, this.scroller.scrollTop + y, x, y);
    this.tellZoom();
  }

  /** Lays the pages out at another zoom; what is at `sx`, `sy` of the sheet (px, before) comes to `x`, `y` of the view. */
  private relay(zoom: number | null, sx: number, sy: number, x: number, y: number): void {
    const page = this.pages.findLast((v) => v.y <= sy) ?? this.pages[0];
    const [mx, my] = page ? [(sx - page.x) / this.scale, (sy - page.y) / this.scale] : [0, 0];
    this.zoom = zoom;
    this.layPages();
    if (page) {
      this.scroller.scrollLeft = page.x + mx * this.scale - x + this.inset;
      this.scroller.scrollTop = page.y + my * this.scale - y;
    }
    this.request();
  }

  /** Share of true size that is in sight. */
  private get shownZoom(): number {
    return this.stretch?.zoom ?? this.scale / PX_PER_MM;
  }

  /** One step of a pinch or of the wheel, around a place of the view, px. */
  private stretchTo(zoom: number, x: number, y: number): void {
    const before = this.stretch ?? { f: 1, tx: 0, ty: 0, left: this.scroller.scrollLeft, top: this.scroller.scrollTop };
    const { left, top } = before;
    const to = Math.min(MAX_ZOOM, Math.max(MIN_ZOOM, zoom));
    const f = (to * PX_PER_MM) / this.scale;
    const [sx, sy] = [left + x - this.inset, top + y];
    this.stretch = { zoom: to, f, left, top, x, y, tx: sx - ((sx - before.tx) / before.f) * f, ty: sy - ((sy - before.ty) / before.f) * f };
    clearTimeout(this.zoomRest);
    if (f < STRETCH.least || f > STRETCH.most) return this.settleZoom();
    this.zoomRest = setTimeout(() => this.settleZoom(), ZOOM_REST_MS);
    this.request();
  }

  private settleZoom(): void {
    const { stretch } = this;
    if (!stretch) return;
    clearTimeout(this.zoomRest);
    this.stretch = null;
    const { zoom, f, tx, ty, left, top, x, y } = stretch;
    this.sheet.dataset.zooming = 'false';
    this.pagesEl.style.transform = '';
    this.relay(zoom, (left + x - this.inset - tx) / f, (top + y - ty) / f, x, y);
    this.tellZoom();
  }

  private pan(dx: number, dy: number): void {
    this.replay.letGo();
    if (!this.stretch && this.sideways && this.scroller.scrollWidth <= this.scroller.clientWidth + 1) this.turner.swipe(dx, dy);
    if (!this.stretch) return this.scroller.scrollBy(-dx, -dy);
    const { stretch } = this;
    this.stretch = { ...stretch, tx: stretch.tx + dx, ty: stretch.ty + dy };
    this.request();
  }

  private tellZoom(): void {
    this.events.zoomed(Math.round(100 * this.shownZoom), this.zoom === null && !this.stretch);
  }

  private wheel = (e: WheelEvent): void => {
    if (!e.ctrlKey) return this.replay.letGo();
    e.preventDefault();
    if (this.state?.zoomLocked) return;
    const box = this.root.getBoundingClientRect();
    this.stretchTo(this.shownZoom * Math.exp(-e.deltaY / 300), e.clientX - box.left, e.clientY - box.top);
  };

  private scrolled = (): void => this.request();

  private get sideways(): boolean {
    return this.state?.sideways ?? false;
  }

  /** Another page is open: it comes in from its side, where motion is welcome. */
  private turned(by: 1 | -1): void {
    this.replay.letGo();
    this.layPages();
    this.scroller.scrollTop = 0;
    this.request();
    if (!matchMedia('(prefers-reduced-motion: reduce)').matches) this.pagesEl.animate([{ transform: `translateX(${by * 60}px)`, opacity: 0.3 }, { transform: 'none', opacity: 1 }], { duration: 160, easing: 'ease-out' });
  }

  /** In the sideways way a page has to be open before a place of it can be seen. */
  private openPage(index: number): void {
    if (!this.sideways || index < 0 || index === this.turner.index) return;
    this.turner.index = index;
    this.layPages();
    this.request();
  }

  goToPage(index: number): void {
    this.openPage(index);
    const view = this.pages[index];
    this.replay.letGo();
    if (view) this.scroller.scrollTop = view.y - GAP_PX;
  }

  // Drawing

  private request(): void {
    if (!this.frame) this.frame = requestAnimationFrame(this.paint);
  }

  private paint = (): void => {
    this.frame = 0;
    if (this.stretch) {
      const { f, tx, ty } = this.stretch;
      this.sheet.dataset.zooming = 'true';
      this.pagesEl.style.transform = `translate(${tx}px, ${ty}px) scale(${f})`;
      return this.tellZoom();
    }
    this.runFling();
    const { scrollTop, scrollLeft } = this.scroller;
    const look = this.look();
    const [ms, strokes] = this.hurry ? [JUMP_MS, JUMP_STROKES] : [FRAME_MS, FRAME_STROKES];
    this.hurry = false;
    const budget: Budget = { until: performance.now() + ms, strokes };
    let drawn = 0;
    let done = this.strip?.draw({ ...look, unheard: [] }, budget) ?? true;
    for (const view of this.pages) {
      const [top, bottom] = [view.y - scrollTop, view.y - scrollTop + view.page.h * this.scale];
      const inReach = bottom > -this.height && top < 2 * this.height;
      if (!inReach) {
        if (view.near) {
          view.tiles.release();
          view.el.hidden = true;
        }
        view.near = false;
        continue;
      }
      if (!view.near) {
        this.marginStale = true;
        this.placePage(view);
        view.el.hidden = false;
      }
      view.near = true;
      if (bottom < 0 || top > this.height) continue;
      const box: Box = [(scrollLeft - view.x) / this.scale, -top / this.scale, (scrollLeft + this.width - view.x) / this.scale, (this.height - top) / this.scale];
      // One tile at least with every frame, however slow the machine; after that until the time is up.
      if (drawn > 0 && isSpent(budget)) done = false;
      else if (!view.tiles.draw(box, view.index, { ...look, unheard: view.unheard }, budget)) done = false;
      drawn++;
    }
    this.replay.draw();
    if (done) this.root.dataset.drawn = 'true';
    else this.request();
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
    return this.replay.look();
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
    this.margin.show(lines, this.scale, mode === 'listen');
    this.margin.showReview(this.reviewMarks(lines), this.scale);
    this.margin.mark(mode === 'listen' ? this.replay.position : null);
  }

  /** Marks and gaps beside the line that was being written then, as far as that line is in reach. */
  private reviewMarks(lines: readonly MarginLine[]): ReviewMark[] {
    const { note, gaps, late, mode } = this.state!;
    const lineAt = (ms: number) => {
      const stroke = this.replay.lastBy(ms);
      return stroke ? (lines.find((l) => l.ids.has(stroke.id)) ?? null) : null;
    };
    const out: ReviewMark[] = [];
    for (const mark of note.header.marks ?? []) {
      const ms = toTimeline(note.header.timeline, mark);
      // A mark of the take that runs has no place on the timeline yet: it stands at the line that is being written.
      const line = ms === null ? null : lineAt(ms + late);
      if (ms !== null && line) out.push({ kind: mark.kind, line, ms, text: mark.text });
    }
    if (mode === 'listen') {
      for (const gap of gaps) {
        const line = lineAt(gap.from + late);
        if (line) out.push({ kind: 'gap', line, ms: gap.from, length: gap.to - gap.from });
      }
    }
    return out;
  }

  // What is heard

  /** The playing position in ms of the timeline, or null while nothing has been played: then all ink is full. */
  showPosition(position: number | null): void {
    const before = this.replay.position;
    this.replay.show(position);
    if (this.frame && (position === null || before === null || Math.abs(position - before) > JUMP_LEAST_MS)) {
      cancelAnimationFrame(this.frame);
      this.hurry = true;
      this.paint();
    }
    // What the page shows, for whoever looks from outside.
    this.root.dataset.at = position === null ? '' : String(Math.round(position));
    if (this.state?.mode === 'listen') this.margin.mark(position);
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
      const stroke = view.placed.find((s) => s.id === lit.stroke);
      const box = view.wordOf.get(lit.stroke)?.box ?? stroke?.box ?? null;
      this.place(view.lit, box);
      // Reached by key or from a list it may lie out of sight.
      if (box && lit !== this.litShown) this.revealBox(view, box, true);
      this.litShown = lit;
    }
  }

  private tap(at: Contact): void {
    this.settleZoom();
    if (this.state?.mode !== 'listen') return;
    if (this.state.second) return;
    const stroke = this.meant(at);
    if (stroke) this.replay.resume();
    if (stroke !== undefined) this.events.touched(stroke, this.inMargin(at.x));
  }

  /** What dates that which is touched: a word, a drawing, loose ink, a line in the margin; null beside all ink, undefined in a margin without lines. */
  private meant(at: Contact): Placed | null | undefined {
    if (this.inMargin(at.x)) return this.margin.nearest(at.y + this.scroller.scrollTop, this.scale)?.first;
    const hit = this.pageAt(at, false);
    if (!hit) return null;
    const { view, x, y } = hit;
    const reach = Math.max(TOUCH_MM, 12 / this.scale);
    // An area is meant where nothing else is near: what is written on it comes first.
    const near = view.index.at(x, y, reach);
    let found: Placed | null = near.find((it) => layerOf(it) !== 'area') ?? near.find((it) => distanceTo(it, x, y) <= reach / 2) ?? null;
    if (!found) {
      // Between the letters of a word is on the word.
      const words = view.wordsFrom?.grouping;
      const inside = [...(words?.words ?? []), ...(words?.drawings ?? [])].find((w) => x >= w.box[0] && x <= w.box[2] && y >= w.box[1] && y <= w.box[3]);
      found = inside ? (view.placed.find((s) => s.id === inside.strokes[0]) ?? null) : null;
    }
    if (!found) return null;
    const ids = new Set(view.wordOf.get(found.id)?.strokes ?? [found.id]);
    const members = view.placed.filter((s) => ids.has(s.id));
    // A word is dated by its first stroke that has sound; later dots and repairs do not move it.
    return members.find((s) => s.stamp) ?? members[0] ?? found;
  }

  // The pen

  private pageAt(at: { x: number; y: number }, nearest: boolean): { view: PageView; x: number; y: number } | null {
    const [sx, sy] = [at.x + this.scroller.scrollLeft - this.inset, at.y + this.scroller.scrollTop];
    let best: PageView | null = null;
    for (const v of this.pages) {
      if (sy >= v.y - GAP_PX / 2 && sy <= v.y + v.page.h * this.scale + GAP_PX / 2) best = v;
    }
    if (!best && nearest) best = (this.sideways ? this.pages[this.turner.index] : this.pages.at(-1)) ?? null;
    if (!best) return null;
    return { view: best, x: (sx - best.x) / this.scale, y: (sy - best.y) / this.scale };
  }

  private onPage(view: PageView, at: { x: number; y: number }): { x: number; y: number } {
    const x = (at.x + this.scroller.scrollLeft - this.inset - view.x) / this.scale;
    const y = (at.y + this.scroller.scrollTop - view.y) / this.scale;
    return { x: Math.min(view.page.w, Math.max(0, x)), y: Math.min(view.page.h, Math.max(0, y)) };
  }

  private at(view: PageView, c: Contact): At {
    return { ...this.onPage(view, c), pressure: c.pressure, time: c.time };
  }

  private begin(at: Contact, erase: boolean): void {
    this.settleZoom();
    const hit = this.pageAt(at, false);
    if (!hit || !this.state || this.inMargin(at.x) || this.state.tool === 'pan') return;
    const name = this.state.mode === 'listen' && this.state.tool !== 'eraser' ? 'pen' : this.state.tool;
    const tool = this.tools[erase ? 'eraser' : name];
    this.using = { tool, view: hit.view };
    tool.begin(hit.view, this.at(hit.view, at));
  }

  private move(points: readonly Contact[], foretold: readonly Contact[]): void {
    const { using } = this;
    if (!using) return;
    using.tool.move(points.map((p) => this.at(using.view, p)), foretold.map((p) => this.at(using.view, p)));
  }

  private end(): void {
    const { using } = this;
    this.using = null;
    using?.tool.end();
    if (this.marginStale) this.request();
  }

  private touchWithTool(view: PageView, x: number, y: number): void {
    const tool = this.state!.tool;
    if (tool !== 'lasso' && tool !== 'shapes') return;
    this.tools[tool].begin(view, { x, y, pressure: 0.5, time: performance.now() });
    this.tools[tool].end();
  }

  private cancel(): void {
    this.using?.tool.cancel();
    this.using = null;
  }

  /** Which page the middle of the view shows, and where, mm. */
  middle(): { page: string; x: number; y: number } | null {
    const at = this.pageAt({ x: this.width / 2, y: this.height / 2 }, true);
    return at && { page: at.view.page.id, x: Math.min(at.view.page.w, Math.max(0, at.x)), y: Math.min(at.view.page.h, Math.max(0, at.y)) };
  }

  /** Brings a place of a page into sight, and marks what is there. */
  showPlace(page: string, box: Box, gently = false): void {
    const view = this.pages.find((v) => v.page.id === page);
    if (view) this.revealBox(view, box, gently);
  }

  /** `gently`: the page glides, unless motion is unwelcome or the way is long. */
  private revealBox(view: PageView, [l, t, r, b]: Box, gently = false): void {
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

/** Words of which no stroke is heard anywhere, as boxes; ink that is in no word yet counts by itself. */
function unheardWords(words: PageWords, placed: readonly Placed[], isHeard: (s: Placed) => boolean): Box[] {
  const heard = new Map(placed.map((s) => [s.id, isHeard(s)]));
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
