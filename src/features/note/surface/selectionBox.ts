/** The frame around what is selected: moves it, scales it, turns it, and gives a single shape its own handles. */
import { dragHandle, handlesOf, sizeText, snapShape, isStraight, type Shape, type Vec } from '../../../core/ink/shapes/shape';
import { boxAround, growBox, reshaped, unionBox, type Box, type Stroke } from '../../../core/ink/stroke';
import { coveredBy, isStroke, layerOf, paintOrder, type Placed } from '../../../core/note/kinds/kinds';
import { around, move, type Affine } from '../../../core/ink/transform';
import { keptOnPage } from '../../../core/note/board';
import { onArrows } from './arrowKeys';
import { takeKeys } from './takeKeys';
import type { PageView } from './pageView';
import { touchMm, type ToolHost } from './tools/tool';

/** What an arrow key moves the selection by, mm; with Shift the larger. */
const NEAR_MM = 0.5;
const FAR_MM = 5;
/** Around the ink, mm. */
const AIR_MM = 1.5;
/** Canvases larger than this are drawn coarser while they are moved, px. */
const LARGEST_PX = 2400;

/** More strokes than this are put onto their picture ahead of being moved, so many with a frame. */
const AHEAD = 150;
const AHEAD_A_FRAME = 80;
/** Opacity of a picture that is in the making: the browser makes it, and nobody sees it over the same ink. */
const UNSEEN = '0.01';

/** What is moved: its things in the order of painting, how many are on it, and the area it covers, mm. */
interface Picture {
  readonly ctx: CanvasRenderingContext2D;
  readonly area: Box;
  readonly placed: readonly Placed[];
  done: number;
}

const KIND_NAMES: Readonly<Record<Placed['kind'], readonly [string, string]>> = { stroke: ['stroke', 'strokes'], area: ['area', 'areas'], picture: ['picture', 'pictures'], axes: ['pair of axes', 'pairs of axes'], solid: ['solid', 'solids'], slip: ['sticky note', 'sticky notes'], table: ['table', 'tables'], typed: ['typed line', 'typed lines'], unknown: ['thing', 'things'] };

/** What is selected, kind by kind. */
function counted(placed: readonly Placed[]): string {
  const by = new Map<Placed['kind'], number>();
  for (const { kind } of placed) by.set(kind, (by.get(kind) ?? 0) + 1);
  return [...by].map(([kind, n]) => `${n} ${KIND_NAMES[kind][n === 1 ? 0 : 1]}`).join(', ');
}

export class SelectionBox {
  private readonly el = document.createElement('div');
  private readonly lift = document.createElement('canvas');
  private view: PageView | null = null;
  private placed: readonly Placed[] = [];
  private box: Box = [0, 0, 0, 0];
  private dragging = false;
  /** The hand is over the other side: what is selected is seen where it stays. */
  private isAway = false;
  private picture: Picture | null = null;
  private ahead = 0;

