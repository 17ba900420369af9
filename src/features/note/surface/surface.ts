/**
 * The pages of the open note on the screen. It works on the document directly, since a stroke cannot wait for a render; the React side hands it
 * the state. Each idea has a file of its own: layout, zoom, frames, tiles, tools, replay, margin, selection, ruler, strip; here they meet.
 */
import { describe } from '../../../core/reading/said';
import { PX_PER_MM } from '../../../core/ink/ruler';
import { growBox, unionBox, type Box } from '../../../core/ink/stroke';
import { changedBoxes, coveredBy, inSight, lettersIn, type Placed } from '../../../core/note/kinds/kinds';
import { areaOf, extentOf } from '../../../core/note/board';
import { PRINT } from '../../../core/note/paper';
import { NEW_PAPER, type Heading, type Ref } from '../../../core/note/schema';
import { spokenTime } from '../../../core/time/format';
import { toTimeline } from '../../../core/time/timeline';
import { attachPointer, type Contact } from '../../../platform/pointer';
import { Backdrops } from '../../../platform/drawing/backdrops';
import { allBackdrops, Leaves } from '../../../platform/drawing/leaves';
import { DARK_PAGE, LIGHT_PAGE, onScreen } from '../../../platform/drawing/pageLook';
import { bytesOfPixels, PixelRoom } from '../../../platform/drawing/pixelRoom';
import { watchFaces } from '../../../platform/drawing/typedFaces';
import type { Seen } from '../../../storage/seenFile';
import type { Lit, ToolName } from '../../../store/slices';
import { arrowWay } from './arrowKeys';
import { BoardMap } from './boardMap';
import { Frames } from './frames';
import { HandRest } from './handRest';
import { BETWEEN_PX, Layout } from './layout';
import { LinkLayer } from './linkLayer';
import { MarginView } from './margin';
import { PrintedLayer } from './printed';
import { ReadLayer } from './readLayer';
import { fillMargin } from './marginContent';
import type { PageView } from './pageView';
import { ReplayView } from './replayView';
import { RulerView } from './rulerView';
import { SelectionBox } from './selectionBox';
import { MARGIN_PX, STRIP_BAR_PX, stripHeight, type SurfaceEvents, type SurfaceState } from './state';
import { StripView, type StripHost } from './stripView';
import type { Shared } from './tiles';
import { EraserTool } from './tools/eraserTool';
import { FillTool } from './tools/fillTool';
import { LassoTool } from './tools/lassoTool';
import { PenTool } from './tools/penTool';
import { RoomTool } from './tools/roomTool';
import { ShapesTool } from './tools/shapesTool';
import { TypeTool } from './tools/typeTool';
import type { Tool } from './tools/tool';
import { meantAt } from './touch';
import { Turner } from './turner';
import { TableView } from './tables/tableView';
import { TypedLayer } from './typing/typedLayer';
import { TypingView } from './typing/typingView';
import { unheardWords } from './unheard';
import { WetInk } from './wetInk';
import { Zoom } from './zoom';
import './surface.css';
import './tools.css';

/** A change of position larger than this is a jump, ms. */
const JUMP_LEAST_MS = 400;
const NO_HEADINGS: readonly Heading[] = [];
const NO_REFS: readonly Ref[] = [];
/** Bytes of pixels of all tiles and of the pictures behind pages: so many times what the screen shows, within these. */
const [SCREENS, PIXELS_LEAST, PIXELS_MOST] = [24, 48 << 20, 192 << 20] as const;
const pixelsMost = (): number => Math.min(PIXELS_MOST, Math.max(PIXELS_LEAST, SCREENS * bytesOfPixels(window.screen.width, window.screen.height) * (window.devicePixelRatio || 1) ** 2));
/** More changed things than this are drawn anew as one area. */
const MANY = 60;

/** Two touches within this time and distance are one sign, ms and px. */
const DOUBLE_MS = 320;
const DOUBLE_PX = 28;
/** Air beside a line that fills the width, mm. */
const BESIDE_MM = 3;
/** Pages that stand still so long have come to rest, ms. */
const RESTED_MS = 700;
/** The time margin of a board follows the view when that has stood still for so long, ms. */
const BESIDE_MS = 160;
/** What a caret keeps clear of the edges of the view, px. */
const CARET_PX = 14;
/** Writing need not be shown larger than this to be read, share of true size. */
const READABLE = 1;

export class Surface {
  private readonly root: HTMLElement;
  private readonly scroller: HTMLElement;
  private readonly layout: Layout;
  private readonly zoom: Zoom;
  private readonly frames: Frames;
  private readonly margin: MarginView;
  private readonly printed: PrintedLayer;
  private readonly readOver = new ReadLayer();
  private leaves: Leaves | null = null;
  private headings: { of: readonly Heading[] | undefined; by: ReadonlyMap<string, Heading[]> } = { of: undefined, by: new Map() };
  private readonly wet: WetInk;
  private readonly replay: ReplayView;
  private readonly handRest: HandRest;
  private readonly turner: Turner;
  private readonly map: BoardMap;
  private readonly selection: SelectionBox;
  private readonly ruler: RulerView;
  private readonly labelEl: HTMLElement;
  private readonly spoken: HTMLElement;
  private readonly host: StripHost;
  private readonly tools: Record<Exclude<ToolName, 'pan'>, Tool>;
  private readonly detach: () => void;
  private readonly resize: ResizeObserver;
  private state: SurfaceState | null = null;
  private strip: StripView | null = null;
  private readonly typing: TypingView;
  private readonly tables: TableView;
  private readonly typedLayer = new TypedLayer();
  private readonly linkLayer: LinkLayer;
  /** Pages whose lines it has to show anew. */
  private readonly retyped = new Set<PageView>();
  private readonly stopFaces: () => void;
  /** The tool that has the pen, and its page. */
  private using: { tool: Tool; view: PageView } | null = null;
  private readonly shared: Shared;
  private marginStale = true;
  private litShown: Lit | null = null;
  private pageTold: string | null = null;
  private tapped: Contact | null = null;
  private resting: ReturnType<typeof setTimeout> | undefined;
  /** Until the margin of a board shows the lines that are in sight now. */
  private beside: ReturnType<typeof setTimeout> | undefined;
  /** Where the view stood when it was last moved, until that is written down. */
  private stood: Seen | null = null;

