/**
 * The shape a stroke leaves on paper: a smooth line through the pen's points, as wide as the pen and its pressure say.
 *
 * The line is the union of discs at closely spaced samples and of the straight bands between them. It grows at its end only, so
 * what is drawn while the pen moves is what stays when it lifts.
 */
import { PRESSURE_MAX, type Points } from './points';
import type { Pen } from './stroke';

/** Triples x, y, radius in mm. */
export type Samples = Float32Array;

/** Where an outline is drawn to; `Path2D`, a canvas context and a plain recorder all fit. */
export interface PathSink {
  moveTo(x: number, y: number): void;
  lineTo(x: number, y: number): void;
  arc(x: number, y: number, radius: number, from: number, to: number): void;
}

/** Half the line width in mm at a pressure of 0..1. */
export function radiusAt(pen: Pen, pressure: number): number {
  switch (pen.kind) {
    case 'ball':
      return (pen.width / 2) * (0.85 + 0.3 * pressure);
    case 'fountain':
      return (pen.width / 2) * (0.35 + 1.3 * pressure);
    case 'felt':
      return pen.width / 2;
  }
}

/** How far a chord may leave its curve, mm: a tenth of a fine pen's width at most, so that no corner shows at any zoom in use. */
const FLAT = 0.012;

/**
 * The sampler takes points one by one and gives out samples as they become final. Between the middles of neighbouring
 * segments runs a quadratic curve with the point itself as control (a uniform B-spline of degree 2): smooth, local, never
 * outside the hull of three points.
 */
export class Sampler {
  private data = new Float32Array(256 * 3);
  private size = 0;
  private count = 0;
  private ax = 0;
  private ay = 0;
  private ar = 0;
  private bx = 0;
  private by = 0;
  private br = 0;

  constructor(private readonly pen: Pen) {}

  /** Samples so far, the last point included when `tail` is asked for. A view valid until the next `add`. */
  samples(tail = true): Samples {
    const size = this.size;
    if (tail && this.count > 0) {
      this.push(this.bx, this.by, this.br);
      this.size = size;
      return this.data.subarray(0, size + 3);
    }
    return this.data.subarray(0, size);
  }

  /** x, y in mm, pressure 0..1. */
  add(x: number, y: number, pressure: number): void {
    // Pressure is smoothed a little: the sensors step, a line must not.
    const r0 = radiusAt(this.pen, pressure);
    const r = this.count === 0 ? r0 : this.br + 0.5 * (r0 - this.br);
    if (this.count === 0) this.push(x, y, r);
    else if (this.count >= 1) {
      const [mx, my, mr] = [(this.bx + x) / 2, (this.by + y) / 2, (this.br + r) / 2];
      if (this.count === 1) this.push(mx, my, mr);
      else {
        const [sx, sy, sr] = [(this.ax + this.bx) / 2, (this.ay + this.by) / 2, (this.ar + this.br) / 2];
        // A quadratic in n pieces leaves its chords by a quarter of its second difference over n squared.
        const bow = Math.hypot(sx - 2 * this.bx + mx, sy - 2 * this.by + my) / 4;
        const steps = Math.min(32, Math.max(1, Math.ceil(Math.sqrt(bow / FLAT))));
        for (let k = 1; k <= steps; k++) {
          const u = k / steps;
          const [a, b, c] = [(1 - u) * (1 - u), 2 * u * (1 - u), u * u];
          this.push(a * sx + b * this.bx + c * mx, a * sy + b * this.by + c * my, a * sr + b * this.br + c * mr);
        }
      }
    }
    [this.ax, this.ay, this.ar] = [this.bx, this.by, this.br];
    [this.bx, this.by, this.br] = [x, y, r];
    this.count++;
  }

  private push(x: number, y: number, r: number): void {
    if (this.size + 6 > this.data.length) {
      const wider = new Float32Array(this.data.length * 2);
      wider.set(this.data);
      this.data = wider;
    }
    this.data[this.size++] = x;
    this.data[this.size++] = y;
    this.data[this.size++] = r;
  }
}

export function sampleStroke(points: Points, pen: Pen): Samples {
  const sampler = new Sampler(pen);
  for (let i = 0; i < points.n; i++) sampler.add(points.xy[2 * i] / 100, points.xy[2 * i + 1] / 100, points.p[i] / PRESSURE_MAX);
  return sampler.samples().slice();
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
  if (n === 0) return;
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
