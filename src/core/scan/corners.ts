/**
 * The corners of a light sheet in a photo: writing is closed over, edges vote for lines that have the light on one side (Hough, directed), and of the
 * quadrangles that four of those lines make the one with most edge under its sides is taken and fitted anew to the finer picture.
 */
import { blurred, closed, grayOf, smaller, softened, type Gray, type Pixels } from './image';
import type { Corners, Point } from './homography';

const { abs, atan2, ceil, cos, floor, hypot, max, min, round, sin, sqrt } = Math;

/** Sides of the small picture and of the one that is fitted to, px. */
const SMALL_PX = 400;
export const FINE_PX = 1600;
/** Half the width of writing that is closed over in the small one, px. */
const CLOSE_PX = 5;
/** Lines that are tried. */
const LINES = 26;
/** A sheet takes at least this share of a photo. */
const LEAST_AREA = 0.1;
/** Share of every side that must be seen as an edge. */
const LEAST_SUPPORT = 0.42;

/** A line x cos a + y sin a = r with the light on the side its normal points to. */
interface Line {
  readonly a: number;
  readonly r: number;
  readonly votes: number;
}

interface Edges {
  readonly gx: Float32Array;
  readonly gy: Float32Array;
  readonly strong: number;
}

function edgesOf({ w, h, v }: Gray): Edges {
  const [gx, gy] = [new Float32Array(w * h), new Float32Array(w * h)];
  const all = new Float32Array(ceil((w * h) / 3));
  let n = 0;
  for (let y = 1; y < h - 1; y++) {
    for (let x = 1; x < w - 1; x++) {
      const i = y * w + x;
      gx[i] = (v[i - w + 1] + 2 * v[i + 1] + v[i + w + 1] - v[i - w - 1] - 2 * v[i - 1] - v[i + w - 1]) / 8;
      gy[i] = (v[i + w - 1] + 2 * v[i + w] + v[i + w + 1] - v[i - w - 1] - 2 * v[i - w] - v[i - w + 1]) / 8;
      if ((x + y) % 3 === 0) all[n++] = sqrt(gx[i] * gx[i] + gy[i] * gy[i]);
    }
  }
  const sorted = all.subarray(0, n).sort();
  // Paper on a light table has little contrast; noise alone is no edge.
  return { gx, gy, strong: max(1.6, sorted[floor(0.88 * n)] ?? 0) };
}

const STEP = Math.PI / 180;

function linesOf({ w, h }: Gray, { gx, gy, strong }: Edges): Line[] {
  const reach = ceil(hypot(w, h));
  const bins = reach + 1;
  const votes = new Float32Array(360 * bins * 2);
  const [along, up] = [new Float32Array(360), new Float32Array(360)];
  for (let t = 0; t < 360; t++) [along[t], up[t]] = [cos(t * STEP), sin(t * STEP)];
  for (let y = 1; y < h - 1; y++) {
    for (let x = 1; x < w - 1; x++) {
      const i = y * w + x;
      const m = sqrt(gx[i] * gx[i] + gy[i] * gy[i]);
      if (m < strong) continue;
      const t0 = round(atan2(gy[i], gx[i]) / STEP);
      const weight = min(m, 4 * strong);
      for (let d = -3; d <= 3; d++) {
        const t = (t0 + d + 720) % 360;
        const r = x * along[t] + y * up[t] + reach;
        votes[t * bins * 2 + round(r)] += weight * (1 - abs(d) / 5);
      }
    }
  }
  // The most votes of each angle: only those near a line that was taken are counted anew.
  const most = new Int32Array(360);
  const count = (t: number) => {
    const [start, end] = [t * bins * 2, (t + 1) * bins * 2];
    let at = start;
    for (let i = start + 1; i < end; i++) if (votes[i] > votes[at]) at = i;
    most[t] = at;
  };
  for (let t = 0; t < 360; t++) count(t);
  const found: Line[] = [];
  for (let k = 0; k < LINES; k++) {
    let t = 0;
    for (let other = 1; other < 360; other++) if (votes[most[other]] > votes[most[t]]) t = other;
    const best = votes[most[t]];
    if (best <= 0) break;
    const r = (most[t] % (bins * 2)) - reach;
    found.push({ a: t * STEP, r, votes: best });
    // Its neighbours say the same.
    for (let d = -7; d <= 7; d++) {
      const near = (t + d + 720) % 360;
      for (let e = -7; e <= 7; e++) {
        const c = r + e + reach;
        if (c >= 0 && c < bins * 2) votes[near * bins * 2 + c] = 0;
      }
      count(near);
    }
  }
  return found;
}

