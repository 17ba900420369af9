/**
 * A line as few cubic curves of steady width, for files that keep it sharp at any size: a pen's outline takes ten times the room.
 *
 * Curves are fitted to samples by least squares with given directions at both ends, and parted where that leaves them too far off (P. J. Schneider, "An
 * algorithm for automatically fitting digitized curves", Graphics Gems, 1990). A line of changing width becomes runs whose round ends hide the step.
 */
import type { Samples } from './outline';

/** A stretch of a line of one width. */
export interface Run {
  /** mm. */
  readonly width: number;
  /** x, y of its beginning, and for each curve x, y of its two handles and of its end, mm. A dot has no curve. */
  readonly xy: readonly number[];
}

export interface Fineness {
  /** How far a curve may leave the samples, mm. */
  readonly off: number;
  /** How far half the width may leave the pen's, mm. */
  readonly thick: number;
}

/** A turn sharper than this (its cosine) is a corner, where curves end. */
const CORNER_COS = 0.5;
/** So often places along a curve are looked for anew before it is parted. */
const TRIES = 3;

/** @param samples triples x, y, radius, mm */
export function runsOf(samples: Samples, { off, thick }: Fineness): Run[] {
  const n = samples.length / 3;
  if (!n) return [];
  const out: Run[] = [];
  let from = 0;
  while (from < n) {
    let [least, most] = [samples[3 * from + 2], samples[3 * from + 2]];
    let to = from;
    for (let i = from + 1; i < n; i++) {
      const r = samples[3 * i + 2];
      if (Math.max(most, r) - Math.min(least, r) > 2 * thick && i > from + 1) break;
      [least, most, to] = [Math.min(least, r), Math.max(most, r), i];
    }
    out.push({ width: least + most, xy: new Fitting(samples, off).fit(from, to) });
    if (to === n - 1) break;
    // The next begins where this ends.
    from = to;
  }
  return out;
}

/** The samples `from`..`to` as curves. */
class Fitting {
  private readonly xy: number[] = [];

  constructor(
    private readonly s: Samples,
    private readonly off: number,
  ) {}

  fit(from: number, to: number): number[] {
    const { s, xy } = this;
    // Samples in the same place say nothing of the way.
    const at: number[] = [from];
    for (let i = from + 1; i <= to; i++) if (Math.hypot(s[3 * i] - s[3 * at[at.length - 1]], s[3 * i + 1] - s[3 * at[at.length - 1] + 1]) > 1e-4) at.push(i);
    xy.push(s[3 * from], s[3 * from + 1]);
    if (at.length < 2) return xy;
    let begin = 0;
    for (let k = 1; k < at.length; k++) if (k === at.length - 1 || this.isCorner(at, k)) {
      const piece = at.slice(begin, k + 1);
      this.piece(piece, 0, piece.length - 1, this.direction(piece, 0, 1), this.direction(piece, piece.length - 1, -1));
      begin = k;
    }
    return xy;
  }

  private isCorner(at: readonly number[], k: number): boolean {
    const [a, b] = [this.between(at[k - 1], at[k]), this.between(at[k], at[k + 1])];
    return a[0] * b[0] + a[1] * b[1] < CORNER_COS;
  }

  /** Unit vector from one sample to another. */
  private between(i: number, j: number): [number, number] {
    const { s } = this;
    const [dx, dy] = [s[3 * j] - s[3 * i], s[3 * j + 1] - s[3 * i + 1]];
    const length = Math.hypot(dx, dy) || 1;
    return [dx / length, dy / length];
  }

  private direction(at: readonly number[], k: number, step: 1 | -1): [number, number] {
    return this.between(at[k], at[k + step]);
  }

