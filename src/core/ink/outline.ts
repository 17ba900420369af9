/**
 * The shape a stroke leaves on paper: a smooth line through the pen's points, as wide as the pen, its pressure and its pace say.
 *
 * The line is the union of discs (of the chisel: of nibs) at closely spaced samples and of the bands between them. It grows at its
 * end only, so what is drawn while the pen moves is what stays when it lifts; where a pen tapers, the last stretch waits until it is
 * known how the line goes on.
 */
import { NIB_ANGLE, NIB_EDGE, radiusAt, taperOf, type Pen } from './pen';
import { PRESSURE_MAX, type Points } from './points';

/** Triples x, y, radius in mm. */
export type Samples = Float32Array;

/** Where an outline is drawn to; `Path2D`, a canvas context and a plain recorder all fit. */
export interface PathSink {
  moveTo(x: number, y: number): void;
  lineTo(x: number, y: number): void;
  arc(x: number, y: number, radius: number, from: number, to: number): void;
}

/** How far a chord may leave its curve, mm: a tenth of a fine pen's width at most, so that no corner shows at any zoom in use. */
const FLAT = 0.012;
/** The pace of a hand before it is known, mm per ms. */
const PACE = 0.085;
/** A tapered line begins with this share of its width. */
const POINT = 0.4;

/**
 * The sampler takes points one by one and gives out samples as they become final. Between the middles of neighbouring
 * segments runs a quadratic curve with the point itself as control (a uniform B-spline of degree 2): smooth, local, never
 * outside the hull of three points.
 */
export class Sampler {
  private data = new Float32Array(256 * 3);
  private out = new Float32Array(256 * 3);
  /** Way from the start to each sample, mm. */
  private way = new Float32Array(256);
  private count = 0;
  private n = 0;
  /** Samples that are final, and stand in `out`. */
  private firm = 0;
  private ax = 0;
  private ay = 0;
  private ar = 0;
  private bx = 0;
  private by = 0;
  private br = 0;
  private bt = 0;
  private pace = PACE;
  private taper: number;
  private flat = FLAT;

  constructor(private pen: Pen) {
    this.taper = taperOf(pen);
  }

  /** Begins another stroke, whose chords leave their curves by `flat` mm at most; what `samples` gave before is void. */
  begin(pen: Pen, flat: number): void {
    this.pen = pen;
    this.flat = flat;
    this.taper = taperOf(pen);
    this.count = this.n = this.firm = 0;
    this.pace = PACE;
  }

  /** Samples so far, those at the end that may still change included when `tail` is asked for. A view valid until the next call. */
  samples(tail = true): Samples {
    if (!tail || this.n === 0) {
      this.settle();
      return this.out.subarray(0, this.firm * 3);
    }
    const n = this.count;
    this.push(this.bx, this.by, this.br);
    this.settle(n);
    const total = this.way[n];
    for (let i = this.firm; i <= n; i++) this.give(i, total);
    this.count = n;
    return this.out.subarray(0, (n + 1) * 3);
  }

  private settle(n = this.count): void {
    const total = n > 0 ? this.way[n - 1] : 0;
    // Until a line is as long as both its tapers nothing of it is final: a dot has none.
    if (this.taper > 0 && total < 2 * this.taper) return;
    while (this.firm < n && (this.taper === 0 || this.way[this.firm] <= total - this.taper)) this.give(this.firm++, total);
  }

  private give(i: number, total: number): void {
    let r = this.data[3 * i + 2];
    if (this.taper > 0) {
      const near = Math.min(this.way[i], total - this.way[i]);
      if (near < this.taper) r *= 1 - Math.min(1, total / (2 * this.taper)) * (1 - POINT) * (1 - Math.max(0, near) / this.taper);
    }
    this.out[3 * i] = this.data[3 * i];
    this.out[3 * i + 1] = this.data[3 * i + 1];
    this.out[3 * i + 2] = r;
  }