  constructor(
    private readonly host: ToolHost,
    private readonly nudge: (dx: number, dy: number) => void,
    /** The frame was touched and not moved: the touch is meant for the tool in hand. */
    private readonly touched: (view: PageView, x: number, y: number) => void,
  ) {
    const { el } = this;
    el.className = 'selection';
    el.dataset.hold = 'true';
    el.dataset.testid = 'selection';
    el.tabIndex = 0;
    el.setAttribute('role', 'group');
    this.lift.className = 'selection-lift';
    el.addEventListener('pointerdown', (e) => {
      if (e.target === el) this.drag(e, (from, to) => {
        const [l, t, r, b] = this.box;
        return move(...keptOnPage(this.view!.page, [l, t, r, b], to[0] - from[0], to[1] - from[1]));
      });
    });
    onArrows(el, (dx, dy, far) => this.nudge(dx * (far ? FAR_MM : NEAR_MM), dy * (far ? FAR_MM : NEAR_MM)));
    el.append(
      this.handle('selection-scale', 'Scale selection', (from, to) => {
        const [l, t] = this.box;
        const [a, b] = [Math.hypot(from[0] - l, from[1] - t), Math.hypot(to[0] - l, to[1] - t)];
        const k = Math.min(20, Math.max(0.05, b / (a || 1)));
        return around(l, t, k, k, 0);
      }, (step) => around(this.box[0], this.box[1], 1 + 0.05 * step, 1 + 0.05 * step, 0)),
      this.handle('selection-turn', 'Turn selection', (from, to) => {
        const [mx, my] = this.middle;
        let a = Math.atan2(to[1] - my, to[0] - mx) - Math.atan2(from[1] - my, from[0] - mx);
        // Near a multiple of 15 degrees the turn stops there.
        const near = Math.round(a / (Math.PI / 12)) * (Math.PI / 12);
        if (Math.abs(a - near) < 0.035) a = near;
        this.host.label(this.view!, `${Math.round((-a * 180) / Math.PI)}°`, to[0], to[1]);
        return around(mx, my, 1, 1, a);
      }, (step) => around(...this.middle, 1, 1, (5 * step * Math.PI) / 180)),
    );
  }

  private get middle(): [number, number] {
    return [(this.box[0] + this.box[2]) / 2, (this.box[1] + this.box[3]) / 2];
  }

  private handle(className: string, name: string, at: (from: Vec, to: Vec) => Affine, by: (step: number) => Affine): HTMLElement {
    const button = document.createElement('button');
    button.type = 'button';
    button.className = `selection-handle ${className}`;
    button.setAttribute('aria-label', name);
    button.addEventListener('pointerdown', (e) => this.drag(e, at));
    onArrows(button, (dx, dy) => this.host.events.transform(by(dx + dy)));
    return button;
  }

  show(view: PageView, placed: readonly Placed[]): void {
    const box = boxAround(placed);
    if (!box) return this.hide();
    if (this.dragging) return;
    const fresh = this.view !== view || !this.el.isConnected;
    [this.view, this.placed, this.box] = [view, placed, box];
    this.el.setAttribute('aria-label', `Selection of ${counted(placed)}. Arrow keys move it, with Shift further.`);
    if (fresh) {
      view.ground.append(this.el);
      // The keys go to what was just selected.
      takeKeys(this.el, () => this.view === view);
    }
    this.lay();
  }

  /** Puts the frame where the ink is; again after every change of scale. */
  lay(): void {
    if (!this.view) return;
    const k = this.host.scale;
    const [l, t, r, b] = growBox(this.box, AIR_MM);
    Object.assign(this.el.style, { left: `${l * k}px`, top: `${t * k}px`, width: `${(r - l) * k}px`, height: `${(b - t) * k}px`, transform: '' });
    this.layShapeHandles();
    this.dropPicture();
    if (this.placed.length > AHEAD) this.ahead = requestAnimationFrame(this.prepare);
  }

  private layShapeHandles(): void {
    for (const el of this.el.querySelectorAll('.selection-corner')) el.remove();
    const only = this.placed.length === 1 ? this.placed[0] : null;
    const stroke = only && isStroke(only) ? only : null;
    this.el.dataset.shape = String(Boolean(stroke?.shape));
    if (!stroke?.shape) return;
    const k = this.host.scale;
    const [l, t] = growBox(this.box, AIR_MM);
    handlesOf(stroke.shape).forEach((at, i) => {
      const button = document.createElement('button');
      button.type = 'button';
      button.className = 'selection-handle selection-corner';
      button.setAttribute('aria-label', `Corner ${i + 1} of the ${stroke.shape!.name}`);
      Object.assign(button.style, { left: `${(at[0] - l) * k}px`, top: `${(at[1] - t) * k}px` });
      button.addEventListener('pointerdown', (e) => this.dragCorner(e, stroke, i));
      onArrows(button, (dx, dy) => this.host.events.reshape(stroke, dragHandle(stroke.shape!, i, [at[0] + dx, at[1] + dy])));
      this.el.append(button);
    });
  }