function meet(p: { a: number; r: number }, q: { a: number; r: number }): Point | null {
  const det = cos(p.a) * sin(q.a) - sin(p.a) * cos(q.a);
  if (abs(det) < 0.15) return null;
  return [(p.r * sin(q.a) - q.r * sin(p.a)) / det, (q.r * cos(p.a) - p.r * cos(q.a)) / det];
}

/** Share of the way from one corner to the next along which an edge with the light on its inner side is seen; what lies beyond the photo is passed over. */
function support({ w, h }: Gray, { gx, gy, strong }: Edges, [x0, y0]: Point, [x1, y1]: Point, a: number): number {
  const n = max(12, round(hypot(x1 - x0, y1 - y0) / 3));
  const [nx, ny] = [cos(a), sin(a)];
  let seen = 0;
  let all = 0;
  for (let i = 1; i < n; i++) {
    const x = x0 + ((x1 - x0) * i) / n;
    const y = y0 + ((y1 - y0) * i) / n;
    if (x < 2 || y < 2 || x > w - 3 || y > h - 3) continue;
    all++;
    let best = 0;
    for (let d = -2; d <= 2; d++) {
      const k = round(y + d * ny) * w + round(x + d * nx);
      best = max(best, gx[k] * nx + gy[k] * ny);
    }
    if (best > 0.6 * strong) seen++;
  }
  return all < n / 3 ? 0 : seen / all;
}

const areaOf = (c: readonly Point[]): number => abs(c.reduce((s, [x, y], i) => s + x * c[(i + 1) % c.length][1] - c[(i + 1) % c.length][0] * y, 0)) / 2;

/** From the corner that is uppermost and leftmost on, clockwise: so a sheet is never mirrored. */
export function inOrder(corners: readonly Point[]): Corners {
  const [cx, cy] = [corners.reduce((s, p) => s + p[0], 0) / 4, corners.reduce((s, p) => s + p[1], 0) / 4];
  const clockwise = [...corners].sort((p, q) => atan2(p[1] - cy, p[0] - cx) - atan2(q[1] - cy, q[0] - cx));
  const first = clockwise.reduce((best, p, i) => (p[0] + p[1] < clockwise[best][0] + clockwise[best][1] ? i : best), 0);
  return [0, 1, 2, 3].map((i) => clockwise[(first + i) % 4]) as unknown as Corners;
}

interface Found {
  readonly corners: Point[];
  readonly lines: readonly Line[];
  readonly worst: number;
}

function bestQuadrangle(g: Gray, edges: Edges, lines: readonly Line[]): Found | null {
  const sorted = [...lines].sort((p, q) => p.a - q.a);
  let [best, score] = [null as Found | null, 0];
  const turn = (p: Line, q: Line) => (((q.a - p.a) / STEP + 720) % 360);
  const isTurn = (d: number) => d > 45 && d < 135;
  for (let i = 0; i < sorted.length; i++) {
    for (let j = i + 1; j < sorted.length; j++) {
      if (!isTurn(turn(sorted[i], sorted[j]))) continue;
      for (let k = j + 1; k < sorted.length; k++) {
        if (!isTurn(turn(sorted[j], sorted[k]))) continue;
        for (let l = k + 1; l < sorted.length; l++) {
          if (!isTurn(turn(sorted[k], sorted[l])) || !isTurn(turn(sorted[l], sorted[i]))) continue;
          const four = [sorted[i], sorted[j], sorted[k], sorted[l]];
          const corners = four.map((p, n) => meet(four[(n + 3) % 4], p));
          if (!corners.every((c): c is Point => c !== null && c[0] > -0.08 * g.w && c[0] < 1.08 * g.w && c[1] > -0.08 * g.h && c[1] < 1.08 * g.h)) continue;
          const area = areaOf(corners) / (g.w * g.h);
          if (area < LEAST_AREA) continue;
          // The light lies within: the middle is on the light side of every line.
          const [mx, my] = [corners.reduce((s, c) => s + c[0], 0) / 4, corners.reduce((s, c) => s + c[1], 0) / 4];
          if (four.some((p) => mx * cos(p.a) + my * sin(p.a) - p.r < 0)) continue;
          let [sum, worst] = [0, 1];
          for (let n = 0; n < 4 && worst >= LEAST_SUPPORT; n++) {
            const s = support(g, edges, corners[n], corners[(n + 1) % 4], four[n].a);
            sum += s;
            worst = min(worst, s);
          }
          if (worst < LEAST_SUPPORT) continue;
          const value = (sum / 4 + worst) * (0.75 + 0.25 * sqrt(area));
          if (value > score) [best, score] = [{ corners, lines: four, worst }, value];
        }
      }
    }
  }
  return best;
}

