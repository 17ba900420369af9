/** What is done with every frame: flinging on, bringing pages into reach and drawing what they lack, within what a frame has. */
import type { Box } from '../../../core/ink/stroke';
import { extentOf } from '../../../core/note/board';
import type { Layout } from './layout';
import type { PageView } from './pageView';
import { isSpent, type Budget, type Look } from './tiles';

/** Drawing may take this much of a frame; the rest waits for the next one, ms. */
const FRAME_MS = 5;
const FRAME_STROKES = 250;
/** After a jump the page is shown as it stood then, at once where that is possible. */
const JUMP_MS = 60;
const JUMP_STROKES = 4000;

export interface FrameHost {
  look(): Omit<Look, 'unheard'>;
  /** Shows the pages scaled where they are being zoomed; then nothing is drawn. */
  scaled(): boolean;
  /** Draws what lies beside the pages. True when nothing is left to draw. */
  before(look: Omit<Look, 'unheard'>, budget: Budget): boolean;
  /** A page came into reach, and has to be put where it belongs. */
  came(view: PageView): void;
  after(done: boolean): void;
}

export class Frames {
  private frame = 0;
  /** The next drawing may take longer than a frame has. */
  private hurry = false;
  private fling = { vx: 0, vy: 0, at: 0 };

  constructor(
    private readonly layout: Layout,
    private readonly scroller: HTMLElement,
    private readonly host: FrameHost,
  ) {}

  request(): void {
    if (!this.frame) this.frame = requestAnimationFrame(this.paint);
  }

  /** Draws now what waits for the next frame, and takes the time it needs: after a jump. */
  jump(): void {
    if (!this.frame) return;
    cancelAnimationFrame(this.frame);
    this.hurry = true;
    this.paint();
  }

  end(): void {
    cancelAnimationFrame(this.frame);
  }

  /** The page goes on by itself, px per ms; 0, 0 stops it. */
  flingOn(vx: number, vy: number): void {
    this.fling = { vx, vy, at: performance.now() };
    if (vx || vy) this.request();
  }

  private runFling(): void {
    const { vx, vy, at } = this.fling;
    if (Math.hypot(vx, vy) < 0.02) return;
    const now = performance.now();
    const dt = Math.min(40, now - at);
    this.layout.goFurther(-vx * dt, -vy * dt);
    this.scroller.scrollBy(-vx * dt, -vy * dt);
    const slow = Math.exp(-dt / 325);
    this.fling = { vx: vx * slow, vy: vy * slow, at: now };
    this.request();
  }

  private paint = (): void => {
    this.frame = 0;
    const { layout, host } = this;
    if (host.scaled()) return;
    this.runFling();
    const { scrollTop, scrollLeft } = this.scroller;
    const look = host.look();
    const [ms, strokes] = this.hurry ? [JUMP_MS, JUMP_STROKES] : [FRAME_MS, FRAME_STROKES];
    this.hurry = false;
    const budget: Budget = { until: performance.now() + ms, strokes };
    let drawn = 0;
    let done = host.before(look, budget);
    for (const view of layout.pages) {
      const [, t, , b] = extentOf(view.page);
      const at = view.y - scrollTop;
      const [top, bottom] = [at + t * layout.scale, at + b * layout.scale];
      const inReach = bottom > -layout.height && top < 2 * layout.height;
      if (!inReach) {
        if (view.near) {
          view.tiles.release();
          view.moving.release();
          view.el.hidden = true;
        }
        view.near = false;
        continue;
      }
      if (!view.near) {
        host.came(view);
        view.el.hidden = false;
      }
      view.near = true;
      view.moving.show(view.placed, view.page, layout.scale, true);
      if (bottom < 0 || top > layout.height) continue;
      const box: Box = [(scrollLeft - view.x) / layout.scale, -at / layout.scale, (scrollLeft + layout.width - view.x) / layout.scale, (layout.height - at) / layout.scale];
      // One tile at least with every frame, however slow the machine; after that until the time is up.
      if (drawn > 0 && isSpent(budget)) done = false;
      else if (!view.tiles.draw(box, view.index, { ...look, unheard: view.unheard }, budget)) done = false;
      drawn++;
    }
    host.after(done);
  };
}