  private piece(at: readonly number[], i: number, j: number, [ax, ay]: readonly [number, number], [bx, by]: readonly [number, number]): void {
    const { s, xy } = this;
    const [x0, y0, x3, y3] = [s[3 * at[i]], s[3 * at[i] + 1], s[3 * at[j]], s[3 * at[j] + 1]];
    if (j - i === 1) {
      const third = Math.hypot(x3 - x0, y3 - y0) / 3;
      xy.push(x0 + ax * third, y0 + ay * third, x3 + bx * third, y3 + by * third, x3, y3);
      return;
    }
    const m = j - i + 1;
    const u = new Float64Array(m);
    for (let k = 1; k < m; k++) u[k] = u[k - 1] + Math.hypot(s[3 * at[i + k]] - s[3 * at[i + k - 1]], s[3 * at[i + k] + 1] - s[3 * at[i + k - 1] + 1]);
    for (let k = 1; k < m; k++) u[k] /= u[m - 1];
    let worst = i + (m >> 1);
    for (let tries = 0; tries <= TRIES; tries++) {
      // Least squares for the lengths of both handles.
      let [c00, c01, c11, p0, p1] = [0, 0, 0, 0, 0];
      for (let k = 0; k < m; k++) {
        const t = u[k];
        const v = 1 - t;
        const [b0, b1, b2, b3] = [v * v * v, 3 * t * v * v, 3 * t * t * v, t * t * t];
        const [px, py] = [s[3 * at[i + k]] - (b0 + b1) * x0 - (b2 + b3) * x3, s[3 * at[i + k] + 1] - (b0 + b1) * y0 - (b2 + b3) * y3];
        c00 += b1 * b1;
        c01 += b1 * b2 * (ax * bx + ay * by);
        c11 += b2 * b2;
        p0 += b1 * (ax * px + ay * py);
        p1 += b2 * (bx * px + by * py);
      }
      const det = c00 * c11 - c01 * c01;
      const chord = Math.hypot(x3 - x0, y3 - y0);
      let [la, lb] = det > 1e-12 ? [(p0 * c11 - p1 * c01) / det, (c00 * p1 - c01 * p0) / det] : [0, 0];
      // Handles that point backwards or beyond the whole piece make loops.
      if (!(la > 1e-3 * chord && lb > 1e-3 * chord && la < 3 * chord + 1e-6 && lb < 3 * chord + 1e-6)) la = lb = chord / 3;
      const [x1, y1, x2, y2] = [x0 + ax * la, y0 + ay * la, x3 + bx * lb, y3 + by * lb];
      let most = 0;
      for (let k = 1; k < m - 1; k++) {
        const t = u[k];
        const v = 1 - t;
        const [b0, b1, b2, b3] = [v * v * v, 3 * t * v * v, 3 * t * t * v, t * t * t];
        const [dx, dy] = [b0 * x0 + b1 * x1 + b2 * x2 + b3 * x3 - s[3 * at[i + k]], b0 * y0 + b1 * y1 + b2 * y2 + b3 * y3 - s[3 * at[i + k] + 1]];
        const d = dx * dx + dy * dy;
        if (d > most) [most, worst] = [d, i + k];
        // Newton's step towards the place of the curve that is nearest to the sample, for the next try.
        const [qx, qy] = [3 * (v * v * (x1 - x0) + 2 * t * v * (x2 - x1) + t * t * (x3 - x2)), 3 * (v * v * (y1 - y0) + 2 * t * v * (y2 - y1) + t * t * (y3 - y2))];
        const [rx, ry] = [6 * (v * (x2 - 2 * x1 + x0) + t * (x3 - 2 * x2 + x1)), 6 * (v * (y2 - 2 * y1 + y0) + t * (y3 - 2 * y2 + y1))];
        const slope = qx * qx + qy * qy + dx * rx + dy * ry;
        if (slope > 1e-12) u[k] = Math.min(1, Math.max(0, t - (dx * qx + dy * qy) / slope));
      }
      if (most <= this.off * this.off) {
        xy.push(x1, y1, x2, y2, x3, y3);
        return;
      }
      // Far too far off: no place along it will mend that.
      if (most > 16 * this.off * this.off) break;
    }
    const [cx, cy] = this.between(at[worst - 1], at[worst + 1]);
    this.piece(at, i, worst, [ax, ay], [-cx, -cy]);
    this.piece(at, worst, j, [cx, cy], [bx, by]);
  }
}
