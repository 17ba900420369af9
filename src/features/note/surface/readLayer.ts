/** What was read, over the ink itself: each word on its place, line against line. */
import { median } from '../../../core/ink/words/items';
import type { Said } from '../../../core/reading/said';
import type { PageView } from './pageView';
import './readLayer.css';

/** Letters are so wide, in their size (common practice, no source). */
const WIDE = 0.55;

export class ReadLayer {
  private shown = new Map<string, { view: PageView; el: HTMLElement; said: Said; scale: number }>();

  /** `said` by page; null: nothing is shown. */
  show(views: readonly PageView[], scale: number, said: Readonly<Record<string, Said>> | null): void {
    const wanted = new Map(said ? views.flatMap((v) => (v.near && !v.el.hidden && said[v.page.id]?.length ? [[v.page.id, v] as const] : [])) : []);
    for (const [id, it] of this.shown) {
      if (wanted.get(id) === it.view) continue;
      it.el.remove();
      this.shown.delete(id);
    }
    for (const [id, view] of wanted) {
      const had = this.shown.get(id);
      const words = said![id];
      if (had?.said === words && had.scale === scale) continue;
      const el = had?.el ?? document.createElement('div');
      el.className = 'read-over';
      // A screen reader has the text of the page already.
      el.ariaHidden = 'true';
      el.replaceChildren(...linesOf(words, scale));
      if (!had) view.ground.append(el);
      this.shown.set(id, { view, el, said: words, scale });
    }
  }

  destroy(): void {
    for (const { el } of this.shown.values()) el.remove();
    this.shown.clear();
  }
}

/** Words of a line have one size, and lines of a page nearly one: that of its usual letters. */
function linesOf(words: Said, scale: number): HTMLElement[] {
  const by = new Map<number, Said[number][]>();
  for (const w of words) by.set(w.line, [...(by.get(w.line) ?? []), w]);
  const lines = [...by.values()].map((line) => {
    const [top, bottom] = [Math.min(...line.map((w) => w.box[1])), Math.max(...line.map((w) => w.box[3]))];
    const fits = line.map((w) => (w.box[2] - w.box[0]) / (WIDE * [...w.text].length)).sort((a, b) => a - b);
    return { line, top, high: bottom - top, size: Math.min(0.8 * (bottom - top), fits[Math.floor(fits.length / 3)]) };
  });
  const usual = median(lines.map((l) => l.size));
  return lines.flatMap(({ line, top, high, size }) =>
    line.map((w) => {
      const el = document.createElement('span');
      el.textContent = w.text;
      const [width, height] = [(w.box[2] - w.box[0]) * scale, high * scale];
      Object.assign(el.style, { left: `${w.box[0] * scale}px`, top: `${top * scale}px`, minWidth: `${width}px`, height: `${height}px`, lineHeight: `${height}px`, fontSize: `${Math.max(1.8, Math.min(size, 1.1 * usual)) * scale}px` });
      return el;
    }),
  );
}
