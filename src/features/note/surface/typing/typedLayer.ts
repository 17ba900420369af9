/** Typed lines as text over the page, unseen: the browser finds words in them. */
import { boxOfLine, linesOf, type Typed } from '../../../../core/note/kinds/typed';
import type { PageView } from '../pageView';

interface Shown {
  readonly el: HTMLElement;
  typed: readonly Typed[];
  scale: number;
}

export class TypedLayer {
  private readonly by = new WeakMap<PageView, Shown>();

  /** `scale`: px per mm. */
  show(view: PageView, scale: number): void {
    const typed = view.placed.filter((it): it is Typed => it.kind === 'typed').sort((a, b) => a.box[1] - b.box[1] || a.box[0] - b.box[0]);
    let shown = this.by.get(view);
    if (!shown && !typed.length) return;
    if (!shown) {
      const el = document.createElement('div');
      el.className = 'typed-lines';
      view.ground.append(el);
      this.by.set(view, (shown = { el, typed: [], scale: 0 }));
    }
    if (shown.scale === scale && shown.typed.length === typed.length && shown.typed.every((it, i) => it === typed[i])) return;
    [shown.typed, shown.scale] = [typed, scale];
    shown.el.replaceChildren(
      ...typed.flatMap((it) =>
        linesOf(it).map(({ from, to }, i) => {
          const [l, t, r, b] = boxOfLine(it, i);
          const el = document.createElement('div');
          el.className = 'typed-line';
          el.dataset.testid = 'typed-line';
          el.textContent = it.text.slice(from, to);
          Object.assign(el.style, { left: `${l * scale}px`, top: `${t * scale}px`, width: `${(r - l) * scale}px`, height: `${(b - t) * scale}px` });
          return el;
        }),
      ),
    );
  }
}