/** Fits a side anew: where the brightness rises fastest across it, and the line that most of those places agree on. */
function fitted({ w, h }: Gray, valueAt: (x: number, y: number) => number, [x0, y0]: Point, [x1, y1]: Point, a: number, reach: number): { a: number; r: number } | null {
  const [nx, ny] = [cos(a), sin(a)];
  const places: [number, number, number][] = [];
  const n = 90;
  for (let i = 3; i <= n - 3; i++) {
    const [x, y] = [x0 + ((x1 - x0) * i) / n, y0 + ((y1 - y0) * i) / n];
    if (x < 2 || y < 2 || x > w - 3 || y > h - 3) continue;
    let [best, at] = [0, NaN];
    const rise = (d: number) => valueAt(x + (d + 1.5) * nx, y + (d + 1.5) * ny) - valueAt(x + (d - 1.5) * nx, y + (d - 1.5) * ny);
    for (let d = -reach; d <= reach; d += 0.5) {
      const v = rise(d) * (1 - 0.3 * abs(d / reach));
      if (v > best) [best, at] = [v, d];
    }
    if (!(best > 2)) continue;
    const [b, c, f] = [rise(at - 0.5), rise(at), rise(at + 0.5)];
    const bend = b - 2 * c + f;
    const sub = bend < 0 ? at + max(-0.5, min(0.5, (0.25 * (b - f)) / bend)) : at;
    places.push([x + sub * nx, y + sub * ny, best]);
  }
  if (places.length < 12) return null;
  // The line through two of them that most others agree with; then the least squares of those.
  const tolerance = max(0.8, reach / 12);
  const [xs, ys] = [Float64Array.from(places, (p) => p[0]), Float64Array.from(places, (p) => p[1])];
  let most = 0;
  let [px, py, dx, dy] = [0, 0, 0, 0];
  for (let i = 0; i < xs.length; i += 2) {
    for (let j = i + 10; j < xs.length; j += 3) {
      const [ex, ey] = [xs[j] - xs[i], ys[j] - ys[i]];
      const limit = tolerance * (sqrt(ex * ex + ey * ey) || 1);
      let agree = 0;
      for (let k = 0; k < xs.length; k++) if (abs((xs[k] - xs[i]) * ey - (ys[k] - ys[i]) * ex) < limit) agree++;
      if (agree > most) [most, px, py, dx, dy] = [agree, xs[i], ys[i], ex, ey];
    }
  }
  if (most < 10) return null;
  const inliers = places.filter(([x, y]) => abs((x - px) * dy - (y - py) * dx) < tolerance * (hypot(dx, dy) || 1));
  const [mx, my] = [inliers.reduce((s, p) => s + p[0], 0) / inliers.length, inliers.reduce((s, p) => s + p[1], 0) / inliers.length];
  let [xx, xy, yy] = [0, 0, 0];
  for (const [x, y] of inliers) {
    xx += (x - mx) ** 2;
    xy += (x - mx) * (y - my);
    yy += (y - my) ** 2;
  }
  const along = 0.5 * atan2(2 * xy, xx - yy);
  let normal = along + Math.PI / 2;
  if (cos(normal - a) < 0) normal += Math.PI;
  return { a: normal, r: mx * cos(normal) + my * sin(normal) };
}

/** The corners of the sheet in px of the photo; null when none is found that can be trusted: they are set by hand then. */
export function findSheet(photo: Pixels): Corners | null {
  const sharp = grayOf(photo, FINE_PX);
  const small = smaller(sharp, SMALL_PX);
  const even = blurred(closed(small, CLOSE_PX), 1);
  const edges = edgesOf(even);
  const found = bestQuadrangle(even, edges, linesOf(even, edges));
  if (!found) return null;
  const valueAt = softened(sharp);
  const k = sharp.w / small.w;
  const reach = max(4, 3.5 * k);
  const lines = found.lines.map((line, n) => {
    const [p, q] = [found.corners[n], found.corners[(n + 1) % 4]].map(([x, y]) => [(x + 0.5) * k - 0.5, (y + 0.5) * k - 0.5] as const);
    return fitted(sharp, valueAt, p, q, line.a, reach) ?? { a: line.a, r: (line.r + 0.5 * (cos(line.a) + sin(line.a))) * k - 0.5 * (cos(line.a) + sin(line.a)) };
  });
  const corners = lines.map((line, n) => meet(lines[(n + 3) % 4], line));
  const scale = photo.width / sharp.w;
  // The middle of a pixel is half a pixel from its edge.
  const out = corners.map((c) => c && ([(c[0] + 0.5) * scale, (c[1] + 0.5) * scale] as const));
  return out.every((c) => c !== null) ? inOrder(out as Point[]) : null;
}
