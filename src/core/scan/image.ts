/** Small pictures of brightness for finding a sheet: a row of 0..255 values, row by row from the upper left. */

const { floor, max, min, round } = Math;

export interface Gray {
  readonly w: number;
  readonly h: number;
  readonly v: Float32Array;
}

/** Pixels as the browser gives them: red, green, blue and opacity, 0..255. */
export interface Pixels {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8ClampedArray;
}

/** Brightness at most `longest` px on the longer side, every pixel the mean of those it stands for. Luma by ITU-R BT.601, 2.5.1. */
export function grayOf({ width, height, data }: Pixels, longest: number): Gray {
  const k = min(1, longest / max(width, height));
  const [w, h] = [max(1, round(width * k)), max(1, round(height * k))];
  const v = new Float32Array(w * h);
  for (let y = 0; y < h; y++) {
    const [y0, y1] = [floor((y * height) / h), max(floor((y * height) / h) + 1, floor(((y + 1) * height) / h))];
    for (let x = 0; x < w; x++) {
      const x0 = floor((x * width) / w);
      const x1 = max(x0 + 1, floor(((x + 1) * width) / w));
      let sum = 0;
      for (let yy = y0; yy < y1; yy++) for (let i = 4 * (yy * width + x0), end = 4 * (yy * width + x1); i < end; i += 4) sum += 0.299 * data[i] + 0.587 * data[i + 1] + 0.114 * data[i + 2];
      v[y * w + x] = sum / ((y1 - y0) * (x1 - x0));
    }
  }
  return { w, h, v };
}

/** The largest (or smallest) value within `r` px along rows and columns. */
function extreme({ w, h, v }: Gray, r: number, best: (a: number, b: number) => number): Gray {
  const pass = (from: Float32Array, n: number, lines: number, step: number, line: number): Float32Array => {
    const to = new Float32Array(from.length);
    for (let l = 0; l < lines; l++) {
      const base = l * line;
      for (let i = 0; i < n; i++) {
        let m = from[base + i * step];
        for (let k = max(0, i - r); k <= min(n - 1, i + r); k++) m = best(m, from[base + k * step]);
        to[base + i * step] = m;
      }
    }
    return to;
  };
  return { w, h, v: pass(pass(v, w, h, 1, w), h, w, w, 1) };
}

/** Dark things narrower than 2 r + 1 px vanish: writing on a light sheet (morphological closing). */
export const closed = (g: Gray, r: number): Gray => extreme(extreme(g, r, max), r, min);

/** The mean within `r` px, twice: near to a Gaussian. */
export function blurred({ w, h, v }: Gray, r: number): Gray {
  const pass = (from: Float32Array, n: number, lines: number, step: number, line: number): Float32Array => {
    const to = new Float32Array(from.length);
    for (let l = 0; l < lines; l++) {
      const base = l * line;
      let sum = 0;
      const at = (i: number) => from[base + min(n - 1, max(0, i)) * step];
      for (let i = -r; i <= r; i++) sum += at(i);
      for (let i = 0; i < n; i++) {
        to[base + i * step] = sum / (2 * r + 1);
        sum += at(i + r + 1) - at(i - r);
      }
    }
    return to;
  };
  let out = v;
  for (let k = 0; k < 2; k++) out = pass(pass(out, w, h, 1, w), h, w, w, 1);
  return { w, h, v: out };
}

/** Between pixels; beyond the edge as at the edge. `x`, `y`: px, 0 the middle of the first. */
export function valueAt({ w, h, v }: Gray, x: number, y: number): number {
  const cx = min(w - 1.001, max(0, x));
  const cy = min(h - 1.001, max(0, y));
  const i = floor(cx);
  const j = floor(cy);
  const fx = cx - i;
  const fy = cy - j;
  const right = min(w - 1, i + 1);
  const below = min(h - 1, j + 1);
  return (1 - fy) * ((1 - fx) * v[j * w + i] + fx * v[j * w + right]) + fy * ((1 - fx) * v[below * w + i] + fx * v[below * w + right]);
}
