/** Over the pages of a PDF: its links, and its text to be selected and copied. Both lie where they are printed, and go with their pages. */
import type { Box } from '../../../core/ink/stroke';
import type { Page } from '../../../core/note/schema';
import type { LeafLink, LeafText } from '../../../platform/pdf/pdfWork';
import type { PageView } from './pageView';
import './printed.css';

export interface PrintedHost {
  text(page: Page): Promise<readonly LeafText[]>;
  links(page: Page): Promise<readonly LeafLink[]>;
  follow(page: Page, link: LeafLink): void;
}

interface Shown {
  readonly view: PageView;
  readonly el: HTMLElement;
  links: readonly LeafLink[] | null;
  linksAsked: boolean;
  text: readonly LeafText[] | null;
  /** What it was laid out for. */
  of: string;
}

export interface Found {
  readonly page: string;
  readonly boxes: readonly Box[];
}

const measuring = typeof document === 'undefined' ? null : document.createElement('canvas').getContext('2d');
const FONT = 'sans-serif';
const naturalWidth = (text: string, px: number): number => {
  if (!measuring) return 1;
  measuring.font = `${px}px ${FONT}`;
  return measuring.measureText(text).width || 1;
};

const wordsOf = ({ leaf, url }: LeafLink): string => (leaf === undefined ? `Open ${url} on the web` : `Go to page ${leaf + 1} of the PDF`);

export class PrintedLayer {
  private shown = new Map<string, Shown>();
  private selecting = false;
  private listening = false;
  private found: Found | null = null;

  constructor(
    private readonly parent: HTMLElement,
    private readonly host: PrintedHost,
  ) {}

  /** `scale`: px per mm. `selecting`: text is taken hold of. `drawn`: all that is in sight is there, so that looking for links keeps nothing waiting. */
  show(views: readonly PageView[], scale: number, selecting: boolean, listening: boolean, drawn: boolean): void {
    [this.selecting, this.listening] = [selecting, listening];
    const wanted = new Map(views.flatMap((v) => (v.near && !v.el.hidden && (v.page.backdrop?.leaf !== undefined || v.page.id === this.found?.page) ? [[v.page.id, v] as const] : [])));
    for (const [id, it] of this.shown) {
      if (wanted.get(id) === it.view) continue;
      it.el.remove();
      this.shown.delete(id);
    }
    for (const [id, view] of wanted) {
      let it = this.shown.get(id);
      if (!it) {
        const el = document.createElement('div');
        el.className = 'printed';
        el.dataset.leafOf = id;
        this.parent.append(el);
        this.shown.set(id, (it = { view, el, links: null, linksAsked: false, text: null, of: '' }));
      }
      const printed = view.page.backdrop?.leaf !== undefined;
      if (printed && drawn && !it.linksAsked) this.fetchLinks(it);
      if (printed && selecting && !it.text) this.fetchText(it);
      this.lay(it, scale);
    }
  }

  /** Places of a page (mm) that were looked for. */
  mark(found: Found | null): void {
    this.found = found;
    for (const it of this.shown.values()) it.of = '';
  }

  private fetchLinks(it: Shown): void {
    it.linksAsked = true;
    // Without its links a page can still be written on; that it cannot be shown is told by its picture.
    this.host.links(it.view.page).then((links) => {
      it.links = links;
      it.of = '';
      this.lay(it, this.scale);
    }, () => undefined);
  }

  private fetchText(it: Shown): void {
    it.text = [];
    this.host.text(it.view.page).then((text) => {
      it.text = text;
      it.of = '';
      this.lay(it, this.scale);
    }, () => undefined);
  }

  private scale = 1;

  private lay(it: Shown, scale: number): void {
    this.scale = scale;
    const { view, el, links, text } = it;
    const of = `${scale} ${this.selecting} ${this.listening}`;
    Object.assign(el.style, { left: `${view.x}px`, top: `${view.y}px`, width: `${view.page.w * scale}px`, height: `${view.page.h * scale}px` });
    if (it.of === of) return;
    it.of = of;
    const marks = this.found?.page === view.page.id ? this.found.boxes.map((box) => put(document.createElement('div'), 'printed-found', box, scale)) : [];
    el.replaceChildren(...marks, ...(this.selecting && text?.length ? [this.textOf(text, scale)] : []), ...(links ?? []).map((l) => this.linkOf(view.page, l, scale)));
  }

  private linkOf(page: Page, link: LeafLink, scale: number): HTMLElement {
    const el = put(document.createElement('button'), 'printed-link', link.box, scale);
    el.type = 'button';
    el.setAttribute('aria-label', wordsOf(link));
    // While one writes a link must not take the pen.
    const takes = this.listening || this.selecting;
    el.disabled = !takes;
    el.addEventListener('click', () => this.host.follow(page, link));
    return el;
  }

  private textOf(text: readonly LeafText[], scale: number): HTMLElement {
    const all = document.createElement('div');
    all.className = 'printed-text';
    all.dataset.hold = 'true';
    for (const { text: words, box, turn, ends } of text) {
      const span = document.createElement('span');
      span.textContent = words;
      const [w, h] = [(box[2] - box[0]) * scale, (box[3] - box[1]) * scale];
      const [along, high] = Math.abs(turn % 180) === 90 ? [h, w] : [w, h];
      const [cx, cy] = [((box[0] + box[2]) / 2) * scale, ((box[1] + box[3]) / 2) * scale];
      const stretch = along / naturalWidth(words, high);
      Object.assign(span.style, { left: `${cx}px`, top: `${cy}px`, fontSize: `${high}px`, transform: `translate(-50%, -50%) rotate(${turn}deg) scaleX(${stretch})` });
      all.append(span);
      if (ends) all.append(document.createElement('br'));
    }
    return all;
  }

  destroy(): void {
    for (const { el } of this.shown.values()) el.remove();
    this.shown.clear();
  }
}

function put<T extends HTMLElement>(el: T, className: string, [l, t, r, b]: Box, k: number): T {
  el.className = className;
  Object.assign(el.style, { left: `${l * k}px`, top: `${t * k}px`, width: `${(r - l) * k}px`, height: `${(b - t) * k}px` });
  return el;
}
