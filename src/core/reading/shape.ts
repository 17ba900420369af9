/**
 * How a word looks, so that its likes are found in any alphabet: 64 points along its ink, compared by dynamic time warping (H. Sakoe and S. Chiba, IEEE Transactions on
 * Acoustics, Speech and Signal Processing 26, 1978), within a band along the diagonal.
 */
import type { Trace } from './drawing';

const POINTS = 64;
/** Half the width of the band. */
const BAND = 10;
/** What the way the pen goes counts against where it is. */
const WAY = 0.35;

/** Of each point: place (in heights of the word, from its middle) and direction. */
export interface Shape {
  readonly at: Float32Array;
  /** Width against height, as a logarithm, and the length of the ink in heights. */
  readonly wide: number;
  readonly long: number;
}

/** Null of a dot. */
export function shapeOf(strokes: readonly Trace[]): Shape | null {
  // From left to right, so that a dot that was set late does not turn the order about.
  const ordered = strokes.filter((s) => s.length > 0).map((s) => ({ s, left: Math.min(...s.map((p) => p[0])) })).sort((a, b) => a.left - b.left).map(({ s }) => s);
  const all = ordered.flat();
  if (all.length < 2) return null;
  const [xs, ys] = [all.map((p) => p[0]), all.map((p) => p[1])];
  const [l, r, t, b] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const high = Math.max(b - t, (r - l) / 8);
  if (!(high > 0)) return null;
  const lengths = ordered.map((s) => s.reduce((sum, p, i) => sum + (i ? Math.hypot(p[0] - s[i - 1][0], p[1] - s[i - 1][1]) : 0), 0));
  const long = lengths.reduce((a, c) => a + c, 0);
  if (!(long > 0)) return null;
  const at = new Float32Array(POINTS * 4);
  let [n, before] = [0, 0];
  ordered.forEach((s, k) => {
    let done = before;
    for (let i = 1; i < s.length; i++) {
      const step = Math.hypot(s[i][0] - s[i - 1][0], s[i][1] - s[i - 1][1]);
      if (!step) continue;
      while (n < POINTS && ((n + 0.5) / POINTS) * long <= done + step + 1e-9) {
        const f = (((n + 0.5) / POINTS) * long - done) / step;
        const [dx, dy] = [s[i][0] - s[i - 1][0], s[i][1] - s[i - 1][1]];
        at.set([(s[i - 1][0] + f * dx - (l + r) / 2) / high, (s[i - 1][1] + f * dy - (t + b) / 2) / high, (WAY * dx) / step, (WAY * dy) / step], n * 4);
        n++;
      }
      done += step;
    }
    before += lengths[k];
  });
  return n === POINTS ? { at, wide: Math.log(Math.max(r - l, high / 8) / high), long: long / high } : null;
}

/** Farther apart than this in width or length (as logarithms) and two words are no likes. */
const APART = 0.55;

/** How far two shapes are apart, in heights of the word for each point; Infinity where their sizes tell them apart, or as soon as it is more than `most`. */
export function shapeDistance(a: Shape, b: Shape, most = Infinity): number {
  if (Math.abs(a.wide - b.wide) > APART || Math.abs(Math.log(a.long / b.long)) > APART) return Infinity;
  let row = new Float64Array(POINTS + 1).fill(Infinity);
  let next = new Float64Array(POINTS + 1);
  row[0] = 0;
  for (let i = 1; i <= POINTS; i++) {
    next.fill(Infinity);
    let least = Infinity;
    for (let k = Math.max(1, i - BAND); k <= Math.min(POINTS, i + BAND); k++) {
      const [p, q] = [(i - 1) * 4, (k - 1) * 4];
      const cost = Math.hypot(a.at[p] - b.at[q], a.at[p + 1] - b.at[q + 1], a.at[p + 2] - b.at[q + 2], a.at[p + 3] - b.at[q + 3]);
      next[k] = cost + Math.min(row[k - 1], row[k], next[k - 1]);
      if (next[k] < least) least = next[k];
    }
    if (least > most * POINTS) return Infinity;
    [row, next] = [next, row];
  }
  return row[POINTS] / POINTS;
}

/** Nearer than this it is the same word of the same hand. */
export const LIKE = 0.22;
/** So near that it is read as the writer said. */
export const SAME = 0.14;

/** The likes of a shape among others, nearest first, with their indices. */
export function likesOf(shape: Shape, others: readonly (Shape | null)[], most = LIKE): { readonly index: number; readonly distance: number }[] {
  return others
    .flatMap((other, index) => {
      const distance = other ? shapeDistance(shape, other, most) : Infinity;
      return distance <= most ? [{ index, distance }] : [];
    })
    .sort((a, b) => a.distance - b.distance);
}
