/** What is heard, on the page: ink that writes itself while sound plays, the word being written, and a view that follows it. */
import { lettersBy, Replay, writtenBy } from '../../../core/ink/replay';
import { sampleStroke, tracePen } from '../../../core/ink/outline';
import { boxesMeet, growBox, unionBox, type Box } from '../../../core/ink/stroke';
import { coveredBy, isStroke, type Placed } from '../../../core/note/kinds/kinds';
import { inkOf } from '../../../platform/drawing/strokePainter';
import { lookOf } from '../../../platform/drawing/pageLook';
import type { PageView } from './pageView';
import type { SurfaceState } from './state';
import type { Look } from './tiles';

/** How much of its ink shows what lies ahead. */
const AHEAD = { full: 1, faint: 0.3, hidden: 0 } as const;
/** More changed strokes on a page than this are drawn anew as one area. */
const MANY = 60;

export interface ReplayHost {
  readonly state: SurfaceState | null;
  readonly scale: number;
  readonly dpr: number;
  pages(): readonly PageView[];
  /** Where the page's corner lies in the view, px. */
  cornerOf(view: PageView): { x: number; y: number };
  /** Something is whole from now on. */
  added(view: PageView, it: Placed): void;
  invalidate(view: PageView, box?: Box): void;
  place(el: HTMLElement, box: Box | null): void;
  /** Brings a part of a page into sight. */
  follow(view: PageView, box: Box): void;
}

export class ReplayView {
  private readonly ctx: CanvasRenderingContext2D;
  private readonly back: HTMLButtonElement;
  private replay = new Replay({}, []);
  private of: readonly unknown[] = [];
  /** Position in ms of the timeline; null while nothing has been played: then all ink is whole. */
  private at: number | null = null;
  /** What the begun strokes cover of the view, device px. */
  private drawn: Box | null = null;
  private following = true;
  private current: Placed | null = null;
  /** Where the word of the current stroke is shown, mm, and the scale it was placed at. */
  private box: Box | null = null;
  private boxScale = 0;

  constructor(
    parent: HTMLElement,
    private readonly host: ReplayHost,
  ) {
    const canvas = document.createElement('canvas');
    canvas.className = 'surface-wet';
    this.ctx = canvas.getContext('2d')!;
    this.back = document.createElement('button');
    this.back.type = 'button';
    this.back.className = 'follow-back';
    this.back.textContent = 'Back to the writing';
    this.back.hidden = true;
    this.back.addEventListener('click', () => this.follow());
    parent.append(canvas, this.back);
  }

  resize(width: number, height: number): void {
    const { canvas } = this.ctx;
    [canvas.width, canvas.height] = [Math.round(width * this.host.dpr), Math.round(height * this.host.dpr)];
    Object.assign(canvas.style, { width: `${width}px`, height: `${height}px` });
    this.drawn = null;
  }

  get position(): number | null {
    return this.at;
  }

  private get on(): boolean {
    return this.at !== null && this.host.state?.mode === 'listen';
  }

  /** Strokes in the order of the timeline, made anew when ink or timeline change. */
  private timed(): Replay {
    const { note } = this.host.state!;
    if (this.of[0] !== note.ink || this.of[1] !== note.header.timeline) {
      this.of = [note.ink, note.header.timeline];
      this.replay = new Replay(note.ink, note.header.timeline);
    }
    return this.replay;
  }

  /** What a stroke shows of its ink at the moment. */
  look(): Pick<Look, 'alpha'> {
    const state = this.host.state;
    const hidden = state && !state.secondShown && state.mode === 'listen';
    if (!this.on) return { alpha: hidden ? (s) => (s.second ? 0 : 1) : () => 1 };
    const [replay, at] = [this.timed(), this.at!];
    const ahead = AHEAD[state!.ahead];
    // Ink just added in a second pass stands where the sound may not have got to yet: it is whole while one writes.
    return { alpha: (s) => (s.second && hidden ? 0 : (s.second && state!.second) || replay.stateAt(s, at) === 'whole' ? 1 : ahead) };
  }

  show(position: number | null): void {
    const { host } = this;
    if (!host.state || position === this.at) return;
    const before = this.at;
    this.at = position;
    if (host.state.mode !== 'listen') return;
    if (position === null || before === null) for (const view of host.pages()) host.invalidate(view);
    else if (host.state.ahead !== 'full') this.change(before, position);
    this.showCurrent();
    this.draw();
  }

