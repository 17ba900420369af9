/** Making room: a line is set down, and what stands below it is pushed down or pulled up by whole ruled lines. */
import { writingLines } from '../../../../core/note/paper';
import type { PageView } from '../pageView';
import type { At, Tool, ToolHost } from './tool';

export class RoomTool implements Tool {
  private view: PageView | null = null;
  private y = 0;
  private lines = 0;
  private readonly band = document.createElement('div');

  constructor(private readonly host: ToolHost) {
    this.band.className = 'room-band';
  }

  begin(view: PageView, at: At): void {
    this.view = view;
    this.y = at.y;
    this.lines = 0;
    view.ground.append(this.band);
    this.show(at.x);
  }

  move(points: readonly At[]): void {
    const now = points[points.length - 1];
    this.lines = Math.round((now.y - this.y) / writingLines(this.view!.page.paper).spacing);
    this.show(now.x);
  }

  private show(x: number): void {
    const { host, view, lines } = this;
    if (!view) return;
    const dy = lines * writingLines(view.page.paper).spacing;
    const k = host.scale;
    const [top, bottom] = [Math.min(this.y, this.y + dy), Math.max(this.y, this.y + dy)];
    Object.assign(this.band.style, { top: `${top * k}px`, height: `${(bottom - top) * k}px` });
    this.band.dataset.way = lines < 0 ? 'up' : 'down';
    const n = Math.abs(lines);
    host.label(view, n === 0 ? 'Pull down to make room, up to close it' : `${n} ${n === 1 ? 'line' : 'lines'} ${lines > 0 ? 'of room' : 'up'}, ${Math.round(10 * Math.abs(dy)) / 10} mm`, x, this.y + dy);
  }

  end(): void {
    const { view, host, lines } = this;
    this.cancel();
    if (view && lines) host.events.room(view.page.id, this.y, lines * writingLines(view.page.paper).spacing);
  }

  cancel(): void {
    this.band.remove();
    if (this.view) this.host.label(this.view, null);
    this.view = null;
  }
}
