/** Shapes: what is drawn becomes clean as the pen lifts; a touch on a shape takes hold of it. */
import { strokesOf } from '../../../../core/note/kinds/kinds';
import type { PageView } from '../pageView';
import { PenTool } from './penTool';
import { touchMm, type At, type Tool, type ToolHost } from './tool';

/** Nearer than this to a shape's line, or inside it, a touch means the shape, mm. */
const REACH_MM = 3;

export class ShapesTool implements Tool {
  private readonly pen: PenTool;
  private view: PageView | null = null;
  private down: At | null = null;
  private moved = 0;

  constructor(private readonly host: ToolHost) {
    this.pen = new PenTool(host, true);
  }

  begin(view: PageView, at: At): void {
    this.view = view;
    this.down = at;
    this.moved = 0;
    this.pen.begin(view, at);
  }

  move(points: readonly At[], foretold: readonly At[]): void {
    for (const p of points) this.moved = Math.max(this.moved, Math.hypot(p.x - this.down!.x, p.y - this.down!.y));
    this.pen.move(points, foretold);
  }

  end(): void {
    const { view, down, host } = this;
    if (!view || !down) return;
    if (this.moved > touchMm(host.scale)) {
      host.events.select(null, []);
      return this.pen.end();
    }
    this.pen.cancel();
    const shapes = strokesOf(view.placed).filter((s) => s.shape);
    const onLine = strokesOf(view.index.at(down.x, down.y, Math.max(REACH_MM, 12 / host.scale))).find((s) => s.shape);
    const inside = shapes.filter(({ box }) => down.x >= box[0] && down.x <= box[2] && down.y >= box[1] && down.y <= box[3]).sort((a, b) => (a.box[2] - a.box[0]) * (a.box[3] - a.box[1]) - (b.box[2] - b.box[0]) * (b.box[3] - b.box[1]))[0];
    const solid = view.placed.findLast((it) => it.kind === 'solid' && down.x >= it.box[0] && down.x <= it.box[2] && down.y >= it.box[1] && down.y <= it.box[3]);
    const hit = onLine ?? solid ?? inside;
    host.events.select(hit ? view.page.id : null, hit ? [hit.id] : []);
  }

  cancel(): void {
    this.pen.cancel();
    this.view = null;
  }
}
