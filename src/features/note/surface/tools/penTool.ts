/** Writing: the line follows the pen; held still at its end it becomes a clean shape; along the ruler and the highlighter's line it keeps straight. */
import { newId } from '../../../../core/id';
import { penOf, respond, Steadier, type PenSetting } from '../../../../core/ink/pen';
import type { Points } from '../../../../core/ink/points';
import { scratched } from '../../../../core/ink/scratch';
import { alongEdge, edgeAt, onRuler, type Ruler } from '../../../../core/ink/ruler';
import { cleanShape } from '../../../../core/ink/shapes/recognise';
import { isOpen, isStraight, mapShape, pointsAlong, sizeText, snapShape, type Shape, type Vec } from '../../../../core/ink/shapes/shape';
import { makeStroke, type Stroke } from '../../../../core/ink/stroke';
import { attach } from '../../../../core/note/anchors';
import { placed } from '../../../../core/ink/transform';
import { HELD, solidOver, type Solid, type SolidName } from '../../../../core/note/kinds/solid';
import { slipAt, strokesOf } from '../../../../core/note/kinds/kinds';
import { addPages } from '../../../../core/note/pages';
import { newPage } from '../../../../core/note/schema';
import type { Stamp } from '../../../../core/time/timeline';
import { lookOf } from '../../../../platform/drawing/pageLook';
import { SOLID_WORDS } from '../../../../core/note/kinds/names';
import type { PageView } from '../pageView';
import { touchMm, type At, type Tool, type ToolHost } from './tool';

/** Writing this close to the end of the last page brings the next one, mm. */
const NEAR_END_MM = 50;
/** How long the pen has to keep still for a shape, ms, and how still, px. */
const HOLD_MS = 480;
/** Held on so much longer a shape becomes a solid, and the next one after as long again, ms. */
const SOLID_MS = 900;
const STILL_PX = 5;
/** Shorter lines are letters. */
const SHAPE_MM = 6;

export class PenTool implements Tool {
  private view: PageView | null = null;
  private pen: PenSetting | null = null;
  private steadier = new Steadier(0);
  private downAt = 0;
  /** What was being heard at pen-down, in a second pass, here or on the other side of the screen: the sound moves on, and may jump, while the pen is down. */
  private heard: Stamp | null = null;
  private ruler: Ruler | null = null;
  private edge: -1 | 1 | null = null;
  private last: At | null = null;
  private hold: ReturnType<typeof setTimeout> | null = null;
  private still: At | null = null;
  private length = 0;
  /** The shape before the pen pulled at it. */
  private startShape: Shape | null = null;
  /** The shape that the line has become, the points it was drawn with, and where the pen was then. */
  private shaped: { shape: Shape; drawn: Points; from: Vec; solid?: SolidName } | null = null;

  /** `shapes`: what is drawn becomes its shape when the pen lifts, held still or not. */
  constructor(
    private readonly host: ToolHost,
    private readonly shapes = false,
  ) {}

  begin(view: PageView, at: At): void {
    const { host } = this;
    const { pen } = host.state;
    const corner = host.cornerOf(view);
    this.view = view;
    this.pen = pen;
    this.downAt = at.time;
    this.heard = host.state.mode === 'listen' ? host.events.stampAt(at.time) : host.events.heardBeside(at.time);
    this.steadier = new Steadier(pen.steadiness);
    this.ruler = host.rulerOn(view);
    this.edge = this.ruler ? edgeAt(this.ruler, at.x, at.y) : null;
    this.shaped = null;
    this.length = 0;
    this.last = null;
    host.wet.begin(penOf(pen), lookOf(view.page), corner.x, corner.y, host.scale, at.time);
    this.add(at);
    host.wet.show([]);
    this.watch(at);
  }

  private led(x: number, y: number): readonly [number, number] {
    const { ruler } = this;
    return ruler && this.edge ? alongEdge(ruler, this.edge, x, y, this.pen!.width) : [x, y];
  }

  private add(at: At): void {
    const smooth = this.steadier.next(at.x, at.y, at.time);
    const [x, y] = this.led(smooth.x, smooth.y);
    if (this.last) this.length += Math.hypot(at.x - this.last.x, at.y - this.last.y);
    this.last = at;
    this.host.wet.add(x, y, respond(at.pressure, this.pen!.response), at.time);
  }

