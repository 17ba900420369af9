/** The ruler on a page: shows true millimetres and its angle, is moved by its body and turned by its knob. */
import { tinykeys } from 'tinykeys';
import { PX_PER_MM, RULER_LENGTH, RULER_WIDTH, settledAngle, type Ruler } from '../../../core/ink/ruler';
import { onArrows } from './arrowKeys';
import type { PageView } from './pageView';

const SVG = 'http://www.w3.org/2000/svg';

export class RulerView {
  private readonly el = document.createElement('div');
  private readonly words = document.createElement('div');
  private readonly ticks = document.createElementNS(SVG, 'svg');
  private view: PageView | null = null;
  private ruler: Ruler = { x: 105, y: 100, angle: 0 };
  private ticked = 0;

  constructor(private readonly scale: () => number) {
    const { el, words } = this;
    el.className = 'ruler';
    el.dataset.hold = 'true';
    el.dataset.testid = 'ruler';
    el.tabIndex = 0;
    el.setAttribute('role', 'group');
    words.className = 'ruler-words';
    const knob = document.createElement('button');
    knob.type = 'button';
    knob.className = 'ruler-knob';
    knob.setAttribute('aria-label', 'Turn ruler');
    this.ticks.setAttribute('class', 'ruler-marks');
    // Stretched to the ruler exactly: a margin left for the sake of proportion would falsify every millimetre.
    this.ticks.setAttribute('preserveAspectRatio', 'none');
    el.append(this.ticks, words, knob);
    el.addEventListener('pointerdown', (e) => {
      if (e.target === knob) return;
      const from = this.at(e);
      const start = this.ruler;
      this.follow(e, el, (to) => this.set({ ...start, x: start.x + to[0] - from[0], y: start.y + to[1] - from[1] }));
    });
    knob.addEventListener('pointerdown', (e) => {
      const { x, y } = this.ruler;
      this.follow(e, knob, (to) => this.set({ ...this.ruler, angle: settledAngle((Math.atan2(y - to[1], to[0] - x) * 180) / Math.PI) }));
    });
    onArrows(el, (dx, dy) => this.set({ ...this.ruler, x: this.ruler.x + dx, y: this.ruler.y + dy }));
    const turn = (by: number) => (e: KeyboardEvent) => {
      e.stopPropagation();
      this.set({ ...this.ruler, angle: (this.ruler.angle + by + 180) % 180 });
    };
    tinykeys(el, { '[': turn(1), ']': turn(-1) });
  }

  on(view: PageView): Ruler | null {
    return this.view === view ? this.ruler : null;
  }

  get shown(): boolean {
    return this.view !== null;
  }

  /** Lays it down on a page around a place, mm. */
  show(view: PageView, x: number, y: number): void {
    this.view = view;
    view.ground.append(this.el);
    this.set({ x, y, angle: 0 });
  }

  hide(): void {
    this.view = null;
    this.el.remove();
  }

  private set(ruler: Ruler): void {
    const { w, h } = this.view!.page;
    this.ruler = { ...ruler, x: Math.min(w, Math.max(0, ruler.x)), y: Math.min(h, Math.max(0, ruler.y)) };
    this.lay();
  }

  lay(): void {
    if (!this.view) return;
    const k = this.scale();
    const { x, y, angle } = this.ruler;
    Object.assign(this.el.style, { left: `${(x - RULER_LENGTH / 2) * k}px`, top: `${(y - RULER_WIDTH / 2) * k}px`, width: `${RULER_LENGTH * k}px`, height: `${RULER_WIDTH * k}px`, transform: `rotate(${-angle}deg)` });
    this.words.textContent = `${angle}° · ${RULER_LENGTH} mm`;
    this.el.setAttribute('aria-label', `Ruler at ${angle} degrees. Arrow keys move it, square brackets turn it.`);
    if (this.ticked === k) return;
    this.ticked = k;
    const step = k > 3 ? 1 : 5;
    const far = k > 2.4 ? 10 : 20;
    let d = '';
    let numbers = '';
    for (let mm = 0; mm <= RULER_LENGTH; mm += step) {
      const long = mm % 10 === 0 ? 4 : mm % 5 === 0 ? 3 : 1.8;
      d += `M${mm} 0V${long}M${mm} ${RULER_WIDTH}v${-long}`;
      if (mm % far === 0 && mm > 0 && mm < RULER_LENGTH) numbers += `<text x="${mm}" y="7.4" text-anchor="middle">${mm}</text>`;
    }
    this.ticks.setAttribute('viewBox', `0 0 ${RULER_LENGTH} ${RULER_WIDTH}`);
    this.ticks.innerHTML = `<path d="${d}" stroke-width="${Math.max(0.15, 0.7 / k)}"/>${numbers}`;
    this.ticks.style.fontSize = `${Math.max(2.8, 8 / k)}px`;
    this.el.dataset.truth = (k / PX_PER_MM).toFixed(3);
  }

  private at(e: PointerEvent): readonly [number, number] {
    const box = this.view!.el.getBoundingClientRect();
    const k = this.scale();
    return [(e.clientX - box.left) / k, (e.clientY - box.top) / k];
  }

  private follow(e: PointerEvent, target: HTMLElement, step: (to: readonly [number, number]) => void): void {
    if (e.pointerType === 'mouse' && e.button !== 0) return;
    e.preventDefault();
    target.setPointerCapture(e.pointerId);
    const on = (m: PointerEvent) => {
      if (m.pointerId === e.pointerId && this.view) step(this.at(m));
    };
    const off = (m: PointerEvent) => {
      if (m.pointerId !== e.pointerId) return;
      for (const [name, f] of [['pointermove', on], ['pointerup', off], ['pointercancel', off]] as const) target.removeEventListener(name, f);
    };
    for (const [name, f] of [['pointermove', on], ['pointerup', off], ['pointercancel', off]] as const) target.addEventListener(name, f);
  }
}