  constructor(
    host: HTMLElement,
    private readonly events: SurfaceEvents,
  ) {
    const make = (className: string, parent: HTMLElement, role?: string, label?: string) => {
      const el = document.createElement('div');
      el.className = className;
      if (role) el.setAttribute('role', role);
      if (label) el.setAttribute('aria-label', label);
      parent.append(el);
      return el;
    };
    this.root = make('surface', host);
    this.scroller = make('surface-scroller', this.root, 'region', 'Pages');
    this.scroller.tabIndex = 0;
    const sheet = make('surface-sheet', this.scroller);
    this.margin = new MarginView(make('margin', sheet, 'group', 'Time margin'), (first) => events.touched(first, true), (ms) => events.playAt(ms));
    const pagesEl = make('surface-pages', sheet);
    this.root.style.setProperty('--margin', `${MARGIN_PX}px`);
    this.printed = new PrintedLayer(pagesEl, events.printed);
    this.wet = new WetInk(this.root);
    this.replay = this.makeReplay();
    this.labelEl = make('tool-label', this.root, 'status');
    this.labelEl.hidden = true;
    this.spoken = make('unseen', this.root, 'status');
    this.spoken.dataset.testid = 'spoken';
    this.shared = this.makeShared();
    this.turner = new Turner(this.root, (by) => this.turned(by, pagesEl));
    this.layout = new Layout(pagesEl, this.scroller, this.turner, this.shared, () => this.laid());
    this.map = new BoardMap(this.root, {
      go: (x, y) => {
        this.still();
        this.replay.letGo();
        if (this.layout.board) this.layout.toPlace(this.layout.board, x, y);
      },
      sight: () => (this.layout.board ? this.layout.sightOf(this.layout.board) : [0, 0, 0, 0]),
      whole: () => this.layout.whole,
    });
    this.handRest = new HandRest(this.root, () => this.layout.height, (px) => events.setHandRest(px));
    this.frames = new Frames(this.layout, this.scroller, {
      look: () => this.replay.look(),
      scaled: () => this.zoom.paint(),
      before: (look, budget) => this.strip?.draw({ ...look, unheard: [] }, budget) ?? true,
      came: (view) => {
        this.marginStale = true;
        this.layout.placePage(view);
      },
      after: (done) => this.painted(done),
    });
    this.zoom = new Zoom(this.layout, this.scroller, sheet, pagesEl, (percent, fit) => events.zoomed(percent, fit), () => this.request());
    this.host = this.makeHost();
    const { host: tools } = this;
    this.tools = { pen: new PenTool(tools), eraser: new EraserTool(tools), lasso: new LassoTool(tools), room: new RoomTool(tools), shapes: new ShapesTool(tools), fill: new FillTool(tools), type: new TypeTool(tools) };
    this.linkLayer = new LinkLayer((ref) => events.refText(ref), (ref) => events.follow(ref));
    this.typing = this.makeTyping();
    this.tables = this.makeTables();
    // What was drawn in the system's letters, before its own came.
    this.stopFaces = watchFaces(() => this.layout.pages.forEach((view) => view.placed.some((it) => lettersIn(it).length > 0) && this.invalidate(view)));
    this.selection = new SelectionBox(tools, (dx, dy) => events.nudge(dx, dy), (view, x, y) => this.touchWithTool(view, x, y));
    this.ruler = new RulerView(() => this.layout.scale);
    window.addEventListener('keydown', this.keyed);
    this.scroller.addEventListener('scroll', () => this.scrolled(), { passive: true });
    this.scroller.addEventListener('wheel', this.wheel, { passive: false });
    this.resize = new ResizeObserver(() => this.measure());
    this.resize.observe(this.root);
    this.detach = this.attach();
    this.measure();
  }

  private attach(): () => void {
    const { events } = this;
    return attachPointer(this.scroller, {
      rules: () => ({ draws: this.writes && this.state?.tool !== 'pan', onlyPen: this.state?.onlyPen ?? false }),
      penSeen: () => events.penSeen(),
      penIdle: () => events.penIdle(),
      begin: (at, erase) => this.begin(at, erase),
      move: (points, foretold) => {
        const { using } = this;
        if (using) using.tool.move(points.map((p) => this.layout.onPage(using.view, p)), foretold.map((p) => this.layout.onPage(using.view, p)));
      },
      end: () => this.end(),
      cancel: () => this.cancel(),
      tap: (at, finger) => this.tap(at, finger),
      pan: (dx, dy) => this.pan(dx, dy),
      pressed: (at) => {
        this.still();
        this.turner.begin();
        const aim = this.state?.mode === 'listen' && !this.state.second ? this.meant(at) : null;
        if (aim) events.aimed(aim);
      },
      pinch: (by, x, y) => {
        if (!this.state?.zoomLocked) this.zoom.by(by, x, y);
      },
      fingersTapped: (count) => {
        if (!this.state?.fingerUndo || !this.writes) return;
        if (count === 2) events.undo();
        if (count === 3) events.redo();
      },
      fling: (vx, vy) => {
        this.zoom.settle();
        if (!this.turner.end()) this.frames.flingOn(vx, vy);
      },
    });
  }