  move(points: readonly At[], foretold: readonly At[]): void {
    const { host, view } = this;
    if (!view) return;
    const now = points[points.length - 1];
    if (this.shaped) return this.adjust(now);
    for (const p of points) this.add(p);
    if (this.straight) this.showStraight();
    else {
      host.wet.show(
        foretold.map((p) => {
          const [x, y] = this.led(p.x, p.y);
          return { x, y };
        }),
      );
    }
    if (this.edge && this.ruler) {
      const { xy } = host.wet.points.view();
      const from = onRuler(this.ruler, xy[0] / 100, xy[1] / 100).along;
      host.label(view, `${Math.abs(onRuler(this.ruler, now.x, now.y).along - from).toFixed(1)} mm`, now.x, now.y);
    }
    if (!this.still || Math.hypot(now.x - this.still.x, now.y - this.still.y) * host.scale > STILL_PX) this.watch(now);
  }

  /** The highlighter's line: level with the line of writing it was set down on, else from its first point to its last. */
  private get straight(): boolean {
    return this.pen?.kind === 'highlighter' && this.pen.straight && !this.edge;
  }

  private straightened(drawn: Points): Points {
    const [x0, y0] = [drawn.xy[0] / 100, drawn.xy[1] / 100];
    const [x1, y1] = [drawn.xy[2 * drawn.n - 2] / 100, drawn.xy[2 * drawn.n - 1] / 100];
    const line = this.view?.wordsFrom?.grouping.lines.find((l) => y0 >= l.box[1] - 1 && y0 <= l.box[3] + 1 && Math.max(x0, x1) > l.box[0] && Math.min(x0, x1) < l.box[2]);
    const level = Math.abs(y1 - y0) < 0.18 * Math.abs(x1 - x0);
    if (line && level) {
      // Over small letters with room for the tall ones, whatever descends.
      const y = (line.box[1] + line.box[3]) / 2;
      return placed(drawn, (x) => [x, y]);
    }
    const end = level ? y0 : y1;
    return placed(drawn, (x, y) => {
      const l2 = (x1 - x0) ** 2 + (end - y0) ** 2;
      const u = l2 ? ((x - x0) * (x1 - x0) + (y - y0) * (end - y0)) / l2 : 0;
      return [x0 + u * (x1 - x0), y0 + u * (end - y0)];
    });
  }

  private showStraight(): void {
    this.host.wet.showWhole(this.strokeOf(this.straightened(this.host.wet.written()), 'wet'));
  }

  // Shapes

  private watch(at: At): void {
    if (this.hold) clearTimeout(this.hold);
    this.hold = null;
    this.still = at;
    // With Shapes in hand it becomes one when the pen lifts: who rests on the way is not done with it.
    if (!this.host.state.holdShapes || this.shapes || this.pen?.kind === 'highlighter') return;
    // Where the page was busy, moves may wait for the next frame: only a pen that has not moved by then was held still.
    this.hold = setTimeout(() => requestAnimationFrame(() => this.still === at && this.heldStill()), HOLD_MS);
  }

  private heldStill(): void {
    this.hold = null;
    if (!this.becomesShape()) return;
    this.showShape();
    this.holdOn();
  }

  /** Held on, a closed shape becomes the solids it can stand for, one after the other, and then a shape again. */
  private holdOn(): void {
    const { still, shaped } = this;
    const solids = shaped ? (HELD[shaped.shape.name] ?? []) : [];
    if (!solids.length) return;
    this.hold = setTimeout(() => {
      if (this.shaped !== shaped || this.still !== still) return;
      const next = [undefined, ...solids];
      shaped!.solid = next[(next.indexOf(shaped!.solid) + 1) % next.length];
      this.showShape();
      this.holdOn();
    }, SOLID_MS);
  }

  private becomesShape(): boolean {
    const { host, view } = this;
    if (!view || this.shaped || this.length < SHAPE_MM) return false;
    const drawn = host.wet.written();
    const shape = cleanShape(drawn, host.state.snap);
    if (!shape) return false;
    this.shaped = { shape, drawn, from: [this.last!.x, this.last!.y] };
    return true;
  }

  private showShape(): void {
    const { shape, drawn, solid } = this.shaped!;
    this.host.wet.showWhole(solid ? this.solidOf(shape, solid, 'wet') : { ...this.strokeOf(pointsAlong(shape, drawn), 'wet'), shape });
    const [x, y] = shape.at[shape.at.length - 1];
    this.host.label(this.view!, solid ? `${SOLID_WORDS[solid]}, ${sizeText(shape)}` : sizeText(shape), x, y);
  }

