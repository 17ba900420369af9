/** Paints strokes onto a canvas: areas of colour and highlighter first, then lines, each pen in its own manner. */
import { sampleStroke, tracePen, type PathSink } from '../../../core/ink/outline';
import { isOpen, headsOf } from '../../../core/ink/shapes/shape';
import { paintOrder, pointsOf, type Stroke } from '../../../core/ink/stroke';

/** Pixels of grain to the mm: about the tooth of drawing paper. */
const GRAIN_PER_MM = 9;
const GRAIN_PX = 256;

let grainOf: { color: string; pattern: CanvasPattern }[] = [];

/** A sheet of grain in one colour: the same on every screen and at every zoom, since it lies on the page. */
function grain(ctx: CanvasRenderingContext2D, color: string): CanvasPattern {
  const known = grainOf.find((g) => g.color === color);
  if (known) return known.pattern;
  const sheet = document.createElement('canvas');
  sheet.width = sheet.height = GRAIN_PX;
  const c = sheet.getContext('2d')!;
  c.fillStyle = color;
  c.fillRect(0, 0, GRAIN_PX, GRAIN_PX);
  const image = c.getImageData(0, 0, GRAIN_PX, GRAIN_PX);
  let seed = 12345;
  const random = () => (seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0) / 2 ** 32;
  for (let i = 3; i < image.data.length; i += 4) image.data[i] = 95 + 160 * Math.min(1, 0.35 + random());
  c.putImageData(image, 0, 0);
  const pattern = ctx.createPattern(sheet, 'repeat')!;
  pattern.setTransform(new DOMMatrix().scale(1 / GRAIN_PER_MM));
  grainOf = [...grainOf.slice(-7), { color, pattern }];
  return pattern;
}

/** What fills the line of a pen, in mm. */
export const inkOf = (ctx: CanvasRenderingContext2D, pen: Stroke['pen']): string | CanvasPattern => (pen.kind === 'pencil' ? grain(ctx, pen.color) : pen.color);

/** How far ink reaches beyond the box of its points, mm. */
export const reachOf = ({ pen, shape }: Stroke): number => pen.width + (shape?.heads ? 2.6 + 5 * pen.width : 0);

/** Puts the outline of a stroke, its heads included, into a path. */
export function traceStroke(stroke: Stroke, sink: PathSink): void {
  const { pen, shape } = stroke;
  tracePen(pen, sampleStroke(pointsOf(stroke), pen), sink);
  if (!shape || !isOpen(shape)) return;
  const solid = { ...pen, line: undefined };
  for (const [a, tip, b] of headsOf(shape, pen.width)) {
    const r = pen.width / 2;
    tracePen(solid, Float32Array.from([...a, r, ...tip, r, ...b, r]), sink);
  }
}

export class InkPainter {
  private paths = new Map<string, { stroke: Stroke; line: Path2D; area: Path2D | null }>();

  /** `ctx` counts in mm. `alpha`: how much of its ink a stroke shows, 0..1. */
  paint(ctx: CanvasRenderingContext2D, strokes: Stroke[], alpha: (stroke: Stroke) => number = () => 1): void {
    strokes.sort(paintOrder);
    // Highlighter of one colour is one area, so that it does not darken where it crosses.
    const light = new Map<string, { color: string; alpha: number; path: Path2D }>();
    let i = 0;
    for (; i < strokes.length && strokes[i].pen.kind === 'highlighter'; i++) {
      const { pen } = strokes[i];
      const a = alpha(strokes[i]) * (pen.opacity ?? 1);
      const key = `${pen.color} ${a}`;
      let entry = light.get(key);
      if (!entry) light.set(key, (entry = { color: pen.color, alpha: a, path: new Path2D() }));
      entry.path.addPath(this.pathsOf(strokes[i]).line);
    }
    for (const { color, alpha: a, path } of light.values()) {
      ctx.globalAlpha = a;
      ctx.fillStyle = color;
      ctx.fill(path, 'nonzero');
    }
    for (; i < strokes.length; i++) this.one(ctx, strokes[i], alpha(strokes[i]));
    ctx.globalAlpha = 1;
  }

  /** A stroke that lies on top of all others. */
  one(ctx: CanvasRenderingContext2D, stroke: Stroke, alpha = 1): void {
    const { line, area } = this.pathsOf(stroke);
    const { pen } = stroke;
    if (area) {
      ctx.globalAlpha = alpha;
      ctx.fillStyle = stroke.fill!;
      ctx.fill(area, 'evenodd');
    }
    ctx.globalAlpha = alpha * (pen.opacity ?? 1);
    ctx.fillStyle = inkOf(ctx, pen);
    ctx.fill(line, 'nonzero');
  }

  private pathsOf(stroke: Stroke): { line: Path2D; area: Path2D | null } {
    let entry = this.paths.get(stroke.id);
    if (entry?.stroke !== stroke) {
      const line = new Path2D();
      traceStroke(stroke, line);
      this.paths.set(stroke.id, (entry = { stroke, line, area: stroke.fill ? areaOf(stroke) : null }));
    }
    return entry;
  }

  clear(): void {
    this.paths.clear();
  }
}

function areaOf(stroke: Stroke): Path2D {
  const { n, xy } = pointsOf(stroke);
  const path = new Path2D();
  for (let i = 0; i < n; i++) path.lineTo(xy[2 * i] / 100, xy[2 * i + 1] / 100);
  path.closePath();
  return path;
}
