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
  closePath(): void;
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

/** Distance between samples on a curve, mm: fine enough that a chord leaves the curve by less than a hundredth of a mm. */
const STEP = 0.25;

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

  get n(): number {
    return this.size / 3;
  }

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
        const steps = Math.min(64, Math.max(1, Math.ceil((Math.hypot(this.bx - sx, this.by - sy) + Math.hypot(mx - this.bx, my - this.by)) / STEP)));
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
/** Up to this turn (radians) neighbouring bands share one edge across the middle of the bend; beyond it a disc joins them. */
const JOINT_TURN = 0.15;
const JOINT_COS = Math.cos(JOINT_TURN);

/**
 * Draws the outline of samples `from`.. into `sink` as pieces that all wind the same way, to be filled with the nonzero rule.
 * Both ends get a disc, and so does every sample where the line turns sharply.
 */
export function traceOutline(samples: Samples, sink: PathSink, from = 0): void {
  const n = samples.length / 3;
  if (n === 0) return;
  const disc = (i: number) => {
    const [x, y, r] = [samples[3 * i], samples[3 * i + 1], samples[3 * i + 2]];
    sink.moveTo(x + r, y);
    sink.arc(x, y, r, 0, FULL);
    sink.closePath();
  };
  /** The next sample apart from `i`, and the unit normal towards it in `nx`, `ny`; n when there is none. */
  let [nx, ny] = [0, 0];
  const after = (i: number): number => {
    for (let k = i + 1; k < n; k++) {
      const [dx, dy] = [samples[3 * k] - samples[3 * i], samples[3 * k + 1] - samples[3 * i + 1]];
      const length = Math.hypot(dx, dy);
      if (length < 1e-6) continue;
      [nx, ny] = [-dy / length, dx / length];
      return k;
    }
    return n;
  };
  disc(from);
  let i = from;
  let k = after(i);
  // The edge across the line at its start: along the normal of the first band.
  let [ax, ay] = [nx, ny];
  while (k < n) {
    const [px, py] = [nx, ny];
    const next = after(k);
    // Where the line turns little, both bands end on one edge; where it turns sharply or ends, each on its own.
    let [bx, by] = [px, py];
    let [cx, cy] = [nx, ny];
    if (next < n && px * nx + py * ny >= JOINT_COS) {
      const length = Math.hypot(px + nx, py + ny);
      [bx, by] = [(px + nx) / length, (py + ny) / length];
      [cx, cy] = [bx, by];
    } else disc(k);
    const [x0, y0, r0] = [samples[3 * i], samples[3 * i + 1], samples[3 * i + 2]];
    const [x1, y1, r1] = [samples[3 * k], samples[3 * k + 1], samples[3 * k + 2]];
    sink.moveTo(x0 - ax * r0, y0 - ay * r0);
    sink.lineTo(x1 - bx * r1, y1 - by * r1);
    sink.lineTo(x1 + bx * r1, y1 + by * r1);
    sink.lineTo(x0 + ax * r0, y0 + ay * r0);
    sink.closePath();
    [ax, ay] = [cx, cy];
    [i, k] = [k, next];
  }
}