  private scrolled(): void {
    this.request();
    clearTimeout(this.resting);
    // Taken now: a view that is left has no place any more.
    this.stood = this.seen();
    if (this.layout.board) {
      clearTimeout(this.beside);
      this.beside = setTimeout(() => {
        this.marginStale = true;
        this.request();
      }, BESIDE_MS);
    }
    this.resting = setTimeout(() => this.rested(), RESTED_MS);
  }

  private rested(): void {
    if (this.stood) this.events.rested(this.stood);
    this.stood = null;
  }

  /** What stands at the top of the view. */
  private seen(): Seen | null {
    const { layout, scroller } = this;
    const at = layout.pageAt({ x: layout.width / 2, y: 4 }, true);
    if (!at) return null;
    return { page: at.view.page.id, y: Math.round((scroller.scrollTop - at.view.y) / layout.scale), x: Math.round((scroller.scrollLeft - layout.inset) / layout.scale), zoom: layout.zoom };
  }

  /** Opens where one stopped; where that is not known, as large as what is written on the first page allows to be read. */
  openAt(seen: Seen | null): void {
    const { layout, scroller } = this;
    const view = layout.pages.find((v) => v.page.id === seen?.page);
    if (seen && view) {
      layout.openPage(layout.pages.indexOf(view));
      this.zoom.to(seen.zoom, 0, 0);
      scroller.scrollTop = view.y + seen.y * layout.scale;
      scroller.scrollLeft = layout.inset + seen.x * layout.scale;
      return this.request();
    }
    const first = layout.pages[0];
    if (!first?.placed.length) return;
    const [left, , right] = first.placed.map((p) => p.box).reduce(unionBox);
    const wanted = (layout.width - MARGIN_PX - 8) / (right - left + 2 * BESIDE_MM) / PX_PER_MM;
    if (wanted < 1.15 * this.zoom.shown) return;
    this.zoom.to(Math.min(wanted, READABLE), 0, 0);
    layout.toLeft(first, left - BESIDE_MM);
    scroller.scrollTop = 0;
    this.request();
  }

  destroy(): void {
    clearTimeout(this.resting);
    this.rested();
    this.frames.end();
    this.zoom.end();
    this.resize.disconnect();
    this.detach();
    this.strip?.destroy();
    this.map.destroy();
    clearTimeout(this.beside);
    window.removeEventListener('keydown', this.keyed);
    this.printed.destroy();
    this.readOver.destroy();
    this.typing.end();
    this.tables.end();
    this.stopFaces();
    for (const { tiles, moving } of this.layout.pages) {
      tiles.release();
      moving.release();
    }
    this.root.remove();
  }

  private makeShared(): Shared {
    const room = new PixelRoom(pixelsMost());
    const { events } = this;
    const came = (hash: string) => {
      for (const view of this.layout.pages) if (view.near && (view.page.backdrop?.content === hash || view.placed.some((it) => it.kind === 'picture' && it.content === hash))) this.invalidate(view);
    };
    const pictures = new Backdrops(room, { read: (hash) => events.content(hash), came, failed: (why) => events.pictureFailed(why) });
    const leaves = (this.leaves = new Leaves(room, {
      ...events.leaves,
      came: (hash, leaf) => {
        for (const view of this.layout.pages) if (view.near && view.page.backdrop?.content === hash && view.page.backdrop.leaf === leaf) this.invalidate(view);
      },
      failed: (why) => events.pictureFailed(why),
    }));
    return { room, backdrops: allBackdrops(pictures, leaves), content: (hash) => events.content(hash) };
  }