  /** x, y in mm, pressure 0..1, t in ms since pen-down. */
  add(x: number, y: number, pressure: number, t: number): void {
    if (this.n > 0) {
      const pace = Math.hypot(x - this.bx, y - this.by) / Math.max(1, t - this.bt);
      this.pace += 0.25 * (Math.min(0.6, pace) - this.pace);
    }
    // Pressure is smoothed a little: the sensors step, a line must not.
    const r0 = radiusAt(this.pen, pressure, this.pace);
    const r = this.n === 0 ? r0 : this.br + 0.5 * (r0 - this.br);
    if (this.n === 0) this.push(x, y, r);
    else {
      const [mx, my, mr] = [(this.bx + x) / 2, (this.by + y) / 2, (this.br + r) / 2];
      if (this.n === 1) this.push(mx, my, mr);
      else {
        const [sx, sy, sr] = [(this.ax + this.bx) / 2, (this.ay + this.by) / 2, (this.ar + this.br) / 2];
        // A quadratic in n pieces leaves its chords by a quarter of its second difference over n squared.
        const bow = Math.hypot(sx - 2 * this.bx + mx, sy - 2 * this.by + my) / 4;
        const steps = Math.min(32, Math.max(1, Math.ceil(Math.sqrt(bow / this.flat))));
        for (let k = 1; k <= steps; k++) {
          const u = k / steps;
          const [a, b, c] = [(1 - u) * (1 - u), 2 * u * (1 - u), u * u];
          this.push(a * sx + b * this.bx + c * mx, a * sy + b * this.by + c * my, a * sr + b * this.br + c * mr);
        }
      }
    }
    [this.ax, this.ay, this.ar] = [this.bx, this.by, this.br];
    [this.bx, this.by, this.br, this.bt] = [x, y, r, t];
    this.n++;
  }

  private push(x: number, y: number, r: number): void {
    const i = this.count++;
    if (3 * this.count > this.data.length) {
      this.data = grown(this.data);
      this.out = grown(this.out);
      this.way = grown(this.way);
    }
    this.data[3 * i] = x;
    this.data[3 * i + 1] = y;
    this.data[3 * i + 2] = r;
    this.way[i] = i ? this.way[i - 1] + Math.hypot(x - this.data[3 * i - 3], y - this.data[3 * i - 2]) : 0;
  }
}

function grown(a: Float32Array): Float32Array<ArrayBuffer> {
  const b = new Float32Array(a.length * 2);
  b.set(a);
  return b;
}

/** One for all strokes that are sampled at once: a page has hundreds, and room for each would cost more than the sampling. */
let whole: Sampler | null = null;

/** All samples of a stroke; `flat`: how far a chord may leave its curve, mm, for one that is drawn at one scale only. */
export function sampleStroke(points: Points, pen: Pen, flat = FLAT): Samples {
  const sampler = (whole ??= new Sampler(pen));
  sampler.begin(pen, flat);
  for (let i = 0; i < points.n; i++) sampler.add(points.xy[2 * i] / 100, points.xy[2 * i + 1] / 100, points.p[i] / PRESSURE_MAX, points.t[i]);
  return sampler.samples().slice();
}

/** Draws the line of a pen through samples `from`.. into `sink`: pieces that all wind the same way, for the nonzero rule. */
export function tracePen(pen: Pen, samples: Samples, sink: PathSink, from = 0): void {
  if (pen.line) traceBroken(pen, samples, sink, from);
  else if (pen.kind === 'chisel') traceNib(pen, samples, sink, from);
  else traceOutline(samples, sink, from);
}

const FULL = 2 * Math.PI;
/** Up to this turn (radians) neighbouring bands run on in one piece; beyond it a disc joins two pieces. */
const JOINT_TURN = 0.35;
const JOINT_COS = Math.cos(JOINT_TURN);

/**
 * Draws the outline of samples `from`.. into `sink` as pieces that all wind the same way, to be filled with the nonzero rule (which
 * closes each piece by itself). Both ends get a disc, and so does every sample where the line turns sharply.
 */
export function traceOutline(samples: Samples, sink: PathSink, from = 0): void {
  const n = samples.length / 3;
  if (n === 0 || from >= n) return;
  const disc = (i: number) => {
    const [x, y, r] = [samples[3 * i], samples[3 * i + 1], samples[3 * i + 2]];
    sink.moveTo(x + r, y);
    sink.arc(x, y, r, 0, FULL);
  };
  /** The next sample apart from `i`, with the unit normal and the way towards it in `nx`, `ny`, `way`; n when there is none. */
  let nx = 0;
  let ny = 0;
  let way = 0;
  const after = (i: number): number => {
    for (let k = i + 1; k < n; k++) {
      const dx = samples[3 * k] - samples[3 * i];
      const dy = samples[3 * k + 1] - samples[3 * i + 1];
      const length = Math.hypot(dx, dy);
      if (length < 1e-6) continue;
      nx = -dy / length;
      ny = dx / length;
      way = length;
      return k;
    }
    return n;
  };
  // One side of the piece goes out as it is met, the other waits here to come back along.
  let back: number[] = [];
  const edge = (i: number, ex: number, ey: number, first: boolean) => {
    const x = samples[3 * i];
    const y = samples[3 * i + 1];
    const r = samples[3 * i + 2];
    if (first) sink.moveTo(x - ex * r, y - ey * r);
    else sink.lineTo(x - ex * r, y - ey * r);
    back.push(x + ex * r, y + ey * r);
  };
  const close = () => {
    for (let k = back.length - 2; k >= 0; k -= 2) sink.lineTo(back[k], back[k + 1]);
    back = [];
  };
  disc(from);
  let k = after(from);
  if (k < n) edge(from, nx, ny, true);
  while (k < n) {
    const px = nx;
    const py = ny;
    const before = way;
    const next = after(k);
    const cos = px * nx + py * ny;
    // A bend tighter than the pen is wide would fold the inner side over itself.
    const tight = samples[3 * k + 2] * Math.sqrt(Math.max(0, 2 - 2 * cos)) > Math.min(before, way);
    if (next < n && cos >= JOINT_COS && !tight) {
      const length = Math.hypot(px + nx, py + ny);
      edge(k, (px + nx) / length, (py + ny) / length, false);
    } else {
      edge(k, px, py, false);
      close();
      disc(k);
      if (next < n) edge(k, nx, ny, true);
    }
    k = next;
  }
}

