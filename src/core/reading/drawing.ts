/**
 * The picture of a word that the network reads. The training draws by the same rules (`tools/handwriting/drawing.py`); `tests/data/handwriting.json` holds both
 * to the same pixels: a different thickness of line alone costs accuracy.
 */
export const HEIGHT = 40;
/** A word is at most so high, px. */
const FULL = 34;
/** Standard deviation of y along the ink, px: what letters without tails are scaled to. */
const SPREAD = 7;
/** Ink that is not longer than so many times the width is a dash, if it is low: its height says nothing of its size. */
const FLAT = 1.6;
/** Width of a dash, px. */
const DASH = 18;
/** Empty px to the left and right. */
const SIDE = 6;
/** Half the width of a line, px. */
const RADIUS = 0.8;
const MOST_WIDE = 1600;

/** Points of strokes, any unit, y down. */
export type Trace = readonly (readonly [number, number])[];

export interface WordPicture {
  readonly w: number;
  /** `HEIGHT` rows of `w`: 0 paper, 1 ink. */
  readonly px: Float32Array;
}

/** Length of the lines, and the standard deviation of y along it. */
function along(strokes: readonly Trace[]): [number, number] {
  let [total, mean, square] = [0, 0, 0];
  for (const points of strokes) {
    for (let i = 1; i < points.length; i++) {
      const [a, b] = [points[i - 1][1], points[i][1]];
      const n = Math.hypot(points[i][0] - points[i - 1][0], b - a);
      total += n;
      mean += (n * (a + b)) / 2;
      // The mean of y * y along a straight line from a to b.
      square += (n * (a * a + a * b + b * b)) / 3;
    }
  }
  if (total <= 0) return [0, 0];
  mean /= total;
  return [total, Math.sqrt(Math.max(square / total - mean * mean, 0))];
}

/** The picture of strokes that have a point at least. */
export function pictureOf(strokes: readonly Trace[], radius = RADIUS): WordPicture {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const points of strokes) {
    for (const [x, y] of points) {
      if (x < left) left = x;
      if (x > right) right = x;
      if (y < top) top = y;
      if (y > bottom) bottom = y;
    }
  }
  const [high, wide] = [bottom - top, right - left];
  const [length, spread] = along(strokes);
  let scale = Math.min(FULL / Math.max(high, 1e-9), SPREAD / Math.max(spread, 1e-9));
  if (length < FLAT * wide && high < wide / 4) scale = Math.min(scale, DASH / wide);
  const w = Math.min(MOST_WIDE, Math.ceil(wide * scale) + 2 * SIDE);
  const px = new Float32Array(w * HEIGHT);
  const [dx, dy] = [SIDE - left * scale, HEIGHT / 2 - ((top + bottom) / 2) * scale];
  for (const points of strokes) {
    for (let i = 0; i < points.length; i++) {
      // A stroke of one point is a dot.
      if (i === 0 && points.length > 1) continue;
      const from = points[Math.max(0, i - 1)];
      line(px, w, from[0] * scale + dx, from[1] * scale + dy, points[i][0] * scale + dx, points[i][1] * scale + dy, radius);
    }
  }
  return { w, px };
}

function line(px: Float32Array, w: number, x1: number, y1: number, x2: number, y2: number, radius: number): void {
  const [dx, dy] = [x2 - x1, y2 - y1];
  const n = dx * dx + dy * dy;
  const reach = radius + 1;
  const lastY = Math.min(HEIGHT - 1, Math.ceil(Math.max(y1, y2) + reach));
  const lastX = Math.min(w - 1, Math.ceil(Math.max(x1, x2) + reach));
  for (let y = Math.max(0, Math.floor(Math.min(y1, y2) - reach)); y <= lastY; y++) {
    for (let x = Math.max(0, Math.floor(Math.min(x1, x2) - reach)); x <= lastX; x++) {
      const [cx, cy] = [x + 0.5, y + 0.5];
      const t = n === 0 ? 0 : Math.min(1, Math.max(0, ((cx - x1) * dx + (cy - y1) * dy) / n));
      const off = Math.sqrt((cx - x1 - t * dx) ** 2 + (cy - y1 - t * dy) ** 2);
      const v = Math.min(1, Math.max(0, radius + 0.5 - off));
      if (v > px[y * w + x]) px[y * w + x] = v;
    }
  }
}
