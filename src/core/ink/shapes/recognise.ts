/**
 * Which clean shape a hand-drawn line was meant to be.
 *
 * A closed line is laid over polygons of three to six sides and over an ellipse. The best polygon of k sides is found exactly: the
 * costs of fitting a straight line to every run of points are known from running sums, and dynamic programming picks the k runs
 * with the least sum (R. Bellman's curve segmentation, 1961). Which of the fits was meant is decided by an information criterion
 * (G. Schwarz, 1978: the error's logarithm against the number of parameters). Open lines are told apart the same way: straight, one
 * bend, or a shaft with a head.
 */
import type { Points } from '../points';
import { polygonArea } from '../polygon';
import { snapShape, type Shape, type Vec } from './shape';

const N = 64;
/** Sides of a quadrilateral as long as this to each other count as equal. */
const EQUAL = 1.16;

export function recognise(points: Points): Shape | null {
  const raw: Vec[] = [];
  for (let i = 0; i < points.n; i++) raw.push([points.xy[2 * i] / 100, points.xy[2 * i + 1] / 100]);
  const line = resample(raw, 2 * N);
  if (!line) return null;
  const size = extent(line);
  if (size < 3) return null;
  const loop = closedPart(line);
  return loop ? closedShape(loop) : openShape(line);
}

/** The shape as `recognise` finds it, set level, upright or at 45 degrees where it nearly stands so. */
export function cleanShape(points: Points, snap: boolean): Shape | null {
  const shape = recognise(points);
  return shape && snap ? snapShape(shape) : shape;
}

const apart = (a: Vec, b: Vec): number => Math.hypot(b[0] - a[0], b[1] - a[1]);

function extent(line: readonly Vec[]): number {
  const [xs, ys] = [line.map((p) => p[0]), line.map((p) => p[1])];
  return Math.hypot(Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys));
}

const lengthOf = (line: readonly Vec[]): number => line.reduce((s, p, i) => (i ? s + apart(line[i - 1], p) : 0), 0);

/** n points at equal ways along a line; null when it has no length. */
function resample(line: readonly Vec[], n: number): Vec[] | null {
  const total = lengthOf(line);
  if (!(total > 0)) return null;
  const out: Vec[] = [line[0]];
  const step = total / (n - 1);
  let [way, next] = [0, step];
  for (let i = 1; i < line.length; i++) {
    const d = apart(line[i - 1], line[i]);
    while (d > 0 && way + d >= next - 1e-9 && out.length < n) {
      const u = (next - way) / d;
      out.push([line[i - 1][0] + u * (line[i][0] - line[i - 1][0]), line[i - 1][1] + u * (line[i][1] - line[i - 1][1])]);
      next += step;
    }
    way += d;
  }
  while (out.length < n) out.push(line[line.length - 1]);
  return out;
}

/** The part of a line that runs once round, when it does: overshoot is trimmed, a gap closed. */
function closedPart(line: readonly Vec[]): Vec[] | null {
  const n = line.length;
  const total = lengthOf(line);
  let best = { d: Infinity, i: 0, j: n - 1 };
  for (let i = 0; i < n * 0.22; i++) {
    for (let j = Math.ceil(n * 0.74); j < n; j++) {
      // Cutting off is paid for, so that a line that just closes is not shortened.
      const d = apart(line[i], line[j]) + (0.12 * total * (i + n - 1 - j)) / n;
      if (d < best.d) best = { d, i, j };
    }
  }
  const part = line.slice(best.i, best.j + 1);
  const gap = apart(part[0], part[part.length - 1]);
  const inside = polygonArea(part);
  const size = extent(part);
  // An area of a sliver is a line drawn there and back.
  return gap < 0.16 * lengthOf(part) && inside > 0.045 * size * size ? part : null;
}

interface Fit {
  /** Sum of squared distances, mm2. */
  readonly cost: number;
  readonly cuts: readonly number[];
}

/** Running sums of a line of points, for the cost of fitting a straight line to any run of it. */
class Runs {
  private readonly sums: Float64Array;
  constructor(private readonly line: readonly Vec[]) {
    this.sums = new Float64Array(5 * (line.length + 1));
    line.forEach(([x, y], i) => {
      [x, y, x * x, y * y, x * y].forEach((v, k) => (this.sums[5 * (i + 1) + k] = this.sums[5 * i + k] + v));
    });
  }

