/** The writing strip on the screen: shows the frame of the page large, takes the pen, and moves the frame on. */
import { advance, BASELINE, frameAt, frameOn, lineOf, nextLine, type Frame, type StripPage, type StripSetting } from '../../../core/ink/strip';
import type { Box } from '../../../core/ink/stroke';
import { writingLines } from '../../../core/note/paper';
import { lookOf } from '../../../platform/drawing/pageLook';
import type { Page } from '../../../core/note/schema';
import { attachPointer, type Contact } from '../../../platform/pointer';
import { onArrows } from './arrowKeys';
import type { PageView } from './pageView';
import { PageTiles, type Budget, type Look, type Shared } from './tiles';
import { EraserTool } from './tools/eraserTool';
import { PenTool } from './tools/penTool';
import type { At, Tool, ToolHost } from './tools/tool';
import { WetInk } from './wetInk';
import './strip.css';

/** Beyond this part of the strip there is no room for another letter, and it moves on without waiting. */
const AT_ONCE = 0.95;

const asStrip = ({ w, h, paper }: Page): StripPage => ({ w, h, ...writingLines(paper) });

export interface StripHost extends ToolHost {
  readonly shared: Shared;
  pageViews(): readonly PageView[];
  /** The frame moved: keeps it in sight. */
  reveal(view: PageView, box: Box): void;
  setStrip(setting: StripSetting): void;
  penSeen(): void;
}

export class StripView {
  private readonly root = document.createElement('div');
  private readonly area = document.createElement('div');
  private readonly ink = document.createElement('div');
  private readonly frameEl = document.createElement('div');
  private readonly margins: Record<'left' | 'right', HTMLElement>;
  private readonly wet: WetInk;
  private readonly detach: () => void;
  private tiles: PageTiles | null = null;
  private tilesOf: Page | null = null;
  private frame: Frame | null = null;
  private tool: Tool | null = null;
  /** How far writing on this line has come, mm. */
  private front: number | null = null;
  private rest: ReturnType<typeof setTimeout> | null = null;
  private width = 0;
  private height = 0;
  private readonly inner: ToolHost;

