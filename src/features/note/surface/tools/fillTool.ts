/** Fills the closed area that is touched. */
import type { PageView } from '../pageView';
import type { At, Tool, ToolHost } from './tool';

export class FillTool implements Tool {
  private down: { view: PageView; at: At } | null = null;

  constructor(private readonly host: ToolHost) {}

  begin(view: PageView, at: At): void {
    this.down = { view, at };
  }

  move(): void {
    // A touch that slips is still a touch.
  }

  end(): void {
    if (this.down) this.host.events.fill(this.down.view.page.id, this.down.at.x, this.down.at.y, this.down.at.time);
    this.down = null;
  }

  cancel(): void {
    this.down = null;
  }
}