  private moments(i: number, j: number) {
    const s = (k: number) => this.sums[5 * (j + 1) + k] - this.sums[5 * i + k];
    const n = j - i + 1;
    const [mx, my] = [s(0) / n, s(1) / n];
    return { n, mx, my, xx: s(2) - n * mx * mx, yy: s(3) - n * my * my, xy: s(4) - n * mx * my };
  }

  /** Sum of squared distances of points i..j from their best straight line: the smaller eigenvalue of their scatter. */
  cost(i: number, j: number): number {
    const { sums } = this;
    const [a, b, n] = [5 * i, 5 * (j + 1), j - i + 1];
    const x = sums[b] - sums[a];
    const y = sums[b + 1] - sums[a + 1];
    const xx = sums[b + 2] - sums[a + 2] - (x * x) / n;
    const yy = sums[b + 3] - sums[a + 3] - (y * y) / n;
    const xy = sums[b + 4] - sums[a + 4] - (x * y) / n;
    return Math.max(0, (xx + yy) / 2 - Math.hypot((xx - yy) / 2, xy));
  }

  /** A point of that line and its direction. */
  fit(i: number, j: number): { at: Vec; dir: Vec } {
    const { mx, my, xx, yy, xy } = this.moments(i, j);
    const a = 0.5 * Math.atan2(2 * xy, xx - yy);
    const dir: Vec = [Math.cos(a), Math.sin(a)];
    const [p, q] = [this.line[i], this.line[j]];
    return { at: [mx, my], dir: (q[0] - p[0]) * dir[0] + (q[1] - p[1]) * dir[1] < 0 ? [-dir[0], -dir[1]] : dir };
  }
}

/** The best cutting of points 0..n-1 into 1..most runs; runs share their ends. */
function cutOpen(runs: Runs, n: number, most: number): Fit[] {
  const costs = new Float64Array(n * n);
  for (let i = 0; i < n; i++) for (let j = i + 1; j < n; j++) costs[i * n + j] = runs.cost(i, j);
  const cost = (i: number, j: number) => costs[i * n + j];
  const fits: Fit[] = [];
  let row = Array.from({ length: n }, (_, j) => (j ? cost(0, j) : Infinity));
  const from: Int32Array[] = [new Int32Array(n)];
  fits.push({ cost: row[n - 1], cuts: [0, n - 1] });
  for (let k = 2; k <= most; k++) {
    const next = Array<number>(n).fill(Infinity);
    const back = new Int32Array(n);
    for (let j = k; j < n; j++) {
      for (let i = k - 1; i < j; i++) {
        const c = row[i] + cost(i, j);
        if (c < next[j]) [next[j], back[j]] = [c, i];
      }
    }
    from.push(back);
    row = next;
    const cuts = [n - 1];
    for (let m = k - 1; m >= 0; m--) cuts.unshift(m ? from[m][cuts[0]] : 0);
    fits.push({ cost: row[n - 1], cuts });
  }
  return fits;
}

const SIDES_MOST = 6;

function closedShape(part: readonly Vec[]): Shape | null {
  const ring = resample([...part, part[0]], N + 1)!.slice(0, N);
  // Wherever the ring is opened, one corner is missed; it is opened at several places and the best is taken.
  const best: { cost: number; corners: Vec[] }[] = [];
  for (let k = 3; k <= SIDES_MOST; k++) best.push({ cost: Infinity, corners: [] });
  const far = mostBent(ring);
  for (const start of far) {
    const turned = [...ring.slice(start), ...ring.slice(0, start), ring[start]];
    const runs = new Runs(turned);
    cutOpen(runs, N + 1, SIDES_MOST).forEach(({ cost, cuts }, i) => {
      const k = i + 1;
      if (k < 3 || cost >= best[k - 3].cost) return;
      const sides = cuts.slice(1).map((c, m) => sideOf(runs, cuts[m], c));
      const corners = sides.map((s, m) => cross(sides[(m + k - 1) % k], s) ?? turned[cuts[m]]);
      best[k - 3] = { cost, corners };
    });
  }
  const round = ellipseFit(ring);
  const size = extent(ring);
  const score = (cost: number, parameters: number, { floor, penalty }: Judge) => N * Math.log(cost / N + (floor * size) ** 2) + penalty * parameters;
  const least = (judge: Judge) => best.reduce((m, { cost }, i) => (score(cost, 2 * (i + 3), judge) < score(best[m].cost, 2 * (m + 3), judge) ? i : m), 0);
  const i = least(ROUND_OR_NOT);
  const chosen = score(round.cost, 5, ROUND_OR_NOT) <= score(best[i].cost, 2 * (i + 3), ROUND_OR_NOT) ? -1 : least(HOW_MANY);
  if (chosen < 0) return Math.sqrt(round.cost / N) > 0.07 * size ? null : round.shape;
  const { cost, corners } = best[chosen];
  if (Math.sqrt(cost / N) > 0.06 * size) return null;
  return chosen === 0 ? { name: 'triangle', at: corners } : chosen === 1 ? quadrilateral(corners) : { name: 'polygon', at: corners };
}