  constructor(
    parent: HTMLElement,
    private readonly host: StripHost,
  ) {
    const { root, area, ink, frameEl } = this;
    root.className = 'strip';
    root.dataset.testid = 'writing-strip';
    root.setAttribute('role', 'region');
    root.setAttribute('aria-label', 'Writing strip');
    area.className = 'strip-area';
    ink.className = 'strip-ink';
    area.append(ink);
    const bar = document.createElement('div');
    bar.className = 'strip-bar';
    const button = (name: string, sign: string, press: () => void) => {
      const b = document.createElement('button');
      b.type = 'button';
      b.setAttribute('aria-label', name);
      b.innerHTML = `<svg width="22" height="22" viewBox="0 0 24 24" aria-hidden="true"><path d="${sign}"/></svg>`;
      b.addEventListener('click', press);
      bar.append(b);
    };
    button('Frame back', 'M14.5 6l-6 6 6 6M4.500 5v14', () => this.shift(-0.4));
    button('Frame on', 'M9.500 6l6 6-6 6M19.500 5v14', () => this.shift(0.4));
    button('Line above', 'M12 19V7M7 11.500L12 6.500l5 5M5 4h14', () => this.line(-1));
    button('Next line', 'M19 5v7H6M10 8l-4.500 4L10 16', () => this.line(1));
    button('Write larger in the strip', 'M12 5v14M5 12h14', () => this.grow(-0.15));
    button('Write smaller in the strip', 'M5 12h14', () => this.grow(0.15));
    button('Change writing direction', 'M4 8.500h14M15 5.500l3 3-3 3M20 15.500H6M9 12.500l-3 3 3 3', () => this.host.setStrip({ ...this.setting, rightToLeft: !this.setting.rightToLeft }));
    root.append(area, bar);
    parent.append(root);
    this.wet = new WetInk(area);
    // The tools work in the strip as on the page; only where the page lies and how large it is differ.
    const inner = Object.create(host) as ToolHost;
    Object.defineProperties(inner, {
      wet: { value: this.wet },
      scale: { get: () => this.scale },
      cornerOf: { value: () => ({ x: -this.frame!.x * this.scale, y: -this.frame!.y * this.scale }) },
      rulerOn: { value: () => null },
      label: { value: () => undefined },
    });
    this.inner = inner;
    this.detach = attachPointer(area, {
      rules: () => ({ draws: true, onlyPen: this.host.state.onlyPen }),
      penSeen: () => this.host.penSeen(),
      penIdle: () => undefined,
      begin: (at, erase) => this.begin(at, erase),
      move: (points, foretold) => this.tool?.move(points.map(this.onPage), foretold.map(this.onPage)),
      end: () => this.end(),
      cancel: () => {
        this.tool?.cancel();
        this.tool = null;
      },
      tap: () => undefined,
      pan: (dx) => this.shift((this.setting.rightToLeft ? dx : -dx) / Math.max(1, this.width)),
      pressed: () => undefined,
      pinch: () => undefined,
      fling: () => undefined,
      fingersTapped: () => undefined,
    });
    frameEl.className = 'strip-frame';
    frameEl.dataset.hold = 'true';
    frameEl.dataset.testid = 'strip-frame';
    frameEl.addEventListener('pointerdown', (e) => this.dragFrame(e));
    const margin = (side: 'left' | 'right') => {
      const b = document.createElement('button');
      b.type = 'button';
      b.className = 'strip-margin';
      b.dataset.side = side;
      b.setAttribute('aria-label', side === 'left' ? 'Left margin of the strip' : 'Right margin of the strip');
      b.addEventListener('pointerdown', (e) => this.dragMargin(e, side));
      onArrows(b, (dx) => this.setMargin(side, this.setting[side] + (side === 'left' ? dx : -dx)));
      return b;
    };
    this.margins = { left: margin('left'), right: margin('right') };
  }

  private get setting(): StripSetting {
    return this.host.state.strip;
  }

  private get scale(): number {
    return this.frame ? this.width / this.frame.w : 1;
  }

  private get view(): PageView | null {
    return this.frame ? (this.host.pageViews()[this.frame.page] ?? null) : null;
  }

  destroy(): void {
    if (this.rest) clearTimeout(this.rest);
    this.detach();
    this.tiles?.release();
    for (const el of [this.root, this.frameEl, this.margins.left, this.margins.right]) el.remove();
  }

  /** Size in px; the frame keeps its place. */
  resize(width: number, height: number, dpr: number): void {
    [this.width, this.height] = [width, height];
    this.area.style.height = `${height}px`;
    this.wet.resize(width, height, dpr);
    if (this.frame) this.fit();
    this.lay();
  }

  /** Sets the frame to the first free ruled line at or below `y` (mm) of a page; after the last line that has ink when none is. */
  start(index: number, y: number): void {
    const view = this.host.pageViews()[index];
    if (!view || this.frame) return;
    const { spacing, top: above } = writingLines(view.page.paper);
    const last = Math.floor((view.page.h - 8 - above) / spacing);
    const free = (k: number) => {
      const [top, bottom] = [above + (k - 0.8) * spacing, above + (k - 0.1) * spacing];
      return !view.placed.some(({ box }) => box[1] < bottom && box[3] > top);
    };
    const first = Math.max(0, Math.round((y - above) / spacing));
    let line = first;
    while (line < last && !free(line)) line++;
    this.frame = frameOn(asStrip(view.page), index, line, this.setting, this.width / Math.max(1, this.height));
    this.lay();
    this.host.reveal(view, [this.frame.x, this.frame.y, this.frame.x + this.frame.w, this.frame.y + this.frame.h]);
  }

