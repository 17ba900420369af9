/** Between a flat sheet and its photo. Source: Hartley and Zisserman, Multiple View Geometry, 2nd ed., 2.3 and 4.1; the shape of the sheet after Zhang and He, Whiteboard Scanning and Image Enhancement (2003), 3.4. */

export type Point = readonly [number, number];
/** Upper left, upper right, lower right, lower left, as the sheet is read. */
export type Corners = readonly [Point, Point, Point, Point];
/** Rows of the 3 x 3 matrix; the last is 1. */
export type Homography = readonly number[];

/** Maps four points onto four others. @throws RangeError when three of them lie on a line */
export function homography(from: Corners, to: Corners): Homography {
  const a: number[][] = [];
  for (let i = 0; i < 4; i++) {
    const [[x, y], [u, v]] = [from[i], to[i]];
    a.push([x, y, 1, 0, 0, 0, -u * x, -u * y, u], [0, 0, 0, x, y, 1, -v * x, -v * y, v]);
  }
  // Gauss with the largest pivot.
  for (let c = 0; c < 8; c++) {
    let p = c;
    for (let r = c + 1; r < 8; r++) if (Math.abs(a[r][c]) > Math.abs(a[p][c])) p = r;
    [a[c], a[p]] = [a[p], a[c]];
    if (Math.abs(a[c][c]) < 1e-9) throw new RangeError('Three of the corners lie on a line.');
    for (let r = 0; r < 8; r++) {
      if (r === c) continue;
      const k = a[r][c] / a[c][c];
      for (let j = c; j < 9; j++) a[r][j] -= k * a[c][j];
    }
  }
  return [...a.map((row, i) => row[8] / row[i]), 1];
}

export function through(h: Homography, x: number, y: number): [number, number] {
  const w = h[6] * x + h[7] * y + h[8];
  return [(h[0] * x + h[1] * y + h[2]) / w, (h[3] * x + h[4] * y + h[5]) / w];
}

const cross = (a: readonly number[], b: readonly number[]): number[] => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
const dot = (a: readonly number[], b: readonly number[]): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const side = (a: Point, b: Point): number => Math.hypot(a[0] - b[0], a[1] - b[1]);

/** Width by height of the sheet in a photo of `w` by `h` px, whatever the slant it was taken at. */
export function shapeOf([tl, tr, br, bl]: Corners, w: number, h: number): number {
  const plain = (side(tl, tr) + side(bl, br)) / (side(tl, bl) + side(tr, br));
  const [cx, cy] = [w / 2, h / 2];
  const at = (p: Point): number[] => [p[0] - cx, p[1] - cy, 1];
  const [m1, m2, m3, m4] = [at(tl), at(tr), at(bl), at(br)];
  const k2 = dot(cross(m1, m4), m3) / dot(cross(m2, m4), m3);
  const k3 = dot(cross(m1, m4), m2) / dot(cross(m3, m4), m2);
  const n2 = m2.map((v, i) => k2 * v - m1[i]);
  const n3 = m3.map((v, i) => k3 * v - m1[i]);
  // Taken straight on there is no vanishing point to tell the lens by, and none is needed.
  if (Math.abs(n2[2]) < 0.02 || Math.abs(n3[2]) < 0.02) return plain;
  const f2 = -(n2[0] * n3[0] + n2[1] * n3[1]) / (n2[2] * n3[2]);
  if (!(f2 > (0.3 * Math.max(w, h)) ** 2 && f2 < (8 * Math.max(w, h)) ** 2)) return plain;
  const long = (n: number[]) => (n[0] * n[0] + n[1] * n[1]) / f2 + n[2] * n[2];
  const shape = Math.sqrt(long(n2) / long(n3));
  return Number.isFinite(shape) && shape > 0.2 && shape < 5 ? shape : plain;
}

/** Sheets by their sides, short by long: ISO 216 (1 to the root of 2), ANSI/ASME Y14.1 (8.5 in x 11 in), 8.5 in x 14 in. */
const SHEETS = [1 / Math.SQRT2, 8.5 / 11, 8.5 / 14];
const NEAR = 0.045;

/** The shape of the sheet that this one probably is; its own when it is none of them. */
export function likelyShape(shape: number): number {
  const short = Math.min(shape, 1 / shape);
  const best = SHEETS.reduce((a, b) => (Math.abs(b / short - 1) < Math.abs(a / short - 1) ? b : a));
  if (Math.abs(best / short - 1) > NEAR) return shape;
  return shape < 1 ? best : 1 / best;
}