interface Judge {
  /** Deviation that any hand has, share of the size. */
  readonly floor: number;
  /** How much a parameter more must improve the fit; Schwarz has log N = 4.2, but a hand's points are not independent of each other. */
  readonly penalty: number;
}
/** Whether there are corners at all is judged finely; how many, with a hand's slips at closing in mind. */
const ROUND_OR_NOT: Judge = { floor: 0.006, penalty: 7 };
const HOW_MANY: Judge = { floor: 0.01, penalty: 13 };

const PLACES = 5;

/** Some places where a ring turns most, well apart: among them are corners to open it at. */
function mostBent(ring: readonly Vec[]): number[] {
  const n = ring.length;
  const turn = ring.map((p, i) => {
    const [a, b] = [ring[(i + n - 4) % n], ring[(i + 4) % n]];
    const [ux, uy, vx, vy] = [p[0] - a[0], p[1] - a[1], b[0] - p[0], b[1] - p[1]];
    return Math.abs(Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy));
  });
  const picked: number[] = [];
  for (const i of [...turn.keys()].sort((a, b) => turn[b] - turn[a])) {
    if (picked.every((p) => Math.min((i - p + n) % n, (p - i + n) % n) > 3)) picked.push(i);
    if (picked.length === PLACES) break;
  }
  return picked;
}

/** The straight line of a side, without the rounding near its corners. */
function sideOf(runs: Runs, i: number, j: number): { at: Vec; dir: Vec } {
  const trim = Math.floor((j - i) / 8);
  return runs.fit(i + trim, j - trim);
}

function cross(a: { at: Vec; dir: Vec }, b: { at: Vec; dir: Vec }): Vec | null {
  const d = a.dir[0] * b.dir[1] - a.dir[1] * b.dir[0];
  if (Math.abs(d) < 0.12) return null;
  const u = ((b.at[0] - a.at[0]) * b.dir[1] - (b.at[1] - a.at[1]) * b.dir[0]) / d;
  return [a.at[0] + u * a.dir[0], a.at[1] + u * a.dir[1]];
}

/** The ellipse with the moments of the area a ring encloses, and how far the ring's points are from it. */
function ellipseFit(ring: readonly Vec[]): { shape: Shape; cost: number } {
  // Moments of the area of a polygon (Green's theorem).
  let [area, mx, my] = [0, 0, 0];
  const each = (f: (a: Vec, b: Vec, w: number) => void) => ring.forEach((a, i) => {
    const b = ring[(i + 1) % ring.length];
    f(a, b, a[0] * b[1] - b[0] * a[1]);
  });
  each((a, b, w) => {
    area += w / 2;
    mx += ((a[0] + b[0]) * w) / 6;
    my += ((a[1] + b[1]) * w) / 6;
  });
  [mx, my] = [mx / area, my / area];
  let [xx, yy, xy] = [0, 0, 0];
  each((p, q) => {
    const [ax, ay, bx, by] = [p[0] - mx, p[1] - my, q[0] - mx, q[1] - my];
    const w = ax * by - bx * ay;
    xx += (w * (ax * ax + ax * bx + bx * bx)) / 12;
    yy += (w * (ay * ay + ay * by + by * by)) / 12;
    xy += (w * (ax * by + 2 * ax * ay + 2 * bx * by + bx * ay)) / 24;
  });
  [xx, yy, xy] = [xx / area, yy / area, xy / area];
  const angle = 0.5 * Math.atan2(2 * xy, xx - yy);
  const [half, spread] = [(xx + yy) / 2, Math.hypot((xx - yy) / 2, xy)];
  // A full ellipse has a quarter of its squared half-axes as second moments.
  let [ra, rb] = [2 * Math.sqrt(half + spread), 2 * Math.sqrt(Math.max(1e-6, half - spread))];
  const circle = ra / rb < EQUAL;
  let cost = 0;
  for (const [x, y] of ring) {
    const [dx, dy] = [x - mx, y - my];
    const [u, v] = [dx * Math.cos(angle) + dy * Math.sin(angle), -dx * Math.sin(angle) + dy * Math.cos(angle)];
    const r = Math.hypot(u / ra, v / rb);
    // To first order: the value of the equation over its gradient.
    cost += (((r * r - 1) / 2 / Math.max(1e-9, Math.hypot(u / (ra * ra), v / (rb * rb)))) ** 2);
  }
  if (circle) ra = rb = Math.sqrt(ra * rb);
  const [c, s] = circle ? [1, 0] : [Math.cos(angle), Math.sin(angle)];
  return { cost, shape: { name: circle ? 'circle' : 'ellipse', at: [[mx, my], [mx + ra * c, my + ra * s], [mx - rb * s, my + rb * c]] } };
}