  private fit(): void {
    const { view, frame } = this;
    if (!view || !frame) return;
    const fresh = frameOn(asStrip(view.page), frame.page, 0, this.setting, this.width / Math.max(1, this.height));
    const base = frame.y + BASELINE * frame.h;
    this.frame = frameAt({ ...fresh, y: base - BASELINE * fresh.h }, asStrip(view.page), frame.x, base - BASELINE * fresh.h);
  }

  private before: StripSetting | null = null;

  /** The settings or the scale of the page changed. */
  lay(): void {
    if (this.before !== this.setting) {
      const turned = this.before && this.before.rightToLeft !== this.setting.rightToLeft;
      this.before = this.setting;
      this.fit();
      const { view } = this;
      if (turned && view && this.frame) this.frame = { ...this.frame, x: this.setting.rightToLeft ? view.page.w - this.setting.right - this.frame.w : this.setting.left };
    }
    const { frame, view } = this;
    if (!frame || !view) return;
    const k = this.host.scale;
    view.ground.append(this.frameEl, this.margins.left, this.margins.right);
    Object.assign(this.frameEl.style, { left: `${frame.x * k}px`, top: `${frame.y * k}px`, width: `${frame.w * k}px`, height: `${frame.h * k}px` });
    for (const side of ['left', 'right'] as const) {
      const x = side === 'left' ? this.setting.left : view.page.w - this.setting.right;
      Object.assign(this.margins[side].style, { left: `${x * k}px`, top: `${(frame.y - 2) * k}px`, height: `${(frame.h + 4) * k}px` });
    }
    if (this.tilesOf !== view.page) {
      this.tiles?.release();
      this.tiles = new PageTiles(this.ink, view.page, this.host.shared);
      this.tilesOf = view.page;
    }
    if (view.page.backdrop) this.ink.style.background = lookOf(view.page).sheet(view.page.paper);
    const s = this.scale;
    this.tiles!.setScale(s, Math.min(3, window.devicePixelRatio || 1), view.page);
    this.ink.style.transform = `translate(${-frame.x * s}px, ${-frame.y * s}px)`;
    this.root.dataset.line = String(lineOf(frame, asStrip(view.page)));
    this.root.dataset.way = this.setting.rightToLeft ? 'rtl' : 'ltr';
    this.host.request();
  }

  draw(look: Look, budget: Budget): boolean {
    const { frame, view } = this;
    if (!frame || !view || !this.tiles) return true;
    return this.tiles.draw([frame.x, frame.y, frame.x + frame.w, frame.y + frame.h], view.index, look, budget);
  }

  /** Ink of a page changed within a box (mm), or anywhere. */
  changed(view: PageView, box?: Box): void {
    if (view === this.view) this.tiles?.invalidate(box);
  }

  // Writing

  private onPage = (at: Contact): At => {
    const { frame } = this;
    const { w, h } = this.view!.page;
    return { x: Math.min(w, Math.max(0, frame!.x + at.x / this.scale)), y: Math.min(h, Math.max(0, frame!.y + at.y / this.scale)), pressure: at.pressure, time: at.time };
  };

  private begin(at: Contact, erase: boolean): void {
    const { view } = this;
    if (!view || !this.host.state.canWrite) return;
    if (this.rest) clearTimeout(this.rest);
    this.rest = null;
    this.tool = erase || this.host.state.tool === 'eraser' ? new EraserTool(this.inner) : new PenTool(this.inner);
    this.tool.begin(view, this.onPage(at));
  }

  private end(): void {
    const { tool, view } = this;
    this.tool = null;
    if (!tool || !view) return;
    const before = new Set(view.placed);
    tool.end();
    const made = view.placed.find((s) => !before.has(s));
    if (!made || tool instanceof EraserTool) return;
    const edge = this.setting.rightToLeft ? made.box[0] : made.box[2];
    this.front = this.front === null ? edge : this.setting.rightToLeft ? Math.min(this.front, edge) : Math.max(this.front, edge);
    const { frame } = this;
    const reached = this.setting.rightToLeft ? (frame!.x + frame!.w - this.front) / frame!.w : (this.front - frame!.x) / frame!.w;
    if (reached >= AT_ONCE) this.goOn();
    else this.rest = setTimeout(() => this.goOn(), this.setting.rest);
  }