  /** While the pen stays down, it pulls the shape: a line by its end, others around their middle. */
  private adjust(at: At): void {
    const s = this.shaped!;
    // Who pulls is done with choosing; a hand that is held up trembles.
    if (this.hold && Math.hypot(at.x - s.from[0], at.y - s.from[1]) * this.host.scale <= STILL_PX) return;
    if (this.hold) clearTimeout(this.hold);
    this.hold = null;
    const { shape } = s;
    const start = this.startShape ??= shape;
    if (isStraight(start)) {
      const to: Vec = [start.at[1][0] + at.x - s.from[0], start.at[1][1] + at.y - s.from[1]];
      const line = { ...start, at: [start.at[0], to] };
      s.shape = this.host.state.snap ? snapShape(line) : line;
    } else if (isOpen(start)) {
      const [dx, dy] = [at.x - s.from[0], at.y - s.from[1]];
      s.shape = { ...start, at: start.at.map(([x, y], i): Vec => (i > 1 ? [x + dx, y + dy] : [x, y])) };
    } else {
      const n = start.name === 'circle' || start.name === 'ellipse' ? 1 : start.at.length;
      const m: Vec = [start.at.slice(0, n).reduce((a, p) => a + p[0], 0) / n, start.at.slice(0, n).reduce((a, p) => a + p[1], 0) / n];
      const k = Math.max(0.1, Math.hypot(at.x - m[0], at.y - m[1]) / Math.max(1, Math.hypot(s.from[0] - m[0], s.from[1] - m[1])));
      s.shape = mapShape(start, (x, y) => [m[0] + k * (x - m[0]), m[1] + k * (y - m[1])]);
    }
    this.showShape();
  }

  private solidOf(shape: Shape, solid: SolidName, id: string): Solid {
    const pen = penOf(this.pen!);
    return solidOver(shape, solid, { id, page: this.view!.page.id, color: pen.color, width: pen.width, stamp: null, wall: Math.round(performance.timeOrigin + this.downAt) });
  }

  private strokeOf(points: Points, id: string): Stroke {
    return makeStroke(points, { id, page: this.view!.page.id, pen: penOf(this.pen!), stamp: null, wall: Math.round(performance.timeOrigin + this.downAt) });
  }

  end(): void {
    const { host, view } = this;
    if (!view || !host.wet.points.n) return this.cancel();
    const { events } = host;
    // A steadied line comes after the hand; where the hand lifted it has caught up.
    if (this.pen!.steadiness > 0 && this.last) {
      const [x, y] = this.led(this.last.x, this.last.y);
      host.wet.add(x, y, respond(this.last.pressure, this.pen!.response), this.last.time);
    }
    if (this.shapes && this.pen!.kind !== 'highlighter') this.becomesShape();
    let points = host.wet.written();
    const isSecond = host.state.mode === 'listen' || this.heard !== null;
    const stamp = isSecond ? this.heard : events.stampAt(this.downAt);
    let extras: Partial<Stroke> = {};
    if (this.shaped?.solid) {
      events.change({ put: [Object.freeze({ ...this.solidOf(this.shaped.shape, this.shaped.solid, newId()), stamp, ...(isSecond ? { second: true as const } : {}) })] });
      return this.cancel();
    }
    if (this.shaped) {
      const shape = attach(this.shaped.shape, strokesOf(view.placed));
      points = pointsAlong(shape, this.shaped.drawn);
      extras = { shape };
    } else if (this.straight) points = this.straightened(points);
    else if (host.state.scratchOut && !this.edge) {
      const groups = view.wordsFrom?.of === host.state.note.ink[view.page.id] ? view.wordsFrom.grouping.words.map((w) => w.strokes) : [];
      const gone = scratched(points, strokesOf(view.placed), groups);
      if (gone.length) {
        const ids = new Set(gone.map((s) => s.id));
        this.cancel();
        events.change({ cut: gone.map(({ id, page }) => ({ id, page })) });
        return events.scratched(groups.filter((w) => w.some((id) => ids.has(id))).length);
      }
    }
    const { note } = host.state;
    // A touch on the tab of a folded sticky note opens it.
    const tab = this.length < touchMm(host.scale) ? slipAt(view.placed, points.xy[0] / 100, points.xy[1] / 100) : null;
    if (tab?.folded) {
      this.cancel();
      return events.unfold(tab);
    }
    // What is written along with sound that came from a file was not written before.
    const along = note.header.takes.some((t) => t.id === stamp?.take && t.brought);
    const stroke: Stroke = { ...this.strokeOf(points, newId()), stamp, ...extras, ...(isSecond && !along ? { second: true } : {}) };
    const grows = !view.page.board && host.isLast(view) && stroke.box[3] > view.page.h - NEAR_END_MM;
    events.change({ put: [stroke], ...(grows ? addPages(note, note.header.pages.length, [newPage(newId(), view.page)]) : {}) });
    // The page has drawn it by now, in the same turn, so nothing flickers.
    this.cancel();
  }

  cancel(): void {
    if (this.hold) clearTimeout(this.hold);
    if (this.view && (this.shaped || this.edge)) this.host.label(this.view, null);
    this.hold = null;
    this.view = null;
    this.shaped = null;
    this.startShape = null;
    this.host.wet.clear();
  }
}