  private makeHost(): StripHost {
    const current = () => this.state!;
    const scale = () => this.layout.scale;
    return {
      get state() {
        return current();
      },
      get scale() {
        return scale();
      },
      events: this.events,
      shared: this.shared,
      wet: this.wet,
      rulerOn: (view) => this.ruler.on(view),
      cornerOf: (view) => this.layout.cornerOf(view),
      isLast: (view) => this.layout.pages.at(-1) === view,
      standIn: (view, id, by, box) => {
        view.index.replace(id, by);
        view.standing = view.standing ? unionBox(view.standing, box) : box;
        this.invalidate(view, box);
      },
      liftOff: (view, placed, box) => {
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
      typeAt: (view, x, y) => this.typeAt(view, x, y),
      typeWithin: (view, from, to) => this.typeWithin(view, from, to),
      pageViews: () => this.layout.pages,
      reveal: (view, box) => this.reveal(view, box),
      setStrip: (setting) => this.events.setStrip(setting),
      penSeen: () => this.events.penSeen(),
    };
  }

  private showCaret({ left, right, top, bottom }: { readonly left: number; readonly right: number; readonly top: number; readonly bottom: number }): void {
    const box = this.scroller.getBoundingClientRect();
    const [from, to] = [box.left + this.layout.inset + CARET_PX, box.right - (MARGIN_PX - this.layout.inset) - CARET_PX];
    if (left < from) this.scroller.scrollLeft -= from - left + CARET_PX;
    else if (right > to) this.scroller.scrollLeft += right - to + 2 * CARET_PX;
    if (top < box.top + CARET_PX) this.scroller.scrollTop -= box.top + CARET_PX - top;
    else if (bottom > box.bottom - this.covered() - CARET_PX) this.scroller.scrollTop += bottom - box.bottom + this.covered() + CARET_PX;
  }

  /** What stands over the end of the page, px. */
  private covered(): number {
    const over = this.root.parentElement?.parentElement?.querySelector('[role="toolbar"]')?.getBoundingClientRect();
    return over ? Math.max(0, this.scroller.getBoundingClientRect().bottom - over.top) : 0;
  }

  /** With typing in hand the key that begins a line begins one. */
  private keyed = (e: KeyboardEvent): void => {
    const { activeElement: on } = document;
    const isFree = on === null || on === document.body || on === this.scroller;
    const step = on === this.scroller && !e.defaultPrevented ? arrowWay(e.key) : null;
    if (step) this.layout.goFurther(...step);
    if (e.key !== 'Enter' || e.defaultPrevented || !isFree || this.state?.tool !== 'type' || !this.writes || this.state.mode !== 'write' || this.typing.isOpen) return;
    const view = this.layout.pages.find((v) => v.page.id === this.middle()?.page);
    if (!view) return;
    e.preventDefault();
    this.typing.below(view);
  };

  private makeTyping(): TypingView {
    const { events } = this;
    const state = () => this.state!;
    const layout = () => this.layout;
    return new TypingView({
      typed: (place, drafts, time) => events.typed(place, drafts, time),
      viewOf: (page) => this.layout.pages.find((v) => v.page.id === page) ?? null,
      typingAt: (typing) => events.typingAt(typing),
      undo: () => events.undo(),
      redo: () => events.redo(),
      get scale() {
        return layout().scale;
      },
      get typing() {
        return state().typing;
      },
      zoomTo: (share, view, x) => this.zoomToRead(share, view, x),
      reveal: (view, box) => this.reveal(view, box),
      caret: (box) => this.showCaret(box),
    });
  }

  /** In a cell where there is a table, else on the ruling. */
  private typeAt(view: PageView, x: number, y: number): void {
    if (this.tables.at(view, x, y)) return this.typing.close();
    this.events.holdCells(null);
    this.typing.at(view, x, y);
  }

  private typeWithin(view: PageView, from: { readonly x: number; readonly y: number }, to: { readonly x: number; readonly y: number }): void {
    if (this.tables.at(view, from.x, from.y, to)) return this.typing.close();
    this.events.holdCells(null);
    this.typing.within(view, Math.min(from.x, to.x), Math.min(from.y, to.y), Math.abs(to.x - from.x));
  }

  private zoomToRead(share: number, view: PageView, x: number): void {
    if (this.state!.zoomLocked) return;
    this.zoom.to(share, 0, 0);
    this.layout.toLeft(view, x);
  }

  private makeTables(): TableView {
    const { events } = this;
    const state = () => this.state;
    const layout = () => this.layout;
    return new TableView({
      get scale() {
        return layout().scale;
      },
      get cells() {
        return state()?.cells ?? null;
      },
      viewOf: (page) => this.layout.pages.find((v) => v.page.id === page) ?? null,
      hold: (cells) => events.holdCells(cells),
      typed: (text) => events.typedInCell(text),
      pasted: (text) => events.pastedInCell(text),
      step: (by) => events.stepCell(by),
      resize: (axis, at, mm) => events.resizeTable(axis, at, mm),
      undo: () => events.undo(),
      redo: () => events.redo(),
      reveal: (view, box) => this.reveal(view, box),
      zoomTo: (share, view, x) => this.zoomToRead(share, view, x),
      ink: (color) => onScreen.look.ink(color),
    });
  }

  private makeReplay(): ReplayView {
    const state = () => this.state;
    const layout = () => this.layout;
    return new ReplayView(this.root, {
      get state() {
        return state();
      },
      get scale() {
        return layout().scale;
      },
      get dpr() {
        return layout().dpr;
      },
      pages: () => this.layout.pages,
      cornerOf: (view) => this.layout.cornerOf(view),
      added: (view, it) => this.added(view, it),
      invalidate: (view, box) => this.invalidate(view, box),
      place: (el, box) => this.place(el, box),
      follow: (view, box) => this.reveal(view, box, true),
    });
  }

  /** The pen may write: in Write, and in a second pass while listening. */
  private get writes(): boolean {
    return this.state !== null && this.state.canWrite && (this.state.mode === 'write' || this.state.second);
  }

  private request(): void {
    this.frames.request();
  }

  private invalidate(view: PageView, box?: Box): void {
    view.tiles.invalidate(box);
    this.strip?.changed(view, box);
    this.root.dataset.drawn = 'false';
    this.request();
  }

  private label(view: PageView, text: string | null, x: number, y: number): void {
    const { scale, width, height } = this.layout;
    this.labelEl.hidden = text === null;
    if (text === null) return;
    this.labelEl.textContent = text;
    const corner = this.layout.cornerOf(view);
    const [px, py] = [corner.x + x * scale, corner.y + y * scale];
    // Above the pen and clear of the hand; kept in the view.
    Object.assign(this.labelEl.style, { left: `${Math.min(width - 130, Math.max(8, px - 50))}px`, top: `${Math.min(height - 40, Math.max(8, py - 64))}px` });
  }

  // State

  update(state: SurfaceState): void {
    const before = this.state;
    this.state = state;
    this.layout.update(state);
    const { pages } = this.layout;
    if (before?.dark !== state.dark) this.showLook();
    this.root.dataset.mode = state.mode;
    this.root.dataset.tool = state.tool;
    this.root.dataset.cropping = String(state.cropping !== null);
    this.root.dataset.hand = state.leftHanded ? 'left' : 'right';
    this.handRest.show(state.handRest, state.mode === 'write' && !state.stripOn);
    if (before?.note.header.pages !== state.note.header.pages || before?.leftHanded !== state.leftHanded || before.sideways !== state.sideways) this.lay();
    const { header } = state.note;
    if (before && (before.note.header.refs !== header.refs || (header.refs && (before.note.header.pages !== header.pages || before.note.header.timeline !== header.timeline)))) for (const view of pages) this.retyped.add(view);
    for (const view of this.layout.pages) this.updatePage(view, before);
    if (pages.some((v) => v.near && (before?.words[v.page.id] !== state.words[v.page.id] || before?.said[v.page.id] !== state.said[v.page.id])) || before?.note.header.timeline !== state.note.header.timeline || before?.mode !== state.mode || before?.note.ink !== state.note.ink) this.marginStale = true;
    if (before?.lit !== state.lit || before?.mode !== state.mode) this.showLit();
    if (before?.answering !== state.answering) this.showSpot();
    if (before?.found !== state.found) this.printed.mark(state.found);
    if (before?.overInk !== state.overInk || (state.overInk && before?.said !== state.said)) this.request();
    if (before?.found !== state.found || before?.text !== state.text || before?.mode !== state.mode) this.request();
    // Marks of listening have no place where one writes.
    if (before?.mode !== state.mode) this.replay.showCurrent();
    if (before?.ahead !== state.ahead || before.secondShown !== state.secondShown || before.second !== state.second) for (const view of this.layout.pages) this.invalidate(view);
    if (before?.gaps !== state.gaps || before.note.header.marks !== state.note.header.marks) this.marginStale = true;
    if (before && before.playing !== state.playing && !state.playing) this.replay.resume();
    this.root.dataset.second = String(state.second);
    this.replay.draw();
    // A tool that was taken away in the middle of a stroke lets go of it.
    if (this.using && (!this.writes || before?.tool !== state.tool)) this.cancel();
    if (this.typing.isOpen) {
      if (state.tool === 'type' && this.writes) this.typing.update();
      else this.typing.close();
    }
    if (this.tables.isOpen || state.cells) {
      if (state.tool === 'type' && this.writes) this.tables.update();
      else this.tables.close();
    }
    this.showTools(before);
    this.request();
  }

  /** The colours of the pages; everything is drawn anew in them. */
  private showLook(): void {
    onScreen.look = this.state!.dark ? DARK_PAGE : LIGHT_PAGE;
    this.root.dataset.page = this.state!.dark ? 'dark' : 'light';
    this.root.style.setProperty('--paper', onScreen.look.sheet(NEW_PAPER));
    this.root.style.setProperty('--print', onScreen.look.ink(PRINT));
    for (const view of this.layout.pages) {
      this.layout.placePage(view);
      this.invalidate(view);
    }
  }

  private showTools(before: SurfaceState | null): void {
    const state = this.state!;
    const { layout } = this;
    const writing = state.mode === 'write' && state.canWrite;
    const chosen = writing && state.selection ? layout.pages.find((v) => v.page.id === state.selection!.page) : undefined;
    if (!chosen) this.selection.hide();
    else if (before?.selection !== state.selection || before?.note.ink !== state.note.ink || before?.mode !== state.mode) {
      const ids = new Set(state.selection!.ids);
      this.selection.show(chosen, chosen.placed.filter((s) => ids.has(s.id)));
    }
    if (!writing || !state.ruler) this.ruler.hide();
    else if (!this.ruler.shown) {
      const at = layout.pageAt({ x: layout.width / 2, y: layout.height * 0.4 }, true);
      if (at) this.ruler.show(at.view, at.view.page.board ? at.x : at.view.page.w / 2, Math.min(areaOf(at.view.page)[3] - 12, Math.max(areaOf(at.view.page)[1] + 12, at.y)));
    }
    const strip = writing && state.stripOn && !layout.board;
    if (strip && !this.strip) {
      this.strip = new StripView(this.root, this.host);
      this.laySize();
      const top = layout.pageAt({ x: layout.width / 2, y: layout.height * 0.25 }, true);
      if (top) this.strip.start(layout.pages.indexOf(top.view), top.y);
    } else if (!strip && this.strip) {
      this.strip.destroy();
      this.strip = null;
      this.laySize();
    } else if (before?.strip !== state.strip) this.strip?.lay();
  }

  private updatePage(view: PageView, before: SurfaceState | null): void {
    const state = this.state!;
    const next = inSight(state.note.ink[view.page.id] ?? []);
    if (next !== view.placed) {
      const had = view.placed;
      view.placed = next;
      if (view.page.board && this.hasGrown(view, had)) this.lay();
      view.index.update(next);
      view.standing = null;
      this.retyped.add(view);
      if (next.length === had.length + 1 && next[next.length - 2] === had[had.length - 1]) this.added(view, next[next.length - 1]);
      else this.invalidateChanged(view, had, next);
    }
    this.showHeadings(view);
    const words = state.words[view.page.id] ?? null;
    const said = state.said[view.page.id];
    // For who does not see the page.
    if (words !== view.wordsFrom || before?.said[view.page.id] !== said) {
      const lines = words?.grouping.lines.length ?? 0;
      const text = said?.length ? `: ${describe(said)}` : '';
      view.el.setAttribute('aria-description', lines === 0 ? 'nothing written' : `${lines} written ${lines === 1 ? 'line' : 'lines'}; the time margin lists them${text}`);
    }
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

  /** True where what lies on a board reaches beyond what is shown of it. */
  private hasGrown(view: PageView, had: readonly Placed[]): boolean {
    const { placed } = view;
    const isNext = placed.length === had.length + 1 && placed[placed.length - 2] === had[had.length - 1];
    const [l, t, r, b] = extentOf(view.page);
    const around = isNext ? unionBox(view.around ?? coveredBy(placed[placed.length - 1]), coveredBy(placed[placed.length - 1])) : placed.length ? placed.map(coveredBy).reduce(unionBox) : null;
    if (!around || (around[0] >= l && around[1] >= t && around[2] <= r && around[3] <= b)) return false;
    view.around = around;
    return true;
  }

  /** Headings are seen where they stand: a double rule beside their ink, the deeper the shorter. */
  private showHeadings(view: PageView): void {
    const headings = this.headingsOn(view.page.id);
    const of = headings.length ? `${view.placed.length} ${this.layout.scale} ${JSON.stringify(headings)}` : null;
    if (view.headingsOf === of) return;
    view.headingsOf = of;
    const byId = headings.length ? new Map(view.placed.map((p) => [p.id, p])) : null;
    view.headings.replaceChildren(
      ...headings.flatMap((h) => {
        const boxes = h.strokes.map((id) => byId!.get(id)?.box).filter((box): box is Box => box !== undefined);
        if (!boxes.length) return [];
        const el = document.createElement('div');
        el.className = 'page-heading';
        el.dataset.level = String(h.level);
        this.place(el, boxes.reduce(unionBox));
        return [el];
      }),
    );
  }

  /** Those of a page: looked through once for all pages, since a book has hundreds of both. */
  private headingsOn(page: string): readonly Heading[] {
    const { headings } = this.state!.note.header;
    if (headings !== this.headings.of) {
      const by = new Map<string, Heading[]>();
      for (const h of headings ?? []) by.set(h.page, [...(by.get(h.page) ?? []), h]);
      this.headings = { of: headings, by };
    }
    return this.headings.by.get(page) ?? NO_HEADINGS;
  }

  private added(view: PageView, it: Placed): void {
    view.tiles.add(it, view.index, { ...this.replay.look(), unheard: view.unheard });
    this.strip?.changed(view, coveredBy(it));
  }

  private invalidateChanged(view: PageView, had: readonly Placed[], next: readonly Placed[]): void {
    const old = new Set(had);
    const now = new Set(next);
    const gone = had.filter((s) => !now.has(s));
    const came = new Map(next.filter((s) => !old.has(s)).map((s) => [s.id, s]));
    const boxes = gone.flatMap((s) => {
      const after = came.get(s.id);
      came.delete(s.id);
      return after ? changedBoxes(s, after) : [coveredBy(s)];
    });
    for (const s of came.values()) boxes.push(coveredBy(s));
    // Many changes together are one area: to tell them apart would cost more than it spares.
    if (boxes.length > MANY) this.invalidate(view, boxes.reduce(unionBox));
    else for (const box of boxes) this.invalidate(view, box);
  }

  // Layout

  private measure(): void {
    const { clientWidth, clientHeight } = this.root;
    if (!clientWidth || !clientHeight) return;
    // The place at the top of the view in mm of sheet, to return to after a change of scale.
    // A message below the page takes some of the height: that is no reason to show the board smaller.
    if (this.layout.board && this.layout.zoom === null && clientWidth === this.layout.width) this.layout.zoom = this.layout.scale / PX_PER_MM;
    const keep = this.layout.board ? 0 : this.scroller.scrollTop / this.layout.scale;
    this.laySize();
    this.lay();
    if (keep) this.scroller.scrollTop = keep * this.layout.scale;
    this.request();
  }

  /** The room for the pages: all, less the writing strip. */
  private laySize(): void {
    const { clientWidth, clientHeight } = this.root;
    const { layout } = this;
    const strip = this.strip ? stripHeight(clientWidth > 700) - STRIP_BAR_PX : 0;
    [layout.width, layout.height] = [clientWidth, clientHeight - (strip ? strip + STRIP_BAR_PX : 0)];
    this.scroller.style.bottom = `${clientHeight - layout.height}px`;
    this.wet.resize(clientWidth, layout.height, layout.dpr);
    this.replay.resize(clientWidth, layout.height);
    this.strip?.resize(clientWidth, strip, layout.dpr);
  }

  private lay(): void {
    this.zoom.settle();
    this.layout.lay();
  }

  /** Pages lie elsewhere now: what stands on them goes along. */
  private laid(): void {
    this.marginStale = true;
    this.showLit();
    this.showSpot();
    for (const view of this.layout.pages) {
      if (this.state) this.showHeadings(view);
      this.retyped.add(view);
    }
    this.typing.lay();
    this.tables.lay();
    this.replay.showCurrent();
    this.selection.lay();
    this.ruler.lay();
    this.strip?.lay();
    if (this.layout.zoom === null) this.zoom.tell();
  }

  zoomTo(zoom: number | null): void {
    this.still();
    this.zoom.to(zoom);
  }

  private pan(dx: number, dy: number): void {
    this.replay.letGo();
    if (this.zoom.pan(dx, dy)) return;
    this.layout.goFurther(-dx, -dy);
    if (this.layout.sideways && !this.layout.board && this.scroller.scrollWidth <= this.scroller.clientWidth + 1) this.turner.swipe(dx, dy);
    this.scroller.scrollBy(-dx, -dy);
  }

  private wheel = (e: WheelEvent): void => {
    if (!e.ctrlKey) {
      this.layout.goFurther(e.deltaX, e.deltaY);
      return this.replay.letGo();
    }
    e.preventDefault();
    if (this.state?.zoomLocked) return;
    const box = this.root.getBoundingClientRect();
    this.zoom.by(Math.exp(-e.deltaY / 300), e.clientX - box.left, e.clientY - box.top);
  };

  /** Another page is open: it comes in from its side, where motion is welcome. */
  private turned(by: 1 | -1, pagesEl: HTMLElement): void {
    this.replay.letGo();
    this.still();
    this.layout.turnTo(this.turner.index);
    if (!this.layout.board) this.scroller.scrollTop = 0;
    this.request();
    if (!matchMedia('(prefers-reduced-motion: reduce)').matches) pagesEl.animate([{ transform: `translateX(${by * 60}px)`, opacity: 0.3 }, { transform: 'none', opacity: 1 }], { duration: 160, easing: 'ease-out' });
  }

  /** Neither fingers nor what they left behind go on moving or scaling the pages: they are brought somewhere else. */
  private still(): void {
    this.zoom.settle();
    this.frames.flingOn(0, 0);
  }

  goToPage(index: number): void {
    this.still();
    if (this.layout.openPage(index)) this.request();
    const view = this.layout.pages[index];
    this.replay.letGo();
    if (view && !view.page.board) this.scroller.scrollTop = view.y - BETWEEN_PX;
  }

  private painted(done: boolean): void {
    const page = this.middle()?.page;
    if (page && page !== this.pageTold) this.events.paged((this.pageTold = page));
    this.map.show(this.layout.board);
    this.replay.draw();
    // For whoever looks from outside: parts of printed pages that are to come finer.
    const due = this.leaves?.due ?? 0;
    this.root.dataset.due = String(due);
    this.printed.show(this.layout.pages, this.layout.scale, this.state!.text, this.state!.mode === 'listen', done && due === 0);
    this.readOver.show(this.layout.pages, this.layout.scale, this.state!.overInk ? this.state!.said : null);
    if (done) this.root.dataset.drawn = 'true';
    else this.request();
    // While one types its lines stand still, and what stands beside them waits for a rest.
    if (this.typing.isBusy(() => this.request()) || this.tables.isBusy(() => this.request())) return;
    for (const view of this.retyped) {
      this.typedLayer.show(view, this.layout.scale);
      this.linkLayer.show(view, this.state!.note.header.refs ?? NO_REFS, this.layout.scale);
    }
    this.retyped.clear();
    if (!this.marginStale || this.wet.active) return;
    this.marginStale = false;
    fillMargin(this.margin, this.layout, this.state!, (ms) => this.replay.lastBy(ms));
    this.margin.mark(this.state!.mode === 'listen' ? this.replay.position : null);
  }

  // What is heard

  /** The playing position in ms of the timeline, or null while nothing has been played: then all ink is full. */
  showPosition(position: number | null): void {
    const before = this.replay.position;
    this.replay.show(position);
    if (position === null || before === null || Math.abs(position - before) > JUMP_LEAST_MS) this.frames.jump();
    // What the page shows, for whoever looks from outside.
    this.root.dataset.at = position === null ? '' : String(Math.round(position));
    if (this.state?.mode === 'listen') this.margin.mark(position);
  }

  private place(el: HTMLElement, box: Box | null): void {
    el.hidden = !box;
    if (!box) return;
    const k = this.layout.scale;
    const [l, t, r, b] = growBox(box, 1.2);
    Object.assign(el.style, { left: `${l * k}px`, top: `${t * k}px`, width: `${(r - l) * k}px`, height: `${(b - t) * k}px` });
  }

  private showLit(): void {
    const lit = this.state?.mode === 'listen' ? this.state.lit : null;
    for (const view of this.layout.pages) {
      if (lit?.page !== view.page.id) {
        this.place(view.lit, null);
        continue;
      }
      const it = view.placed.find((s) => s.id === lit.stroke);
      const box = view.wordOf.get(lit.stroke)?.box ?? it?.box ?? null;
      this.place(view.lit, box);
      // Reached by key or from a list it may lie out of sight.
      const isNew = lit !== this.litShown;
      this.litShown = lit;
      if (box && isNew) this.reveal(view, box, true);
      if (isNew && it) this.tell(view, it);
    }
  }

  /** Says to a screen reader what was gone to: which line of which page, and its moment. */
  private tell(view: PageView, it: Placed): void {
    const { note } = this.state!;
    const words = view.wordsFrom?.grouping;
    const line = words?.lines.findIndex((l) => l.words.some((w) => words.words[w].strokes.includes(it.id))) ?? -1;
    const ms = toTimeline(note.header.timeline, it.stamp);
    const take = note.header.takes.find((t) => t.id === it.stamp?.take)?.name;
    const page = this.layout.pages.indexOf(view) + 1;
    this.spoken.textContent = `${line < 0 ? 'Drawing' : `Line ${line + 1}`} of page ${page}, ${ms === null ? 'without sound' : `written at ${spokenTime(ms)}, ${take ?? ''}`}`;
  }

  private showSpot(): void {
    const at = this.state?.answering;
    for (const view of this.layout.pages) this.place(view.spot, at?.page === view.page.id ? at.box : null);
  }

  /** Two touches of a finger close together go between the whole width of the page and the width of the line that was touched. */
  private isDouble(at: Contact): boolean {
    const before = this.tapped;
    this.tapped = at;
    if (!before || at.time - before.time > DOUBLE_MS || Math.hypot(at.x - before.x, at.y - before.y) > DOUBLE_PX) return false;
    this.tapped = null;
    return true;
  }

  private zoomToLine(at: Contact): void {
    const { layout } = this;
    if (this.state?.zoomLocked || layout.inMargin(at.x)) return;
    if (layout.zoom !== null) return this.zoom.to(null, at.x, at.y);
    const hit = layout.pageAt(at, false);
    if (!hit) return;
    const lines = hit.view.wordsFrom?.grouping.lines ?? [];
    const line = lines.reduce<(typeof lines)[number] | null>((best, l) => (!best || Math.abs((l.box[1] + l.box[3]) / 2 - hit.y) < Math.abs((best.box[1] + best.box[3]) / 2 - hit.y) ? l : best), null);
    const [left, right] = line ? [line.box[0], line.box[2]] : [hit.x - 30, hit.x + 30];
    // Readable at least, and no larger than four times what fills the width.
    const fit = this.zoom.shown;
    const wanted = ((layout.width - MARGIN_PX - 16) / Math.max(20, right - left + 2 * BESIDE_MM)) / PX_PER_MM;
    this.zoom.to(layout.board ? Math.max(1.5 * fit, Math.min(READABLE, wanted)) : Math.min(4 * fit, Math.max(1.5 * fit, wanted)), at.x, at.y);
    layout.toLeft(hit.view, left - BESIDE_MM);
  }

  private tap(at: Contact, finger: boolean): void {
    this.zoom.settle();
    if (finger && this.isDouble(at)) return this.zoomToLine(at);
    if (this.state?.mode !== 'listen' || this.state.second) return;
    const it = this.meant(at);
    if (it) this.replay.resume();
    if (it !== undefined) this.events.touched(it, this.layout.inMargin(at.x));
  }

  /** What dates that which is touched: a word, a drawing, loose ink, a line in the margin; null beside all ink, undefined in a margin without lines. */
  private meant(at: Contact): Placed | null | undefined {
    const { layout } = this;
    if (layout.inMargin(at.x)) return this.margin.nearest(at.y + this.scroller.scrollTop, layout.scale)?.first;
    const hit = layout.pageAt(at, false);
    return hit && meantAt(hit.view, hit.x, hit.y, layout.scale);
  }

  // The pen

  private begin(at: Contact, erase: boolean): void {
    this.still();
    const { layout, state } = this;
    const hit = layout.pageAt(at, false);
    if (!hit || !state || layout.inMargin(at.x) || state.tool === 'pan') return;
    const name = state.mode === 'listen' && state.tool !== 'eraser' ? 'pen' : state.tool;
    const tool = this.tools[erase ? 'eraser' : name];
    this.using = { tool, view: hit.view };
    this.events.begun();
    tool.begin(hit.view, layout.onPage(hit.view, at));
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

  /** Words where the caret stands; false when there is none. */
  type(words: string): boolean {
    return this.tables.insert(words) || this.typing.insert(words);
  }

  /** Letters that are marked where one types, else the word at the caret. */
  letters(): readonly { line: string; from: number; to: number }[] {
    return this.typing.letters();
  }

  toCaret(): void {
    this.typing.toCaret();
  }

  /** Which page the middle of the view shows, and where, mm. */
  middle(): { page: string; x: number; y: number } | null {
    return this.placeAt(this.layout.width / 2, this.layout.height / 2);
  }

  /** Which page is seen at a place of the window (px), and where, mm; null beside these pages. */
  at(x: number, y: number): { page: string; x: number; y: number } | null {
    const box = this.scroller.getBoundingClientRect();
    const isIn = x >= box.left && x <= box.right && y >= box.top && y <= box.bottom;
    return isIn ? this.placeAt(x - box.left, y - box.top) : null;
  }

  private placeAt(x: number, y: number): { page: string; x: number; y: number } | null {
    const at = this.layout.pageAt({ x, y }, true);
    if (!at) return null;
    const [l, t, r, b] = extentOf(at.view.page);
    return { page: at.view.page.id, x: Math.min(r, Math.max(l, at.x)), y: Math.min(b, Math.max(t, at.y)) };
  }

  /** Brings a place of a page into sight. */
  showPlace(page: string, box: Box, gently = false): void {
    const view = this.layout.pages.find((v) => v.page.id === page);
    if (view) this.reveal(view, box, gently);
  }

  private reveal(view: PageView, box: Box, gently = false): void {
    this.still();
    this.layout.reveal(view, box, gently);
    this.request();
  }
}
