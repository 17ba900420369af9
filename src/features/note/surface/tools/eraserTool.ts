/** Rubbing out, by whole strokes or by area. The page shows the result while the eraser moves; the note changes when it lifts. */
import { newId } from '../../../../core/id';
import { rubBox } from '../../../../core/ink/erase';
import { growBox } from '../../../../core/ink/stroke';
import { coveredBy, isStroke, keepDraft, layerOf, rubbed, type Placed } from '../../../../core/note/kinds/kinds';
import type { Stroke } from '../../../../core/ink/stroke';
import type { PageView } from '../pageView';
import type { At, Tool, ToolHost } from './tool';

/** The eraser that takes whole strokes touches them with this much, mm. */
const STROKE_MM = 1.5;

const isDrawnWhole = ({ shape, fill, pen }: Stroke): boolean => shape !== undefined || fill !== undefined || pen.line !== undefined || pen.kind === 'fountain' || pen.kind === 'brush';
/** Beyond the eraser, mm. */
const marginOf = ({ pen }: Stroke): number => 3 + 2 * pen.width;

export class EraserTool implements Tool {
  private view: PageView | null = null;
  private at: At | null = null;
  /** Things of the note that were touched, and what is left of all of them. */
  private touched = new Map<string, Placed>();
  private left = new Map<string, Placed>();
  private readonly ring = document.createElement('div');

  constructor(private readonly host: ToolHost) {
    this.ring.className = 'eraser-ring';
  }

  begin(view: PageView, at: At): void {
    this.view = view;
    this.at = at;
    this.touched = new Map();
    this.left = new Map();
    if (this.host.state.eraser.by === 'area') view.ground.append(this.ring);
    this.rub(at);
  }

  move(points: readonly At[]): void {
    for (const p of points) this.rub(p);
  }

  private rub(to: At): void {
    const { host, view, at } = this;
    if (!view || !at) return;
    const { by, size, onlyHighlighter } = host.state.eraser;
    const radius = by === 'area' ? size / 2 : STROKE_MM;
    const rub = { x0: at.x, y0: at.y, x1: to.x, y1: to.y, radius };
    this.at = to;
    if (by === 'area') {
      const k = host.scale;
      Object.assign(this.ring.style, { left: `${(to.x - radius) * k}px`, top: `${(to.y - radius) * k}px`, width: `${2 * radius * k}px`, height: `${2 * radius * k}px` });
    }
    for (const s of view.index.along(rub.x0, rub.y0, rub.x1, rub.y1, radius)) {
      if (onlyHighlighter && layerOf(s) !== 'under') continue;
      const parts = by === 'area' ? rubbed(s, rub, newId) : [];
      if (!parts) continue;
      if (!this.left.delete(s.id)) this.touched.set(s.id, s);
      for (const p of parts) this.left.set(p.id, p);
      // A whole stroke goes, of an area only what lies under the eraser; a shape or a filled loop is drawn anew in full.
      const whole = by === 'stroke' || !isStroke(s) || isDrawnWhole(s);
      host.standIn(view, s.id, parts, whole ? coveredBy(s) : growBox(rubBox(rub), marginOf(s)));
    }
  }

  end(): void {
    const { host, view } = this;
    this.ring.remove();
    this.view = null;
    if (!view || !this.touched.size) return;
    host.events.change({ cut: [...this.touched.values()].map(({ id, page }) => ({ id, page })), put: [...this.left.values()].map(keepDraft) });
    host.events.erased();
  }

  cancel(): void {
    this.ring.remove();
    if (this.view) this.host.settle(this.view);
    this.view = null;
  }
}