  private change(before: number, position: number): void {
    const replay = this.timed();
    const views = new Map(this.host.pages().filter((v) => v.near).map((v) => [v.page.id, v]));
    const changed = new Map<PageView, Placed[]>();
    for (const { placed } of replay.changed(before, position)) {
      const view = views.get(placed.page);
      if (!view) continue;
      const list = changed.get(view);
      if (list) list.push(placed);
      else changed.set(view, [placed]);
    }
    for (const [view, strokes] of changed) {
      // Going on, what has just been finished is put on top; anything else is drawn anew where it lies.
      if (position > before && strokes.length <= MANY) {
        for (const s of strokes) if (replay.stateAt(s, position) === 'whole' && replay.stateAt(s, before) !== 'whole') this.host.added(view, s);
        continue;
      }
      const boxes = strokes.map(coveredBy);
      if (boxes.length > MANY) this.host.invalidate(view, boxes.reduce(unionBox));
      else for (const box of boxes) this.host.invalidate(view, box);
    }
  }

  /** Draws the strokes that are being written, as far as they have got. */
  draw(): void {
    const { ctx, host } = this;
    if (this.drawn) {
      ctx.setTransform(1, 0, 0, 1, 0, 0);
      ctx.clearRect(this.drawn[0], this.drawn[1], this.drawn[2] - this.drawn[0], this.drawn[3] - this.drawn[1]);
      this.drawn = null;
    }
    const { state } = host;
    if (!this.on || !state || state.ahead === 'full') return;
    const begun = this.timed().begunAt(this.at!);
    const k = host.scale * host.dpr;
    for (const entry of begun) {
      const stroke = entry.placed;
      const points = writtenBy(entry, this.at!);
      if (stroke.kind !== 'typed' && (!points || !isStroke(stroke))) continue;
      if (stroke.second && (state.second || !state.secondShown)) continue;
      const view = host.pages().find((v) => v.page.id === stroke.page);
      if (!view?.near) continue;
      const { x, y } = host.cornerOf(view);
      const box = growBox(coveredBy(stroke), 1);
      const seen: Box = [x * host.dpr + box[0] * k - 2, y * host.dpr + box[1] * k - 2, x * host.dpr + box[2] * k + 2, y * host.dpr + box[3] * k + 2];
      if (!boxesMeet(seen, [0, 0, ctx.canvas.width, ctx.canvas.height])) continue;
      this.drawn = this.drawn ? unionBox(this.drawn, seen) : seen;
      ctx.setTransform(k, 0, 0, k, x * host.dpr, y * host.dpr);
      if (stroke.kind === 'typed') {
        view.tiles.painter.typed.part(ctx, k, stroke, 1, lettersBy(entry, this.at!));
        continue;
      }
      const { pen } = stroke;
      ctx.globalAlpha = pen.opacity ?? 1;
      ctx.fillStyle = inkOf(ctx, pen, lookOf(view.page));
      ctx.beginPath();
      tracePen(pen, sampleStroke(points!, pen), ctx);
      ctx.fill('nonzero');
    }
    ctx.globalAlpha = 1;
  }

  /** Marks the word that was being written at the position, and keeps it in sight. */
  showCurrent(): void {
    const { host } = this;
    if (!this.on) {
      for (const view of host.pages()) view.now.hidden = true;
      this.back.hidden = true;
      this.current = null;
      return;
    }
    const current = this.timed().lastBy(this.at!);
    const isOther = current !== this.current;
    const view = current && host.pages().find((v) => v.page.id === current.page);
    const box = view ? (view.wordOf.get(current.id)?.box ?? current.box) : null;
    // With every frame only what changed: the word, its place, or the scale it is shown at.
    if (!isOther && box === this.box && host.scale === this.boxScale && view && !view.now.hidden) return;
    [this.current, this.box, this.boxScale] = [current, box, host.scale];
    for (const v of host.pages()) host.place(v.now, v === view ? box : null);
    if (isOther && this.following) this.bring();
  }

  private bring(): void {
    const view = this.current && this.host.pages().find((v) => v.page.id === this.current!.page);
    if (view) this.host.follow(view, view.wordOf.get(this.current!.id)?.box ?? this.current!.box);
  }

  /** The user moved the page: it stays where it was put, and the way back is offered while something plays. */
  letGo(): void {
    if (!this.on || !this.host.state?.playing) return;
    this.following = false;
    this.back.hidden = false;
  }

  /** The view goes along with the writing again. */
  follow(): void {
    this.following = true;
    this.back.hidden = true;
    this.bring();
  }

  /** A place was touched: the view is where it should be, and goes along from here. */
  resume(): void {
    this.following = true;
    this.back.hidden = true;
  }

  /** The order of strokes and where they are heard. */
  lastBy(ms: number): Placed | null {
    return this.timed().lastBy(ms);
  }
}