  hide(): void {
    this.el.remove();
    this.dropPicture();
    this.view = null;
    this.placed = [];
  }

  private at(e: PointerEvent): Vec {
    const box = this.view!.el.getBoundingClientRect();
    return [(e.clientX - box.left) / this.host.scale, (e.clientY - box.top) / this.host.scale];
  }

  /** Follows a contact; `done(true)` when it lifted after moving, false when it was taken away. */
  private follow(e: PointerEvent, step: (to: Vec, at: PointerEvent) => void, done: (kept: boolean) => void): void {
    if (e.pointerType === 'mouse' && e.button !== 0) return;
    e.preventDefault();
    e.stopPropagation();
    const target = e.currentTarget as HTMLElement;
    target.focus({ preventScroll: true });
    target.setPointerCapture(e.pointerId);
    const id = e.pointerId;
    const on = (m: PointerEvent) => {
      if (m.pointerId === id) step(this.at(m), m);
    };
    const off = (kept: boolean) => (m: PointerEvent) => {
      if (m.pointerId !== id) return;
      target.removeEventListener('pointermove', on);
      target.removeEventListener('pointerup', up);
      target.removeEventListener('pointercancel', lost);
      this.dragging = false;
      this.el.dataset.moving = 'false';
      done(kept);
    };
    const [up, lost] = [off(true), off(false)];
    target.addEventListener('pointermove', on);
    target.addEventListener('pointerup', up);
    target.addEventListener('pointercancel', lost);
    this.dragging = true;
    this.el.dataset.moving = 'true';
  }

  private drag(e: PointerEvent, make: (from: Vec, to: Vec) => Affine): void {
    if (!this.view || (e.pointerType === 'mouse' && e.button !== 0)) return;
    const from = this.at(e);
    const isMoved = e.target === this.el;
    let m: Affine | null = null;
    let across: readonly [number, number] | null = null;
    this.follow(
      e,
      (to, at) => {
        // What is selected may go while the hand is on it.
        if (!this.view) return;
        // A finger that only touches wobbles.
        if (!m && Math.hypot(to[0] - from[0], to[1] - from[1]) < touchMm(this.host.scale)) return;
        // Also when the page was laid anew meanwhile, and with it the picture put away.
        if (!m || !this.picture) this.liftUp();
        m = make(from, to);
        across = isMoved && this.isAcross(at) ? [at.clientX, at.clientY] : null;
        this.place(m, across);
      },
      (kept) => {
        const view = this.view;
        this.putDown();
        if (view) this.host.label(view, null);
        if (kept && across) {
          this.lay();
          this.host.events.takeOver(...across);
        } else if (kept && m) this.host.events.transform(m);
        else if (kept && view && e.target === this.el) this.touched(view, ...from);
        else this.lay();
      },
    );
  }

  /** The hand is over the pages on the other side of the screen. */
  private isAcross(at: PointerEvent): boolean {
    const over = document.elementFromPoint(at.clientX, at.clientY)?.closest('.surface');
    return over != null && !over.contains(this.el);
  }

  /** Takes the ink off the page onto a canvas of its own, which moves without being drawn again. */
  private liftUp(): void {
    this.picture ??= this.startPicture();
    this.paintPicture(Infinity);
    this.lift.style.opacity = '';
    this.host.liftOff(this.view!, this.placed, this.picture.area);
  }

  private startPicture(): Picture {
    const { host, lift } = this;
    const area = this.placed.map(coveredBy).reduce(unionBox);
    const k = host.scale;
    const [w, h] = [(area[2] - area[0]) * k, (area[3] - area[1]) * k];
    const dpr = Math.min(Math.min(3, window.devicePixelRatio || 1), LARGEST_PX / Math.max(w, h, 1));
    lift.width = Math.ceil(w * dpr);
    lift.height = Math.ceil(h * dpr);
    Object.assign(lift.style, { left: `${area[0] * k}px`, top: `${area[1] * k}px`, width: `${w}px`, height: `${h}px`, transform: '' });
    const ctx = lift.getContext('2d')!;
    ctx.setTransform(k * dpr, 0, 0, k * dpr, -area[0] * k * dpr, -area[1] * k * dpr);
    this.view!.el.append(lift);
    return { ctx, area, placed: [...this.placed].sort(paintOrder), done: 0 };
  }

