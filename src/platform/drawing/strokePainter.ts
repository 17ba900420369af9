/** Paints strokes onto a canvas, each pen in its own manner. */
import { sampleStroke, tracePen, type PathSink } from '../../core/ink/outline';
import { isOpen, headsOf, type Shape } from '../../core/ink/shapes/shape';
import { pointsOf, type Stroke } from '../../core/ink/stroke';
import { areaPath } from './areaPainter';
import type { Context, KindPainter } from './kindPainter';
import type { PageLook } from './pageLook';

/** Pixels of grain to the mm: about the tooth of drawing paper. */
const GRAIN_PER_MM = 9;
const GRAIN_PX = 256;

let grainOf: { color: string; pattern: CanvasPattern }[] = [];

/** A sheet of grain in one colour: the same on every screen and at every zoom, since it lies on the page. */
function grain(ctx: Context, color: string): CanvasPattern {
  const known = grainOf.find((g) => g.color === color);
  if (known) return known.pattern;
  const sheet = new OffscreenCanvas(GRAIN_PX, GRAIN_PX);
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
export const inkOf = (ctx: Context, pen: Stroke['pen'], look: PageLook): string | CanvasPattern => (pen.kind === 'pencil' ? grain(ctx, look.ink(pen.color)) : look.ink(pen.color));

/** Puts the outline of a stroke, its heads included, into a path. */
function traceStroke(stroke: Stroke, sink: PathSink): void {
  const { pen, shape } = stroke;
  tracePen(pen, sampleStroke(pointsOf(stroke), pen), sink);
  if (!shape || !isOpen(shape)) return;
  const solid = { ...pen, line: undefined };
  for (const [a, tip, b] of headsOf(shape, pen.width)) {
    const r = pen.width / 2;
    tracePen(solid, Float32Array.from([...a, r, ...tip, r, ...b, r]), sink);
  }
}

/** A line no wider than this on the screen shows no change of width: it is drawn as a plain line, five times as fast. px across. */
const THIN_PX = 2;
/** Seen from so far, device px per mm, a stroke of any pen is a plain line through its points, at least so wide (px) that it is seen. */
const [FAR_K, FAR_PX] = [0.8, 0.7] as const;

interface Paths {
  readonly pen: Stroke['pen'];
  readonly shape: Shape | undefined;
  /** The outline with its heads. */
  line?: Path2D;
  /** The middle of an even line, its width in mm, and up to how many px per mm it is fine enough. */
  thin?: { path: Path2D; width: number; upTo: number };
  area?: Path2D;
}

const isEven = ({ pen, shape }: Stroke): boolean => (pen.kind === 'ball' || pen.kind === 'felt') && !pen.line && !shape?.heads;

/** Remembers paths for as long as it is not cleared, by the points they run along: a stroke that comes back by undo is drawn at once. */
export class StrokePainter implements KindPainter<Stroke> {
  private paths = new Map<Uint8Array, Paths>();

  constructor(private readonly look: () => PageLook) {}

  /** Highlighter of one colour is one area, so that it does not darken where it crosses. */
  together(ctx: Context, light: readonly Stroke[], alpha: (stroke: Stroke) => number): void {
    const by = new Map<string, { color: string; alpha: number; path: Path2D }>();
    for (const stroke of light) {
      const { pen } = stroke;
      const a = alpha(stroke) * (pen.opacity ?? 1);
      if (a === 0) continue;
      const key = `${pen.color} ${a}`;
      let entry = by.get(key);
      if (!entry) by.set(key, (entry = { color: pen.color, alpha: a, path: new Path2D() }));
      entry.path.addPath(this.lineOf(stroke));
    }
    for (const { color, alpha: a, path } of by.values()) {
      ctx.globalAlpha = a;
      ctx.fillStyle = this.look().ink(color);
      ctx.fill(path, 'nonzero');
    }
  }

  /** `k`: device px per mm. */
  one(ctx: Context, k: number, stroke: Stroke, alpha: number): void {
    const { pen } = stroke;
    if (alpha === 0) return;
    if (stroke.fill) {
      ctx.globalAlpha = alpha;
      ctx.fillStyle = this.look().ink(stroke.fill);
      ctx.fill((this.pathsOf(stroke).area ??= areaPath(stroke)), 'evenodd');
    }
    ctx.globalAlpha = alpha * (pen.opacity ?? 1);
    const isFar = k < FAR_K;
    if (isFar || (pen.width * k <= THIN_PX && isEven(stroke))) {
      const paths = this.pathsOf(stroke);
      if (!paths.thin || k > paths.thin.upTo) paths.thin = isFar ? farOf(stroke, k) : thinOf(stroke, k);
      const { path, width } = paths.thin;
      ctx.strokeStyle = this.look().ink(pen.color);
      ctx.lineWidth = isFar ? Math.max(width, FAR_PX / k) : width;
      ctx.lineCap = ctx.lineJoin = 'round';
      ctx.stroke(path);
      return;
    }
    ctx.fillStyle = inkOf(ctx, pen, this.look());
    ctx.fill(this.lineOf(stroke), 'nonzero');
  }

  private pathsOf(stroke: Stroke): Paths {
    const { pts, pen, shape } = stroke;
    let entry = this.paths.get(pts);
    if (!entry || entry.pen !== pen || entry.shape !== shape) this.paths.set(pts, (entry = { pen, shape }));
    return entry;
  }

  private lineOf(stroke: Stroke): Path2D {
    const entry = this.pathsOf(stroke);
    if (!entry.line) {
      entry.line = new Path2D();
      traceStroke(stroke, entry.line);
    }
    return entry.line;
  }

  clear(): void {
    this.paths.clear();
  }
}

/** Corners nearer than this show no bend, px, and chords may leave their curve by so much. */
const STEP_PX = 0.5;
const BOW_PX = 0.1;

function thinOf(stroke: Stroke, k: number): NonNullable<Paths['thin']> {
  const samples = sampleStroke(pointsOf(stroke), stroke.pen, BOW_PX / k);
  const path = new Path2D();
  const step = (STEP_PX / k) ** 2;
  let [sum, x, y] = [0, Infinity, Infinity];
  for (let i = 0; i < samples.length; i += 3) {
    sum += samples[i + 2];
    const last = i === samples.length - 3;
    if (!last && (samples[i] - x) ** 2 + (samples[i + 1] - y) ** 2 < step) continue;
    path.lineTo((x = samples[i]), (y = samples[i + 1]));
  }
  // A dot has no way to go, and a line of no length is not drawn.
  if (samples.length === 3) path.lineTo(samples[0] + 0.001, samples[1]);
  return { path, width: (2 * sum) / Math.max(1, samples.length / 3), upTo: 1.4 * k };
}

function farOf(stroke: Stroke, k: number): NonNullable<Paths['thin']> {
  const { n, xy } = pointsOf(stroke);
  const path = new Path2D();
  const step = (100 * FAR_PX) / k;
  let [x, y] = [Infinity, Infinity];
  for (let i = 0; i < n; i++) {
    if (i < n - 1 && Math.abs(xy[2 * i] - x) < step && Math.abs(xy[2 * i + 1] - y) < step) continue;
    [x, y] = [xy[2 * i], xy[2 * i + 1]];
    path.lineTo(x / 100, y / 100);
  }
  if (n === 1) path.lineTo(xy[0] / 100 + 0.001, xy[1] / 100);
  return { path, width: stroke.pen.width, upTo: Math.min(FAR_K, 1.4 * k) };
}
