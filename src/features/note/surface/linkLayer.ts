/** What leads somewhere has a line under it and a sign at its end, which is touched, or reached by keys. */
import type { Ref } from '../../../core/note/schema';
import { heldBy, placesOf } from '../../../core/note/links';
import { paintOrder, slipAt } from '../../../core/note/kinds/kinds';
import type { PageView } from './pageView';

const NS = 'http://www.w3.org/2000/svg';

export class LinkLayer {
  private readonly by = new WeakMap<PageView, { readonly el: HTMLElement; of: string }>();

  constructor(
    private readonly textOf: (ref: Ref) => { readonly text: string; readonly broken: string | null },
    private readonly follow: (ref: Ref) => void,
  ) {}

  /** `scale`: px per mm. */
  show(view: PageView, refs: readonly Ref[], scale: number): void {
    const shown = refs.flatMap((ref) => {
      const placed = heldBy(ref, view.placed).map((h) => h.placed);
      return placesOf(ref, placed).flatMap((box) => {
        const slip = slipAt(view.placed, (box[0] + box[2]) / 2, (box[1] + box[3]) / 2);
        // What a sticky note hides is not touched.
        return !slip || placed.some((it) => it === slip || paintOrder(it, slip) > 0) ? [{ ref, box, ...this.textOf(ref) }] : [];
      });
    });
    let layer = this.by.get(view);
    if (!layer && !shown.length) return;
    if (!layer) {
      const el = document.createElement('div');
      el.className = 'page-links';
      view.ground.append(el);
      this.by.set(view, (layer = { el, of: '' }));
    }
    const of = JSON.stringify([scale, shown.map(({ ref, box, text, broken }) => [ref.id, box, text, broken])]);
    if (layer.of === of) return;
    layer.of = of;
    layer.el.replaceChildren(
      ...shown.map(({ ref, box, text, broken }) => {
        const el = document.createElement('div');
        el.className = 'page-link';
        el.dataset.broken = String(broken !== null);
        Object.assign(el.style, { left: `${box[0] * scale}px`, top: `${box[1] * scale}px`, width: `${Math.max(8, (box[2] - box[0]) * scale)}px`, height: `${(box[3] - box[1]) * scale + 4}px` });
        const button = document.createElement('button');
        button.type = 'button';
        button.dataset.hold = 'true';
        button.setAttribute('aria-label', broken ? `Broken link: ${broken}` : `Link to ${text}`);
        const sign = document.createElementNS(NS, 'svg');
        sign.setAttribute('viewBox', '0 0 12 12');
        const path = document.createElementNS(NS, 'path');
        path.setAttribute('d', broken ? 'M3 3l6 6M9 3l-6 6' : 'M3 9l6-6M4 3h5v5');
        sign.append(path);
        button.append(sign);
        for (const type of ['pointerdown', 'pointerup', 'keydown'] as const) button.addEventListener(type, (e) => e.stopPropagation());
        button.addEventListener('click', () => this.follow(ref));
        el.append(button);
        return el;
      }),
    );
  }
}