/** Corners of the chisel's nib around its middle, mm, in the winding of the outline. */
function nibOf(pen: Pen): readonly (readonly [number, number])[] {
  const a = (-(pen.angle ?? NIB_ANGLE) * Math.PI) / 180;
  const [c, s] = [Math.cos(a), Math.sin(a)];
  const [h, e] = [pen.width / 2, (pen.width * NIB_EDGE) / 2];
  return [[h, e], [-h, e], [-h, -e], [h, -e]].map(([x, y]) => [x * c - y * s, x * s + y * c] as const);
}

/** A nib that moves straight covers the hull of where it was and where it is. */
function traceNib(pen: Pen, samples: Samples, sink: PathSink, from: number): void {
  const nib = nibOf(pen);
  const n = samples.length / 3;
  const around = (...at: number[]) => at.flatMap((i) => nib.map(([x, y]) => [samples[3 * i] + x, samples[3 * i + 1] + y] as const));
  const piece = (points: readonly Corner[]) => points.forEach(([x, y], i) => (i ? sink.lineTo(x, y) : sink.moveTo(x, y)));
  if (n - from === 1) piece(hullOf(around(from)));
  for (let i = from + 1; i < n; i++) piece(hullOf(around(i - 1, i)));
}

type Corner = readonly [number, number];

/** The convex hull of points, in the winding of the outline (A. M. Andrew's monotone chain, 1979). */
export function hullOf(points: readonly Corner[]): Corner[] {
  const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const half = (list: readonly Corner[]) => {
    const chain: Corner[] = [];
    for (const p of list) {
      while (chain.length > 1) {
        const [[ax, ay], [bx, by]] = [chain[chain.length - 2], chain[chain.length - 1]];
        if ((bx - ax) * (p[1] - ay) - (by - ay) * (p[0] - ax) > 0) break;
        chain.pop();
      }
      chain.push(p);
    }
    chain.pop();
    return chain;
  };
  return [...half(sorted), ...half(sorted.reverse())];
}

/** Dashes are four widths long with gaps of three; dots stand two and a half widths apart. */
function traceBroken(pen: Pen, samples: Samples, sink: PathSink, from: number): void {
  const n = samples.length / 3;
  const dotted = pen.line === 'dotted';
  const period = pen.width * (dotted ? 2.5 : 7);
  const on = dotted ? 0 : pen.width * 4;
  const solid = (s: Samples) => (pen.kind === 'chisel' ? traceNib(pen, s, sink, 0) : traceOutline(s, sink));
  let way = 0;
  for (let i = 1; i <= from && i < n; i++) way += Math.hypot(samples[3 * i] - samples[3 * i - 3], samples[3 * i + 1] - samples[3 * i - 2]);
  if (n - from === 1 && from === 0) return solid(samples);
  let run: number[] = [];
  const put = (i: number, u: number) => {
    for (let c = -3; c < 0; c++) run.push(samples[3 * i + c] + u * (samples[3 * i + 3 + c] - samples[3 * i + c]));
  };
  const close = () => {
    if (run.length) solid(Float32Array.from(run));
    run = [];
  };
  for (let i = from + 1; i < n; i++) {
    const length = Math.hypot(samples[3 * i] - samples[3 * i - 3], samples[3 * i + 1] - samples[3 * i - 2]);
    if (length === 0) continue;
    const end = way + length;
    for (let k = Math.max(0, Math.floor((way - on) / period)); k * period <= end; k++) {
      const [start, stop] = [k * period, k * period + on];
      if (stop < way || (dotted && start < way && way > 0)) continue;
      if (dotted) {
        put(i, (start - way) / length);
        close();
        continue;
      }
      if (start >= way || !run.length) put(i, Math.max(0, start - way) / length);
      put(i, Math.min(1, (stop - way) / length));
      if (stop <= end) close();
    }
    way = end;
  }
  close();
}
