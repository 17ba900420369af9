/** A part at the bottom that takes no notice of the hand lying on it; its grip sets its height. */
import { onArrows } from './arrowKeys';

/** Lowest, px, and the largest share of the view. */
const LEAST_PX = 40;
const MOST = 0.7;

export class HandRest {
  private readonly el = document.createElement('div');
  private px = 0;

  /** `high`: of the view, px; `set`: another height was chosen, px. */
  constructor(
    parent: HTMLElement,
    private readonly high: () => number,
    private readonly set: (px: number) => void,
  ) {
    const { el } = this;
    el.className = 'hand-rest';
    el.hidden = true;
    el.dataset.testid = 'hand-rest';
    const grip = document.createElement('button');
    grip.type = 'button';
    grip.setAttribute('aria-label', 'Height of the hand rest');
    const words = document.createElement('span');
    words.textContent = 'Hand rest';
    el.append(grip, words);
    parent.append(el);
    for (const type of ['pointerdown', 'pointermove', 'pointerup', 'touchstart'] as const) el.addEventListener(type, (e) => e.stopPropagation());
    grip.addEventListener('pointerdown', (e) => {
      grip.setPointerCapture(e.pointerId);
      const [y, from] = [e.clientY, this.px];
      const on = (m: PointerEvent) => this.choose(from + y - m.clientY);
      grip.addEventListener('pointermove', on);
      for (const type of ['pointerup', 'pointercancel'] as const) grip.addEventListener(type, () => grip.removeEventListener('pointermove', on), { once: true });
    });
    onArrows(grip, (_, dy) => this.choose(this.px - 10 * dy));
  }

  private choose(px: number): void {
    this.set(Math.round(Math.min(this.high() * MOST, Math.max(LEAST_PX, px))));
  }

  /** Height in px; out of sight when 0 or where it has no place. */
  show(px: number, hasPlace: boolean): void {
    this.px = px;
    this.el.hidden = px === 0 || !hasPlace;
    this.el.style.height = `${px}px`;
  }
}