function quadrilateral(corners: readonly Vec[]): Shape {
  const side = (i: number) => apart(corners[i], corners[(i + 1) % 4]);
  const angle = (i: number) => {
    const [a, p, b] = [corners[(i + 3) % 4], corners[i], corners[(i + 1) % 4]];
    return (Math.acos(((a[0] - p[0]) * (b[0] - p[0]) + (a[1] - p[1]) * (b[1] - p[1])) / (apart(a, p) * apart(b, p) || 1)) * 180) / Math.PI;
  };
  const angles = [0, 1, 2, 3].map(angle);
  const sides = [0, 1, 2, 3].map(side);
  const mid: Vec = [corners.reduce((s, p) => s + p[0], 0) / 4, corners.reduce((s, p) => s + p[1], 0) / 4];
  // Opposite corners of a diamond are alike and its neighbours are not; averaged, a hand's slips cancel.
  const lean = Math.abs(angles[0] + angles[2] - angles[1] - angles[3]) / 2;
  if (angles.every((a) => Math.abs(a - 90) < 22) && lean < 13) {
    // Direction of the sides, all four turned onto the first and weighted by length.
    let [c, s] = [0, 0];
    corners.forEach((p, i) => {
      const q = corners[(i + 1) % 4];
      const a = 4 * Math.atan2(q[1] - p[1], q[0] - p[0]);
      c += side(i) * Math.cos(a);
      s += side(i) * Math.sin(a);
    });
    const first = Math.atan2(corners[1][1] - corners[0][1], corners[1][0] - corners[0][0]);
    let turn = Math.atan2(s, c) / 4;
    turn += Math.round((first - turn) / (Math.PI / 2)) * (Math.PI / 2);
    const [ux, uy] = [Math.cos(turn), Math.sin(turn)];
    let [w, h] = [(sides[0] + sides[2]) / 4, (sides[1] + sides[3]) / 4];
    const square = Math.max(w, h) / Math.min(w, h) < EQUAL;
    if (square) w = h = (w + h) / 2;
    const hand = Math.sign((corners[1][0] - corners[0][0]) * (corners[2][1] - corners[1][1]) - (corners[1][1] - corners[0][1]) * (corners[2][0] - corners[1][0])) || 1;
    const at = ([[-w, -h], [w, -h], [w, h], [-w, h]] as const).map(([a, b]): Vec => [mid[0] + a * ux - hand * b * uy, mid[1] + a * uy + hand * b * ux]);
    return { name: square ? 'square' : 'rectangle', at };
  }
  if (Math.max(...sides) / Math.min(...sides) < 1.45 && Math.abs(angles[0] - angles[2]) < 30 && Math.abs(angles[1] - angles[3]) < 30) {
    const d: Vec = [corners[0][0] - corners[2][0], corners[0][1] - corners[2][1]];
    const e: Vec = [corners[1][0] - corners[3][0], corners[1][1] - corners[3][1]];
    // Both diagonals, the second turned square onto the first.
    const hand = Math.sign(d[0] * e[1] - d[1] * e[0]) || 1;
    const a = Math.atan2(d[1] + hand * -e[0], d[0] + hand * e[1]);
    const [p, q] = [Math.hypot(...d) / 2, Math.hypot(...e) / 2];
    const [c, s] = [Math.cos(a), Math.sin(a)];
    return { name: 'diamond', at: [[mid[0] + p * c, mid[1] + p * s], [mid[0] - hand * q * s, mid[1] + hand * q * c], [mid[0] - p * c, mid[1] - p * s], [mid[0] + hand * q * s, mid[1] - hand * q * c]] };
  }
  return { name: 'polygon', at: corners };
}

