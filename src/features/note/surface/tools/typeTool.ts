/** Typing: a touch sets the caret, in a typed line or on the ruling. */
import { touchMm, type At, type Tool, type ToolHost } from './tool';
import type { PageView } from '../pageView';

export class TypeTool implements Tool {
  private view: PageView | null = null;
  private from: At | null = null;

  constructor(private readonly host: ToolHost) {}

  begin(view: PageView, at: At): void {
    [this.view, this.from] = [view, at];
  }

  move(points: readonly At[]): void {
    const { from } = this;
    const now = points[points.length - 1];
    // A drag is no touch.
    if (from && Math.hypot(now.x - from.x, now.y - from.y) > 2 * touchMm(this.host.scale)) this.cancel();
  }

  end(): void {
    const { view, from } = this;
    this.cancel();
    if (view && from) this.host.typeAt(view, from.x, from.y);
  }

  cancel(): void {
    this.view = this.from = null;
  }
}
