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
  const luma = new Float32Array(width);
  return shrunk(width, height, longest, (y) => {
    for (let x = 0, i = 4 * y * width; x < width; x++, i += 4) luma[x] = 0.299 * data[i] + 0.587 * data[i + 1] + 0.114 * data[i + 2];
    return luma;
  });
}

/** The same of brightness that was made already. */
export const smaller = ({ w, h, v }: Gray, longest: number): Gray => shrunk(w, h, longest, (y) => v.subarray(y * w, (y + 1) * w));

/** `row`: its brightness, asked for once each, from above. */
function shrunk(width: number, height: number, longest: number, row: (y: number) => Float32Array): Gray {
  const k = min(1, longest / max(width, height));
  const [w, h] = [max(1, round(width * k)), max(1, round(height * k))];
  const v = new Float32Array(w * h);
  const from = Int32Array.from({ length: w + 1 }, (_, x) => floor((x * width) / w));
  const sums = new Float64Array(w);
  for (let y = 0; y < h; y++) {
    const [y0, y1] = [floor((y * height) / h), max(floor((y * height) / h) + 1, floor(((y + 1) * height) / h))];
    sums.fill(0);
    for (let yy = y0; yy < y1; yy++) {
      const line = row(yy);
      for (let x = 0; x < w; x++) {
        const end = max(from[x] + 1, from[x + 1]);
        let sum = 0;
        for (let i = from[x]; i < end; i++) sum += line[i];
        sums[x] += sum;
      }
    }
    for (let x = 0; x < w; x++) v[y * w + x] = sums[x] / ((y1 - y0) * (max(from[x] + 1, from[x + 1]) - from[x]));
  }
  return { w, h, v };
}

/** The largest value within `r` px along rows and columns; the smallest of a picture whose values are turned round. */
function largest({ w, h, v }: Gray, r: number): Gray {
  const across = new Float32Array(v);
  for (let y = 0; y < h; y++) {
    const [base, end] = [y * w, (y + 1) * w];
    for (let d = 1; d <= r; d++) {
      for (let i = base; i < end - d; i++) if (v[i + d] > across[i]) across[i] = v[i + d];
      for (let i = base + d; i < end; i++) if (v[i - d] > across[i]) across[i] = v[i - d];
    }
  }
  const out = new Float32Array(across);
  for (let y = 0; y < h; y++) {
    for (let yy = max(0, y - r); yy <= min(h - 1, y + r); yy++) {
      for (let i = y * w, j = yy * w, end = i + w; i < end; i++, j++) if (across[j] > out[i]) out[i] = across[j];
    }
  }
  return { w, h, v: out };
}

const turned = ({ w, h, v }: Gray): Gray => ({ w, h, v: v.map((x) => -x) });

/** Dark things narrower than 2 r + 1 px vanish: writing on a light sheet (morphological closing). */
export const closed = (g: Gray, r: number): Gray => turned(largest(turned(largest(g, r)), r));

/** The mean within `r` px, twice: near to a Gaussian. Beyond the edge as at the edge. */
export function blurred({ w, h, v }: Gray, r: number): Gray {
  const size = 2 * r + 1;
  const across = (from: Float32Array): Float32Array => {
    const to = new Float32Array(from.length);
    for (let y = 0; y < h; y++) {
      const base = y * w;
      const last = base + w - 1;
      let sum = (r + 1) * from[base];
      for (let i = 1; i <= r; i++) sum += from[min(last, base + i)];
      for (let x = 0, at = base; x < w; x++, at++) {
        to[at] = sum / size;
        sum += from[at + r + 1 > last ? last : at + r + 1] - from[at - r < base ? base : at - r];
      }
    }
    return to;
  };
  // Down a picture row by row, all columns at once: so it is read in the order it lies in memory.
  const down = (from: Float32Array): Float32Array => {
    const to = new Float32Array(from.length);
    const sums = new Float64Array(w);
    const rowAt = (y: number) => w * min(h - 1, max(0, y));
    for (let i = -r; i <= r; i++) for (let x = 0, o = rowAt(i); x < w; x++, o++) sums[x] += from[o];
    for (let y = 0; y < h; y++) {
      const [base, next, gone] = [y * w, rowAt(y + r + 1), rowAt(y - r)];
      for (let x = 0; x < w; x++) {
        to[base + x] = sums[x] / size;
        sums[x] += from[next + x] - from[gone + x];
      }
    }
    return to;
  };
  let out = v;
  for (let k = 0; k < 2; k++) out = down(across(out));
  return { w, h, v: out };
}

/** Weights of the mean within a pixel, taken twice. */
const SOFT = [1, 2, 3, 2, 1].map((k) => k / 9);

/** The same picture `blurred` by a pixel, worked out only where it is looked at: between pixels, 0 the middle of the first; beyond the edge as at the edge. */
export function softened({ w, h, v }: Gray): (x: number, y: number) => number {
  const known = new Float32Array(w * h).fill(NaN);
  const at = (i: number, j: number): number => {
    const k = j * w + i;
    if (known[k] === known[k]) return known[k];
    let sum = 0;
    for (let b = 0; b < 5; b++) {
      const row = min(h - 1, max(0, j + b - 2)) * w;
      let line = 0;
      for (let a = 0; a < 5; a++) line += SOFT[a] * v[row + min(w - 1, max(0, i + a - 2))];
      sum += SOFT[b] * line;
    }
    return (known[k] = sum);
  };
  return (x, y) => {
    const cx = min(w - 1.001, max(0, x));
    const cy = min(h - 1.001, max(0, y));
    const i = floor(cx);
    const j = floor(cy);
    const fx = cx - i;
    const fy = cy - j;
    const right = min(w - 1, i + 1);
    const below = min(h - 1, j + 1);
    return (1 - fy) * ((1 - fx) * at(i, j) + fx * at(right, j)) + fy * ((1 - fx) * at(i, below) + fx * at(right, below));
  };
}