function openShape(long: readonly Vec[]): Shape | null {
  const line = resample(long, N)!;
  const total = lengthOf(line);
  const ends = apart(line[0], line[N - 1]);
  const runs = new Runs(line);
  if (Math.sqrt(runs.cost(0, N - 1) / N) < 0.022 * total && ends > 0.85 * total) return { name: 'line', at: straightEnds(runs, line, 0, N - 1) };
  return arrow(line, runs) ?? curve(line);
}

function straightEnds(runs: Runs, line: readonly Vec[], i: number, j: number): [Vec, Vec] {
  const { at, dir } = runs.fit(i, j);
  const on = ([x, y]: Vec): Vec => {
    const u = (x - at[0]) * dir[0] + (y - at[1]) * dir[1];
    return [at[0] + u * dir[0], at[1] + u * dir[1]];
  };
  return [on(line[i]), on(line[j])];
}

/** A shaft, and at its end short strokes that turn back on both sides of it. */
function arrow(line: readonly Vec[], runs: Runs): Shape | null {
  for (const { cuts } of cutOpen(runs, N, 4).slice(2)) {
    const tip = cuts[1];
    const [a, b] = straightEnds(runs, line, 0, tip);
    const shaft = apart(a, b);
    if (Math.sqrt(runs.cost(0, tip) / tip) > 0.035 * shaft) continue;
    const rest = line.slice(tip);
    const head = rest.map(([x, y]) => ({ along: ((x - a[0]) * (b[0] - a[0]) + (y - a[1]) * (b[1] - a[1])) / shaft, off: ((y - a[1]) * (b[0] - a[0]) - (x - a[0]) * (b[1] - a[1])) / shaft }));
    const [left, right] = [Math.max(...head.map((h) => h.off)), -Math.min(...head.map((h) => h.off))];
    const back = shaft - Math.min(...head.map((h) => h.along));
    const over = Math.max(...head.map((h) => h.along)) - shaft;
    const small = Math.min(left, right);
    if (small > 0.045 * shaft && Math.max(left, right) < 4.5 * small && Math.max(left, right) < 0.6 * shaft && back > 0.05 * shaft && back < 0.7 * shaft && over < 0.15 * shaft && lengthOf(rest) < 2.4 * shaft) {
      return { name: 'arrow', at: [a, b], heads: 'end' };
    }
  }
  return null;
}

/** One bend or an S: a cubic by least squares, its places along the line taken from the way. */
function curve(line: readonly Vec[]): Shape | null {
  const [p, q] = [line[0], line[N - 1]];
  let [aa, ab, bb] = [0, 0, 0];
  const [ra, rb]: [number[], number[]] = [[0, 0], [0, 0]];
  line.forEach((at, i) => {
    const u = i / (N - 1);
    const v = 1 - u;
    const [a, b] = [3 * v * v * u, 3 * v * u * u];
    aa += a * a;
    ab += a * b;
    bb += b * b;
    for (const c of [0, 1]) {
      const r = at[c] - v * v * v * p[c] - u * u * u * q[c];
      ra[c] += a * r;
      rb[c] += b * r;
    }
  });
  const d = aa * bb - ab * ab;
  const control = [0, 1].map((c) => [(ra[c] * bb - rb[c] * ab) / d, (rb[c] * aa - ra[c] * ab) / d]);
  const shape: Shape = { name: 'curve', at: [p, [control[0][0], control[1][0]], [control[0][1], control[1][1]], q] };
  let cost = 0;
  line.forEach(([x, y], i) => {
    const u = i / (N - 1);
    const v = 1 - u;
    const w = [v * v * v, 3 * v * v * u, 3 * v * u * u, u * u * u];
    const [cx, cy] = [0, 1].map((c) => shape.at.reduce((s, at, k) => s + w[k] * at[c], 0));
    cost += (x - cx) ** 2 + (y - cy) ** 2;
  });
  return Math.sqrt(cost / N) < 0.04 * extent(line) ? shape : null;
}
