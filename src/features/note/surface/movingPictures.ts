/** Pictures that move lie below the tiles of their page, so that what is written over them stays in sight; the tiles leave their place free. */
import type { Placed } from '../../../core/note/kinds/kinds';
import type { Picture } from '../../../core/note/kinds/picture';
import type { Page } from '../../../core/note/schema';
import { pictureUrl } from '../../../platform/shownUrl';

const calm = typeof matchMedia === 'undefined' ? null : matchMedia('(prefers-reduced-motion: reduce)');

/** It moves on the screen: unless the writer holds it still, or wants nothing to move. What lies behind the page would cover it. */
export const movesHere = (it: Placed, page: Pick<Page, 'backdrop'>): it is Picture & { moves: string } => it.kind === 'picture' && it.moves !== undefined && it.held !== true && !page.backdrop && calm?.matches !== true;

export class MovingPictures {
  readonly el = document.createElement('div');
  private of: readonly [readonly Placed[], number, boolean] | null = null;
  private shown = '';
  private urls = new Map<string, string>();

  constructor(private readonly content: (hash: string) => Promise<Uint8Array | null>) {
    this.el.className = 'page-moving';
  }

  /** `scale`: px per mm. Only what is near the view is there at all. */
  show(placed: readonly Placed[], page: Page, scale: number, near: boolean): void {
    // Called with every frame.
    if (this.of?.[0] === placed && this.of[1] === scale && this.of[2] === near) return;
    if (!near) this.release();
    this.of = [placed, scale, near];
    const list = near ? placed.filter((it) => movesHere(it, page)) : [];
    const now = list.length ? `${scale} ${list.map((it) => `${it.id} ${it.m.join()} ${it.crop?.join() ?? ''}`).join(';')}` : '';
    if (now === this.shown) return;
    this.shown = now;
    this.el.replaceChildren(...list.map((it) => this.element(it, scale)));
  }

  release(): void {
    for (const url of this.urls.values()) URL.revokeObjectURL(url);
    this.urls.clear();
    this.of = null;
    this.shown = '';
    this.el.replaceChildren();
  }

  private element(it: Picture & { moves: string }, k: number): HTMLImageElement {
    const img = document.createElement('img');
    const [w, h] = it.px;
    const [a, b, c, d, e, f] = it.m;
    img.alt = '';
    img.draggable = false;
    Object.assign(img.style, { width: `${w}px`, height: `${h}px`, transform: `matrix(${(a * k) / w}, ${(b * k) / w}, ${(c * k) / h}, ${(d * k) / h}, ${e * k}, ${f * k})` });
    const crop = it.crop;
    if (crop) img.style.clipPath = `polygon(${Array.from({ length: crop.length / 2 }, (_, i) => `${100 * crop[2 * i]}% ${100 * crop[2 * i + 1]}%`).join(', ')})`;
    const known = this.urls.get(it.moves);
    if (known) img.src = known;
    else
      void this.content(it.moves).then(
        (bytes) => {
          if (!bytes || !img.isConnected) return;
          const url = this.urls.get(it.moves) ?? pictureUrl(bytes);
          this.urls.set(it.moves, url);
          img.src = url;
        },
        // Its still picture is told of where it cannot be shown.
        () => undefined,
      );
    return img;
  }
}
