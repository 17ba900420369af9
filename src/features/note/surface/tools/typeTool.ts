/** Typing: a touch sets the caret, in a typed line, on the ruling or in a cell; drawn over cells it holds them, and anywhere else it draws the box that a text is to stand in. */
import { touchMm, type At, type Tool, type ToolHost } from './tool';
import type { PageView } from '../pageView';

export class TypeTool implements Tool {
  private view: PageView | null = null;
  private from: At | null = null;
  private to: At | null = null;
  private readonly el = document.createElement('div');

  constructor(private readonly host: ToolHost) {
    this.el.className = 'type-box';
  }

  begin(view: PageView, at: At): void {
    [this.view, this.from, this.to] = [view, at, at];
  }

  move(points: readonly At[]): void {
    this.to = points[points.length - 1];
    const { view, from, to, el } = this;
    if (!view || !from) return;
    const k = this.host.scale;
    if (!el.isConnected) view.ground.append(el);
    Object.assign(el.style, { left: `${Math.min(from.x, to.x) * k}px`, top: `${Math.min(from.y, to.y) * k}px`, width: `${Math.abs(to.x - from.x) * k}px`, height: `${Math.abs(to.y - from.y) * k}px` });
  }

  end(): void {
    const { view, from, to } = this;
    this.cancel();
    if (!view || !from || !to) return;
    if (Math.hypot(to.x - from.x, to.y - from.y) <= 2 * touchMm(this.host.scale)) this.host.typeAt(view, from.x, from.y);
    else this.host.typeWithin(view, from, to);
  }

  cancel(): void {
    this.el.remove();
    this.view = this.from = this.to = null;
  }
}