  private goOn(): void {
    this.rest = null;
    const { frame, view } = this;
    if (!frame || !view || this.front === null) return;
    const next = advance(frame, asStrip(view.page), this.setting, this.front);
    if (next) this.moveTo(next);
  }

  /** The next page is there by now, since writing near the end of one brings it. */
  private moveTo(next: Frame): void {
    const views = this.host.pageViews();
    if (!views[next.page]) return;
    if (next.page !== this.frame?.page || next.y !== this.frame.y) this.front = null;
    this.frame = next;
    this.lay();
    this.host.reveal(views[next.page], [next.x, next.y, next.x + next.w, next.y + next.h]);
  }

  private shift(share: number): void {
    const { frame, view } = this;
    if (!frame || !view) return;
    this.moveTo(frameAt(frame, asStrip(view.page), frame.x + (this.setting.rightToLeft ? -share : share) * frame.w, frame.y));
  }

  private line(by: 1 | -1): void {
    const { frame, view } = this;
    if (!frame || !view) return;
    if (by > 0) return this.moveTo(nextLine(frame, asStrip(view.page), this.setting));
    this.moveTo(frameAt(frame, asStrip(view.page), frame.x, frame.y - writingLines(view.page.paper).spacing));
  }

  private grow(by: number): void {
    this.host.setStrip({ ...this.setting, lines: Math.min(3, Math.max(0.8, Math.round((this.setting.lines + by) * 100) / 100)) });
  }

  // The frame and the margins on the page

  private follow(e: PointerEvent, step: (dx: number, dy: number) => void): void {
    if (e.pointerType === 'mouse' && e.button !== 0) return;
    e.preventDefault();
    e.stopPropagation();
    const target = e.currentTarget as HTMLElement;
    target.setPointerCapture(e.pointerId);
    const k = this.host.scale;
    const on = (m: PointerEvent) => {
      if (m.pointerId === e.pointerId) step((m.clientX - e.clientX) / k, (m.clientY - e.clientY) / k);
    };
    const off = (m: PointerEvent) => {
      if (m.pointerId !== e.pointerId) return;
      for (const [name, f] of [['pointermove', on], ['pointerup', off], ['pointercancel', off]] as const) target.removeEventListener(name, f);
    };
    for (const [name, f] of [['pointermove', on], ['pointerup', off], ['pointercancel', off]] as const) target.addEventListener(name, f);
  }

  private dragFrame(e: PointerEvent): void {
    const start = this.frame;
    const { view } = this;
    if (!start || !view) return;
    this.follow(e, (dx, dy) => {
      // Over the end of a page it goes to the next or the one before.
      const views = this.host.pageViews();
      let [page, y] = [start.page, start.y + dy];
      while (page + 1 < views.length && y + start.h / 2 > views[page].page.h) y -= views[page++].page.h;
      while (page > 0 && y + start.h / 2 < 0) y += views[--page].page.h;
      this.front = null;
      this.frame = frameAt({ ...start, page }, asStrip(views[page].page), start.x + dx, y);
      this.lay();
    });
  }

  private dragMargin(e: PointerEvent, side: 'left' | 'right'): void {
    const start = this.setting[side];
    this.follow(e, (dx) => this.setMargin(side, start + (side === 'left' ? dx : -dx)));
  }

  private setMargin(side: 'left' | 'right', mm: number): void {
    this.host.setStrip({ ...this.setting, [side]: Math.min(90, Math.max(0, Math.round(mm * 2) / 2)) });
  }
}
