/** A sheet in a photo as it lies flat, and its light evened out. */
import { homography, type Corners } from './homography';
import { blurred, closed, type Pixels } from './image';

const { ceil, floor, max, min } = Math;

export type Ink = 'colour' | 'grey' | 'black';

/** The sheet at `w` by `h` px, upright. */
export function straightened(photo: Pixels, corners: Corners, w: number, h: number): Pixels {
  const to = homography([[0, 0], [w, 0], [w, h], [0, h]], corners);
  const data = new Uint8ClampedArray(4 * w * h);
  const { width, height, data: from } = photo;
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      // Millions of times: without arrays in between.
      const s = to[6] * (x + 0.5) + to[7] * (y + 0.5) + 1;
      const cx = min(width - 1, max(0, (to[0] * (x + 0.5) + to[1] * (y + 0.5) + to[2]) / s - 0.5));
      const cy = min(height - 1, max(0, (to[3] * (x + 0.5) + to[4] * (y + 0.5) + to[5]) / s - 0.5));
      const i = floor(cx);
      const j = floor(cy);
      const fx = cx - i;
      const fy = cy - j;
      const a = 4 * (j * width + i);
      const b = i + 1 < width ? a + 4 : a;
      const c = j + 1 < height ? a + 4 * width : a;
      const d = i + 1 < width ? c + 4 : c;
      const o = 4 * (y * w + x);
      const d4 = fx * fy;
      const b4 = fx - d4;
      const c4 = fy - d4;
      const a4 = 1 - fx - c4;
      data[o] = a4 * from[a] + b4 * from[b] + c4 * from[c] + d4 * from[d] + 0.5;
      data[o + 1] = a4 * from[a + 1] + b4 * from[b + 1] + c4 * from[c + 1] + d4 * from[d + 1] + 0.5;
      data[o + 2] = a4 * from[a + 2] + b4 * from[b + 2] + c4 * from[c + 2] + d4 * from[d + 2] + 0.5;
      data[o + 3] = 255;
    }
  }
  return { width: w, height: h, data };
}

/** The paper behind the writing is looked at so much coarser. */
const COARSE = 12;
/** Half the width of what counts as written or drawn and not as shadow, px of the coarse picture: at 200 dpi areas of 27 mm. */
const WRITING = 9;
/** In no shadow is paper darker than this share of its lightest: what is darker is printed. */
const DARKEST = 0.45;
/** After evening: darker than the first is ink, lighter than the second paper. */
const [INK, PAPER] = [150, 215];

/** The value below which a share of all of them lies. */
function quantileOf(v: Float32Array, share: number): number {
  const counts = new Uint32Array(256);
  for (const x of v) counts[floor(min(255, max(0, x)))]++;
  let left = share * (v.length - 1);
  let k = 0;
  while (k < 255 && left >= counts[k]) left -= counts[k++];
  return k;
}

/** The lightest of each place of the coarse picture, not its mean: writing covers no more than a part of it. One picture for red, green and blue. */
function lightest({ width, height, data }: Pixels, w: number, h: number): Float32Array[] {
  const out = [0, 1, 2].map(() => new Float32Array(w * h));
  const [r, g, b] = out;
  for (let y = 0; y < height; y++) {
    const row = floor(y / COARSE) * w;
    for (let x = 0, o = 4 * y * width; x < width; ) {
      const k = row + floor(x / COARSE);
      const end = min(width, x + COARSE - (x % COARSE));
      let [mr, mg, mb] = [r[k], g[k], b[k]];
      for (; x < end; x++, o += 4) {
        if (data[o] > mr) mr = data[o];
        if (data[o + 1] > mg) mg = data[o + 1];
        if (data[o + 2] > mb) mb = data[o + 2];
      }
      r[k] = mr;
      g[k] = mg;
      b[k] = mb;
    }
  }
  return out;
}

/** Where each of `n` px lies between those of the coarse picture: which comes before it, and how far beyond that it is, 0..1. */
function between(n: number, coarse: number): { before: Int32Array; share: Float32Array } {
  const [before, share] = [new Int32Array(n), new Float32Array(n)];
  for (let i = 0; i < n; i++) {
    const at = min(coarse - 1.001, max(0, (i + 0.5) / COARSE - 0.5));
    before[i] = floor(at);
    share[i] = at - before[i];
  }
  return { before, share };
}

/** Shadows go and the paper turns white, channel by channel, so that colours stay what they are; then as it is wanted. Changes the pixels in place. */
export function evened(sheet: Pixels, ink: Ink): Pixels {
  const { width, height, data } = sheet;
  const [w, h] = [max(1, ceil(width / COARSE)), max(1, ceil(height / COARSE))];
  const [across, down] = [between(width, w), between(height, h)];
  for (const [n, v] of lightest(sheet, w, h).entries()) {
    const paper = blurred(closed({ w, h, v }, WRITING), 2).v;
    const least = max(24, DARKEST * quantileOf(paper, 0.95));
    // Of each row of the coarse picture what stands behind a row of the sheet; then, along it, behind each of its pixels.
    const row = new Float32Array(w + 1);
    for (let y = 0; y < height; y++) {
      const [j, fy] = [down.before[y], down.share[y]];
      const below = min(h - 1, j + 1);
      for (let i = 0; i < w; i++) row[i] = (1 - fy) * paper[j * w + i] + fy * paper[below * w + i];
      row[w] = row[w - 1];
      for (let x = 0, o = 4 * y * width + n; x < width; x++, o += 4) {
        const i = across.before[x];
        const behind = row[i] + across.share[x] * (row[i + 1] - row[i]);
        data[o] = (255 * data[o]) / (behind > least ? behind : least) + 0.5;
      }
    }
  }
  if (ink === 'colour') return sheet;
  for (let o = 0; o < data.length; o += 4) {
    let v = 0.299 * data[o] + 0.587 * data[o + 1] + 0.114 * data[o + 2];
    if (ink === 'black') v = 255 * min(1, max(0, (v - INK) / (PAPER - INK)));
    data[o] = data[o + 1] = data[o + 2] = v;
  }
  return sheet;
}
