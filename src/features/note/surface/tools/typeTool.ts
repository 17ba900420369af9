/** Typing: a touch sets the caret, in a typed line, on the ruling or in a cell; drawn over cells it holds them. */
import { touchMm, type At, type Tool, type ToolHost } from './tool';
import type { PageView } from '../pageView';

export class TypeTool implements Tool {
  private view: PageView | null = null;
  private from: At | null = null;
  private to: At | null = null;

  constructor(private readonly host: ToolHost) {}

  begin(view: PageView, at: At): void {
    [this.view, this.from, this.to] = [view, at, at];
  }

  move(points: readonly At[]): void {
    this.to = points[points.length - 1];
  }

  end(): void {
    const { view, from, to } = this;
    this.cancel();
    if (!view || !from || !to) return;
    if (Math.hypot(to.x - from.x, to.y - from.y) <= 2 * touchMm(this.host.scale)) this.host.typeAt(view, from.x, from.y);
    else this.host.cellsAt(view, from.x, from.y, to);
  }

  cancel(): void {
    this.view = this.from = this.to = null;
  }
}