  /** Puts so many more strokes onto the picture. Highlighter goes with the first ones, since all of it is one area. */
  private paintPicture(count: number): void {
    const p = this.picture!;
    const light = p.done === 0 ? p.placed.filter((it) => layerOf(it) === 'under').length : 0;
    const part = p.placed.slice(p.done, p.done + light + count);
    p.done += part.length;
    this.view!.tiles.painter.paint(p.ctx, part);
  }

  /** Many strokes are put onto their picture while the hand is still on its way to them: unseen, some with every frame. */
  private prepare = (): void => {
    this.ahead = 0;
    if (!this.view || this.dragging) return;
    this.picture ??= this.startPicture();
    this.lift.style.opacity = UNSEEN;
    this.paintPicture(AHEAD_A_FRAME);
    if (this.picture.done < this.placed.length) this.ahead = requestAnimationFrame(this.prepare);
  };

  private dropPicture(): void {
    cancelAnimationFrame(this.ahead);
    this.ahead = 0;
    this.picture = null;
    this.lift.remove();
  }

  /** `across`: where the hand is on the other side of the screen, px of the window. There the picture goes along, and what is selected stays. */
  private place(m: Affine, across: readonly [number, number] | null): void {
    const { lift } = this;
    const k = this.host.scale;
    const isAcross = across !== null;
    if (this.isAway !== isAcross) {
      this.isAway = isAcross;
      this.el.dataset.across = String(isAcross);
      if (isAcross) this.host.settle(this.view!);
      else this.host.liftOff(this.view!, this.placed, this.picture!.area);
    }
    if (across) {
      this.el.style.transform = '';
      const [w, h] = [lift.clientWidth, lift.clientHeight];
      document.body.append(lift);
      lift.style.transform = `translate(${across[0] - w / 2 - lift.offsetLeft}px, ${across[1] - h / 2 - lift.offsetTop}px)`;
      return;
    }
    if (lift.parentElement === document.body) this.view!.el.append(lift);
    const matrix = (l: number, t: number) => `matrix(${m.a},${m.b},${m.c},${m.d},${k * (m.a * l + m.c * t + m.e - l)},${k * (m.b * l + m.d * t + m.f - t)})`;
    const { area } = this.picture!;
    this.lift.style.transform = matrix(area[0], area[1]);
    this.el.style.transform = matrix(this.box[0] - AIR_MM, this.box[1] - AIR_MM);
  }

  private putDown(): void {
    this.isAway = false;
    this.el.dataset.across = 'false';
    this.dropPicture();
    if (this.view) this.host.settle(this.view);
  }

  private dragCorner(e: PointerEvent, stroke: Stroke, corner: number): void {
    const { host } = this;
    const view = this.view!;
    let shape: Shape | null = null;
    let before: Box = coveredBy(stroke);
    this.follow(
      e,
      (to) => {
        shape = dragHandle(stroke.shape!, corner, to);
        if (isStraight(shape) && host.state.snap) {
          // The end that is held turns around the other.
          const [fixed, free] = corner === 0 ? [shape.at[1], shape.at[0]] : [shape.at[0], shape.at[1]];
          const snapped = snapShape({ ...shape, at: [fixed, free] });
          shape = { ...shape, at: corner === 0 ? [snapped.at[1], fixed] : [fixed, snapped.at[1]] };
        }
        const made = reshaped(stroke, shape);
        const now = coveredBy(made);
        host.standIn(view, stroke.id, [made], unionBox(now, before));
        before = now;
        host.label(view, sizeText(shape), to[0], to[1]);
      },
      (kept) => {
        host.label(view, null);
        host.settle(view);
        if (kept && shape) host.events.reshape(stroke, shape);
      },
    );
  }
}
